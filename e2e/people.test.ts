import { spawnSync } from "node:child_process";
import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, expect, it } from "vitest";
import { type Cluster, newDatabase, startCluster } from "../src/server/test/postgres-cluster.ts";
import { problems } from "./access.ts";
import { launch, openPassage, type Server, startServer, visit } from "./kit.ts";

/* Two people on a PostgreSQL server: each with what is theirs. */

const WORDS = "lantern oyster gravel tuba";
const HIS = "walrus kettle seven hats";
let cluster: Cluster;
let server: Server;
let browser: Browser;

beforeAll(async () => {
  cluster = await startCluster();
  const url = await newDatabase(cluster.url);
  const made = spawnSync(process.execPath, ["--import", "tsx", "src/cli/main.ts", "people", "add", "Nell"], {
    env: { ...process.env, DATABASE_URL: url },
    input: `${WORDS}\n`,
    encoding: "utf8",
  });
  expect(made.stderr).toBe("");
  expect(made.stdout).toBe("Nell has an account now, and may invite others.\n");
  server = await startServer(undefined, 0, { DATABASE_URL: url });
  browser = await launch();
});
afterAll(async () => {
  await browser?.close();
  await server?.stop();
  await cluster?.remove();
});

async function signIn(page: Page, name: string, passphrase: string): Promise<void> {
  await page.getByLabel("Name").fill(name);
  await page.getByLabel("Passphrase").fill(passphrase);
  await page.keyboard.press("Enter");
}

