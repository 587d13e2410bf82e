import { readFileSync } from "node:fs";
import { unzipSync } from "fflate";
import { beforeEach, describe, expect, it } from "vitest";
import { reads, visit } from "./kit.ts";
import { setStage } from "./stage.ts";

const stage = setStage();
beforeEach(async () => void (await stage.visit()));

const link = (title: string) => stage.seen.page.getByRole("link", { name: title, exact: true });
/** Passages on the shelf, as the server has them. */
const count = async () => ((await (await stage.seen.page.request.get(`${stage.server.url}api/passages`)).json()) as unknown[]).length;

describe("the shelf", () => {
  it("lists the demo with what still rings and a miniature of each plan", async () => {
    const { page } = stage.seen;
    await link("Bilge Pump").waitFor();
    await page.getByText("1 stray ring").first().waitFor();
    await page.getByText("Nothing rings astray").first().waitFor();
    await page.getByRole("img", { name: "The first bars of the plan in small", includeHidden: true }).nth(5).waitFor({ state: "attached" });
    expect(stage.seen.trouble).toEqual([]);
  });

  it("starts a new passage from the keyboard", async () => {
    const { page } = stage.seen;
    await page.getByRole("button", { name: "New passage", exact: true }).press("Enter");
    await page.getByLabel("Title").fill("Capstan");
    await page.getByLabel("Instrument").selectOption({ label: "Bass, five strings (B0 E1 A1 D2 G2)" });
    await page.getByLabel("Meter").selectOption({ label: "5 / 4" });
    await page.getByLabel("Tempo, quarters a minute").press("Enter");
    await page.getByRole("application", { name: /Capstan: 4 bars, 5 strings/ }).waitFor();
    await page.getByText("Nothing is written yet").waitFor();
    await page.keyboard.press("3");
    await reads(page, "fretting-sentence", "1 at 3");
    expect(stage.seen.trouble).toEqual([]);
  });

  it("duplicates, bins with an undo, and deletes for good after a second press", async () => {
    const { page } = stage.seen;
    await link("Galley Steam").waitFor();
    await page.getByRole("button", { name: "Duplicate Galley Steam" }).click();
    await link("Galley Steam (copy)").waitFor();
    await page.getByRole("button", { name: "Put Galley Steam (copy) in the bin" }).click();
    await link("Galley Steam (copy)").waitFor({ state: "detached" });
    await page.getByRole("button", { name: "Undo" }).click();
    await link("Galley Steam (copy)").waitFor();
    await page.getByRole("button", { name: "Put Galley Steam (copy) in the bin" }).click();
    await link("Galley Steam (copy)").waitFor({ state: "detached" });
    await page.getByRole("button", { name: "Bin", exact: true }).click();
    await page.getByRole("dialog").getByText("Galley Steam (copy)").waitFor();
    await page.getByRole("button", { name: "Delete for good", exact: true }).click();
    await page.getByRole("button", { name: "Yes, delete for good" }).click();
    await page.getByText("The bin is empty.").waitFor();
    expect(stage.seen.trouble).toEqual([]);
  });
});

describe("bringing music in", () => {
  const dashes = "-".repeat(16);
  const tab = ["e", "B", "G", "D", "A", "E"].map((n) => `${n}|${n === "A" ? "3---5-x-7---5---" : dashes}|`).join("\n");

  it("a tab that cannot be read says where and what, and nothing is saved", async () => {
    const { page } = stage.seen;
    await link("Bilge Pump").waitFor();
    const before = await count();
    await page.getByRole("button", { name: /^Paste or open a tab/ }).click();
    await page.getByRole("textbox").fill(`${tab}\n\nG|${dashes}|\nD|${dashes}|`);
    await page.getByText("line 8").waitFor();
    await page.getByText("a stave of 2 string lines", { exact: false }).waitFor();
    expect(await page.getByRole("button", { name: "Put it on the shelf" }).isDisabled()).toBe(true);
    await page.keyboard.press("Escape");
    await page.getByRole("dialog").waitFor({ state: "detached" });
    expect(await count()).toBe(before);
  });

  it("a pasted tab is shown with what was guessed, then goes onto the bench", async () => {
    const { page } = stage.seen;
    await link("Bilge Pump").waitFor();
    await page.evaluate((text) => {
      const data = new DataTransfer();
      data.setData("text/plain", text);
      document.querySelector("main > div")!.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true }));
    }, `Bollard\n${tab}`);
    await page.getByText("the rhythm was read from the column spacing", { exact: false }).waitFor();
    await page.getByRole("button", { name: "Put it on the shelf" }).click();
    await page.getByRole("application", { name: /Bollard: 1 bars/ }).waitFor();
    await reads(page, "strays", /astray|stray ring/);
  });

  it("a dropped passage file is read", async () => {
    const { page } = stage.seen;
    await link("Bilge Pump").waitFor();
    await page.evaluate((text) => {
      const data = new DataTransfer();
      data.items.add(new File([text], "x.txt", { type: "text/plain" }));
      document.querySelector("main > div")!.dispatchEvent(new DragEvent("drop", { dataTransfer: data, bubbles: true }));
    }, tab);
    await page.getByRole("button", { name: "Put it on the shelf" }).and(page.locator(":enabled")).waitFor();
  });
});

