import { spawnSync } from "node:child_process";
import { readFileSync } from "node:fs";
import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, expect, it } from "vitest";
import { practiceOf } from "../src/core/test/practice-sessions.ts";
import { type Cluster, newDatabase, startCluster } from "../src/server/test/postgres-cluster.ts";
import { problems } from "./access.ts";
import { launch, openPassage, type Server, startServer, visit } from "./kit.ts";

/* A teacher, a student, and somebody with a link. */

const WORDS = "lantern oyster gravel tuba";
let cluster: Cluster;
let server: Server;
let browser: Browser;

beforeAll(async () => {
  cluster = await startCluster();
  const url = await newDatabase(cluster.url);
  server = await startServer(undefined, 0, { DATABASE_URL: url });
  for (const name of ["Nell", "Tom"])
    spawnSync(process.execPath, ["--import", "tsx", "src/cli/main.ts", "people", "add", name], {
      env: { ...process.env, DATABASE_URL: url },
      input: `${WORDS}\n`,
    });
  browser = await launch();
});
afterAll(async () => {
  await browser?.close();
  await server?.stop();
  await cluster?.remove();
});

async function signedIn(name: string): Promise<Page> {
  const { page } = await visit(browser, server.url);
  await page.getByLabel("Name").fill(name);
  await page.getByLabel("Passphrase").fill(WORDS);
  await page.keyboard.press("Enter");
  await page.getByRole("heading", { name: "Shelf" }).waitFor();
  return page;
}

const found: string[] = [];
/** WCAG 2.2 AA, in both themes. */
async function looked(page: Page, name: string): Promise<void> {
  for (const theme of ["stand", "stage"]) {
    await page.evaluate((is) => {
      document.documentElement.dataset.theme = is;
    }, theme);
    found.push(...(await problems(page, `${name}, ${theme}`)));
  }
}

/** Where a notice stands in the way of nothing. */
const give = async (page: Page, title: string, more: (dialog: ReturnType<Page["getByRole"]>) => Promise<unknown> = async () => {}) => {
  await page.getByRole("button", { name: `Give ${title}`, exact: true }).click();
  const dialog = page.getByRole("dialog", { name: `Give ${title}` });
  await dialog.getByRole("group", { name: "Drills that come first in their sessions" }).waitFor();
  await more(dialog);
  await dialog.getByRole("button", { name: "Give", exact: true }).click();
  await dialog.waitFor({ state: "detached" });
};