it("somebody signs in, invites another, who has a shelf of their own; signed out nothing is seen", async () => {
  const hers = await visit(browser, server.url);
  const page = hers.page;
  await page.getByRole("heading", { name: "Sign in" }).waitFor();
  await signIn(page, "Nell", "something else entirely");
  await page.getByText("No account has this name and this passphrase.").waitFor();
  await signIn(page, "Nell", WORDS);
  await page.getByRole("link", { name: "Bilge Pump", exact: true }).waitFor();

  await page.getByRole("link", { name: "Setup" }).click();
  const account = page.getByRole("region", { name: "Account" });
  await account.getByText("Signed in as Nell").waitFor();
  await account.getByLabel("For whom").fill("Tom, who plays the bass");
  await account.getByRole("button", { name: "Invite" }).click();
  const address = (await account.getByText(/\/invitation#/).textContent())!;
  await account.getByText("Tom, who plays the bass").waitFor();

  const his = await visit(browser, server.url);
  await his.page.goto(address);
  await his.page.getByRole("heading", { name: "You are invited" }).waitFor();
  await signIn(his.page, "Tom", "too short");
  await his.page.getByRole("alert").getByText("At least 12 characters", { exact: false }).waitFor();
  await signIn(his.page, "Tom", HIS);
  await his.page.waitForURL(server.url);
  await his.page.getByRole("button", { name: "New passage" }).first().waitFor();
  expect(await his.page.getByRole("link", { name: "Bilge Pump", exact: true }).count()).toBe(0);

  // Taken once.
  const third = await visit(browser, server.url);
  await third.page.goto(address);
  await signIn(third.page, "Tim", HIS);
  await third.page.getByText("It was taken already, withdrawn, or is too old.").waitFor();

  // She is signed out from elsewhere: her page asks her to come in again, and brings her back to where she was.
  const elsewhere = await visit(browser, server.url);
  await signIn(elsewhere.page, "Nell", WORDS);
  await elsewhere.page.getByRole("link", { name: "Setup" }).click();
  await elsewhere.page.getByRole("button", { name: "Sign out everywhere else" }).click();
  await page.getByRole("link", { name: "Rest Hand" }).click();
  await page.getByRole("heading", { name: "Sign in" }).waitFor();
  await signIn(page, "Nell", WORDS);
  await page.getByRole("link", { name: "Bilge Pump", exact: true }).waitFor();

  await page.getByRole("link", { name: "Setup" }).click();
  await page.getByRole("button", { name: "Sign out", exact: true }).click();
  await page.getByRole("heading", { name: "Sign in" }).waitFor();
  expect(await page.evaluate(() => Object.keys(localStorage).filter((key) => key.includes("draft") || key.endsWith("person")))).toEqual([]);
  await page.reload();
  await page.getByRole("heading", { name: "Sign in" }).waitFor();

  await his.page.getByRole("link", { name: "Setup" }).click();
  await his.page.getByRole("button", { name: "Delete this account" }).click();
  const dialog = his.page.getByRole("dialog", { name: "Delete this account" });
  await dialog.getByLabel("Your passphrase").fill(HIS);
  await dialog.getByRole("button", { name: "Delete everything of mine" }).click();
  await his.page.getByRole("heading", { name: "Sign in" }).waitFor();
  await signIn(his.page, "Tom", HIS);
  await his.page.getByText("No account has this name and this passphrase.").waitFor();
});

it("what one page changes another hears: its Shelf shows it, and where the passage is open it is offered", async () => {
  const one = await visit(browser, server.url);
  await signIn(one.page, "Nell", WORDS);
  const two = await one.context.newPage();
  await two.goto(server.url);
  await openPassage(one.page, "Bilge Pump");
  await openPassage(two, "Bilge Pump");
  const three = await one.context.newPage();
  await three.goto(server.url);
  // Of a long Shelf only the rows in view are there.
  await three.getByRole("searchbox").fill("Bilge");
  await three.getByRole("link", { name: "Bilge Pump", exact: true }).waitFor();
  await one.page.getByRole("textbox", { name: "Title" }).fill("Bilge Pump, slower");
  await one.page.keyboard.press("Enter");
  await three.getByRole("link", { name: "Bilge Pump, slower", exact: true }).waitFor();
  await two.getByText("This passage was changed elsewhere.").waitFor();
  await two.getByRole("button", { name: "Show it as it is now" }).click();
  await two.waitForFunction(() => document.querySelector<HTMLInputElement>("h1 input")?.value === "Bilge Pump, slower");
  expect(await two.getByText("This passage was changed elsewhere.").count()).toBe(0);

  // What was changed while a page was cut off is offered once it hears again.
  await two.route("**/api/changes", (route) => route.abort());
  await two.reload();
  await two.getByRole("application").waitFor();
  await one.page.getByRole("textbox", { name: "Title" }).fill("Bilge Pump, slowest");
  await one.page.keyboard.press("Enter");
  await three.getByRole("link", { name: "Bilge Pump, slowest", exact: true }).waitFor();
  expect(await two.getByText("This passage was changed elsewhere.").count()).toBe(0);
  await two.unroute("**/api/changes");
  await two.getByText("This passage was changed elsewhere.").waitFor();
});

it("whoever signs out with something unsaved is asked first; it stays in the browser, and is saved when they are back", async () => {
  const { page, context } = await visit(browser, server.url);
  await signIn(page, "Nell", WORDS);
  await openPassage(page, "Galley Steam");
  const saves = (url: URL) => url.pathname.startsWith("/api/passages/");
  await page.route(saves, (route) => (route.request().method() === "PUT" ? route.abort() : route.fallback()));
  await page.getByRole("textbox", { name: "Title" }).fill("Galley Steam, unsaved");
  await page.keyboard.press("Enter");
  await page.getByRole("link", { name: "Setup" }).click();
  await page.getByRole("button", { name: "Sign out", exact: true }).click();
  const question = page.getByRole("dialog", { name: "Sign out?" });
  await question.getByText("Something you did has not reached the server yet.").waitFor();
  expect(await problems(page, "signing out")).toEqual([]);
  await question.getByRole("button", { name: "Sign out all the same" }).click();
  await page.getByRole("heading", { name: "Sign in" }).waitFor();
  await page.unroute(saves);
  await signIn(page, "Nell", WORDS);
  await page.getByRole("link", { name: "Rest Hand" }).click();
  await page.getByRole("searchbox").fill("Galley");
  await page.getByRole("link", { name: "Galley Steam, unsaved", exact: true }).waitFor();
  await context.close();
});

it("signing in, the account and its dialogs: WCAG 2.2 AA by axe in both themes", async () => {
  const found: string[] = [];
  for (const theme of ["stand", "stage"] as const) {
    const { page, context } = await visit(browser, server.url, { theme });
    await page.getByRole("heading", { name: "Sign in" }).waitFor();
    found.push(...(await problems(page, `sign in, ${theme}`)));
    await page.goto(`${server.url}invitation#none`);
    await signIn(page, "Tim", "short");
    await page.getByRole("alert").waitFor();
    found.push(...(await problems(page, `invitation, ${theme}`)));
    await page.goto(server.url);
    await signIn(page, "Nell", WORDS);
    await page.getByRole("link", { name: "Setup" }).click();
    await page.getByLabel("For whom").fill("somebody");
    await page.getByRole("button", { name: "Invite" }).click();
    await page.getByText(/\/invitation#/).waitFor();
    found.push(...(await problems(page, `account, ${theme}`)));
    for (const dialog of ["Change the passphrase", "Delete this account"]) {
      await page.getByRole("button", { name: dialog }).click();
      await page.getByRole("dialog", { name: dialog }).waitFor();
      found.push(...(await problems(page, `${dialog}, ${theme}`)));
      await page.keyboard.press("Escape");
      await page.getByRole("dialog").waitFor({ state: "detached" });
    }
    await context.close();
  }
  expect(found).toEqual([]);
});