it("a passage is saved as MIDI, what MIDI cannot hold is said; read back on a chosen grid, the file stays with the passage", async () => {
  const { page } = stage.seen;
  await link("Bilge Pump").waitFor();
  await page.getByRole("button", { name: "Save Bilge Pump as a file" }).click();
  await page.getByRole("radio", { name: /^MIDI/ }).check();
  const coming = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  const file = await coming;
  expect(file.suggestedFilename()).toBe("bilge-pump.mid");
  const written = readFileSync(await file.path());
  await page.getByText(/strings, frets, fingers, grips, stroke directions and chord names are left out/).waitFor();
  await page.keyboard.press("Escape");

  await page.getByRole("button", { name: /^Paste or open a tab/ }).click();
  await page.getByLabel("or a file").setInputFiles({ name: "pump.mid", mimeType: "audio/midi", buffer: written });
  await page.getByText(/moved to a grid of 1\/32: 0 of/).waitFor();
  await page.getByLabel("Notes begin on").selectOption({ label: "sixteenths" });
  await page.getByText(/moved to a grid of 1\/16/).waitFor();
  expect(await page.getByRole("checkbox", { name: "Keep the file with the passage, as it is" }).isChecked()).toBe(true);
  await page.getByRole("button", { name: "Put it on the shelf" }).click();
  await page.getByRole("application", { name: /Bilge Pump: 4 bars/ }).waitFor();

  await page.goto(stage.server.url);
  await page.getByRole("button", { name: "Save Bilge Pump as a file" }).first().click();
  const original = page.waitForEvent("download");
  await page.getByRole("link", { name: "The file it came from: pump.mid" }).click();
  expect(readFileSync(await (await original).path())).toEqual(written);
});

it("chosen passages are saved in one archive, all if none is chosen", async () => {
  const { page } = stage.seen;
  await link("Tarpaulin").waitFor();
  await page.getByRole("checkbox", { name: "Choose Tarpaulin" }).check();
  await page.getByRole("checkbox", { name: "Choose Keelson" }).press("Space");
  await page.getByRole("button", { name: "Save 2 as files" }).click();
  await page.getByRole("radio", { name: /^Tablature as text/ }).check();
  const coming = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  const file = await coming;
  expect(Object.keys(unzipSync(readFileSync(await file.path()))).sort()).toEqual(["keelson.txt", "tarpaulin.txt"]);
  await page.getByText("2 passages in it").waitFor();
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "choose none" }).click();
  await page.getByRole("button", { name: "Save all as files" }).click();
  await page.getByRole("dialog", { name: `Save ${await count()} passages as files` }).waitFor();
});