it("a teacher invites, gives with words and drills, offers a newer version, and sees what the student shows; a link is read by anybody", async () => {
  const [nell, tom] = [await signedIn("Nell"), await signedIn("Tom")];
  await nell.getByRole("link", { name: "Setup" }).click();
  await nell.getByLabel("For whom").fill("Tom");
  await nell.getByLabel("as my student").check();
  await nell.getByRole("button", { name: "Invite" }).click();
  const invitation = (await nell.getByText(/\/invitation#/).textContent())!;
  await tom.goto(invitation);
  await tom.getByRole("button", { name: "Become a student of Nell" }).waitFor();
  await looked(tom, "join");
  await tom.getByRole("button", { name: "Become a student of Nell" }).click();
  await tom.getByRole("heading", { name: "Your teachers" }).waitFor();
  await looked(tom, "teachers");

  await nell.getByRole("link", { name: "Rest Hand" }).click();
  let asked = "";
  await give(nell, "Bilge Pump", async (dialog) => {
    await dialog.getByLabel("Your words with it").fill("Slowly first.");
    const drill = dialog.getByRole("group", { name: "Drills that come first in their sessions" }).getByRole("checkbox").last();
    asked = await drill.evaluate((box) => box.parentElement!.textContent!);
    await drill.check();
    await looked(nell, "give");
  });
  await nell.getByText("Bilge Pump: 1 has it now.").waitFor();
  await tom.getByRole("link", { name: "Rest Hand" }).click();
  await tom.getByText("from Nell").waitFor();
  await openPassage(tom, "Bilge Pump");
  await tom.getByRole("link", { name: "Drills" }).click();
  const drills = tom.getByRole("list", { name: "Drills of this session" });
  await drills.getByRole("heading").first().waitFor();
  expect(await drills.getByRole("heading").first().textContent()).toBe(`1. ${asked}`);
  await tom.getByRole("complementary", { name: "From Nell" }).getByText("Slowly first.").waitFor();
  await looked(tom, "drills that are asked for");

  // Tom works on his copy, Nell on hers; what she gives once more is offered to him.
  await tom.getByRole("textbox", { name: "Title" }).fill("Bilge Pump, Tom's way");
  await tom.keyboard.press("Enter");
  await openPassage(nell, "Bilge Pump");
  await nell.getByRole("textbox", { name: "Title" }).fill("Bilge Pump, second draft");
  await nell.keyboard.press("Enter");
  // Left at once: it is saved all the same.
  await nell.getByRole("link", { name: "Shelf" }).click();
  await give(nell, "Bilge Pump, second draft");
  await nell.getByText("1 is offered this version").waitFor();
  await tom.getByText("Nell has a newer version of this passage.").waitFor();
  expect(await tom.getByRole("textbox", { name: "Title" }).inputValue()).toBe("Bilge Pump, Tom's way");
  await looked(tom, "offer");
  await tom.getByRole("button", { name: "Take the newer one" }).click();
  await tom.waitForFunction(() => document.querySelector<HTMLInputElement>("h1 input")?.value === "Bilge Pump, second draft");
  await tom.getByRole("link", { name: "Shelf" }).click();
  await tom.getByRole("link", { name: "Bilge Pump, Tom's way (my copy)" }).waitFor();

  // What he practises she sees when he lets her, and not any more when he does not.
  const session = practiceOf(1, { figure: "palm" }, new Date(Date.now() - 3_600_000).toISOString(), { whole: [60, -60, -62, 60] });
  expect(
    await tom.evaluate(
      async (body) =>
        (await fetch(`/api/practice/sessions/${body.id}`, { method: "PUT", headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) }))
          .status,
      session,
    ),
  ).toBe(200);
  await nell.getByRole("link", { name: "Students" }).click();
  const his = nell.getByRole("region", { name: "Tom" });
  await his.getByText("Tom does not show what is practised.").waitFor();
  await tom.getByRole("link", { name: "Setup" }).click();
  await tom.getByLabel("sees what I practise: Nell").check();
  await his.getByRole("cell", { name: "2 of 4 clean" }).waitFor();
  await his.getByText("Hardest now").waitFor();
  await looked(nell, "students");
  await tom.getByLabel("sees what I practise: Nell").uncheck();
  await his.getByText("Tom does not show what is practised.").waitFor();

  await nell.getByRole("link", { name: "Rest Hand" }).click();
  await nell.getByRole("button", { name: "Give Windlass" }).click();
  await nell.getByRole("button", { name: "Make a link" }).click();
  const link = (await nell.getByText(/\/shared#/).textContent())!;
  const { page: guest, trouble } = await visit(browser, server.url);
  await guest.goto(link);
  await guest.getByRole("article", { name: "Sheet of Windlass" }).waitFor();
  await guest.getByText(/from Nell, to be read until/).waitFor();
  await looked(guest, "shared");
  const saved = guest.waitForEvent("download");
  await guest.getByRole("button", { name: "Save as a file" }).click();
  expect(JSON.parse(readFileSync(await (await saved).path(), "utf8"))).toMatchObject({ title: "Windlass" });
  expect(trouble).toEqual([]);
  await nell.getByRole("button", { name: /^Withdraw the link/ }).click();
  await nell.getByRole("button", { name: /^Withdraw the link/ }).waitFor({ state: "detached" });
  await guest.reload();
  await guest.getByText("Nothing here any more").waitFor();
  expect(found).toEqual([]);
});