it("a backup is saved, looked into, and brings back what was lost, asking about doubles", async () => {
  const { page } = stage.seen;
  await link("Anchor Watch").waitFor();
  await page.getByRole("button", { name: "Backup", exact: true }).click();
  const coming = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save a backup now" }).click();
  const file = await coming;
  expect(file.suggestedFilename()).toMatch(/^rest-hand-library-\d{4}-\d\d-\d\dT.*-asked\.zip$/);
  const backup = readFileSync(await file.path());
  await page.keyboard.press("Escape");

  // One passage is deleted for good, another one is rewritten.
  const listed = (await (await page.request.get(`${stage.server.url}api/passages`)).json()) as { id: string; title: string; version: number }[];
  const [lost, other] = ["Anchor Watch", "Windlass"].map((title) => listed.find((passage) => passage.title === title)!);
  for (const query of ["", "?forever"]) await page.request.delete(`${stage.server.url}api/passages/${lost!.id}${query}`);
  const { passage } = await (await page.request.get(`${stage.server.url}api/passages/${other!.id}`)).json();
  await page.request.put(`${stage.server.url}api/passages/${other!.id}`, { data: { ...passage, tempo: 61 }, headers: { "If-Match": `"${other!.version}"` } });

  await page.reload();
  await link("Windlass").waitFor();
  expect(await link("Anchor Watch").count()).toBe(0);
  await page.getByRole("button", { name: "Backup", exact: true }).click();
  const restoring = page.getByRole("region", { name: "Bring a backup back" });
  await restoring.getByLabel("From a file").setInputFiles({ name: "library.zip", mimeType: "application/zip", buffer: backup });
  await restoring.getByText("Anchor Watch comes back").waitFor();
  await restoring.getByText(/^Windlass is here with another content/).waitFor();
  await restoring.getByRole("radio", { name: /^Keep both/ }).check();
  await restoring.getByRole("button", { name: "Bring it back" }).click();
  await restoring.getByText(/2 passages added/).waitFor();
  await page.getByText(/before a backup was brought back/).waitFor();
  await page.keyboard.press("Escape");
  await page.getByLabel("Search your passages").fill("watch");
  await link("Anchor Watch").waitFor();
  await page.getByLabel("Search your passages").fill("from backup");
  await link("Windlass (from backup)").waitFor();

  await page.getByRole("button", { name: "Backup", exact: true }).click();
  await restoring.getByLabel("From a file").setInputFiles({ name: "cut.zip", mimeType: "application/zip", buffer: backup.subarray(0, 500) });
  await restoring.getByText("This backup cannot be read. Nothing was changed.").waitFor();
});

it("the sheet is printed on the chosen paper, no line split over a page", async () => {
  const { page } = stage.seen;
  await link("Galley Steam").waitFor();
  await link("Galley Steam").click();
  await page.getByRole("application").waitFor();
  await page.keyboard.press("Alt+s");
  await page.getByRole("article", { name: "Sheet of Galley Steam" }).waitFor();
  await page.getByRole("radio", { name: "Letter" }).check();
  const pdf = (await page.pdf({ preferCSSPageSize: true })).toString("latin1");
  // Letter is 8.5 by 11 inches, 72 points each.
  expect(pdf).toMatch(/\/MediaBox \[0 0 612 792\]/);
  expect(await page.getByRole("img", { name: /^Line / }).evaluateAll((lines) => lines.every((line) => getComputedStyle(line).breakInside === "avoid"))).toBe(
    true,
  );
  const coming = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save as SVG" }).click();
  expect(readFileSync(await (await coming).path(), "utf8")).toMatch(/^<svg [\s\S]*<\/svg>$/);
});

describe("many passages", () => {
  it("are searched, narrowed by tag and ordered; only the rows in view are there", async () => {
    const watched = await visit(stage.browser, stage.server.url);
    const { page } = watched;
    const demo = await (await page.request.get(`${stage.server.url}api/passages`)).json();
    const { passage } = await (await page.request.get(`${stage.server.url}api/passages/${demo[0].id}`)).json();
    for (let i = 0; i < 60; i++)
      await page.request.post(`${stage.server.url}api/passages`, {
        data: { ...passage, title: `Crate ${i}`, tags: i % 2 ? ["deck"] : ["hold"] },
        headers: { origin: stage.server.url.replace(/\/$/, "") },
      });
    await page.reload();
    await page.getByText(/^\d+ passages$/).waitFor();
    expect(await page.getByRole("listitem").count()).toBeLessThan(30);
    await page.getByLabel("Search your passages").fill("crate 1");
    await page.getByText(/^15 of \d+$/).waitFor();
    await page.getByLabel("Tag", { exact: true }).selectOption("deck");
    await page.getByText(/^10 of \d+$/).waitFor();
    await page.getByLabel("Order", { exact: true }).selectOption("title");
    expect(await page.getByRole("listitem").first().getByRole("link").first().textContent()).toBe("Crate 1");
    await page.getByLabel("Search your passages").fill("nowhere");
    await page.getByText("No passage fits.", { exact: false }).waitFor();
    expect(watched.trouble).toEqual([]);
    await watched.context.close();
  });
});
