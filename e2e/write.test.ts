import { expect, it } from "vitest";
import { openPassage, reads, type Watched } from "./kit.ts";
import { setStage } from "./stage.ts";

const stage = setStage();

const open = async (title: string) => {
  await stage.visit();
  await stage.seen.context.grantPermissions(["clipboard-read", "clipboard-write"]);
  await openPassage(stage.seen.page, title);
  return stage.seen.page;
};
/** The passage as the library has it, when it is saved. */
const saved = async (page: Watched["page"]) => {
  await reads(page, "save-state", /^\s*Saved/);
  const id = page.url().split("/").at(-1)!;
  return (await (await page.request.get(`${stage.server.url}api/passages/${id}`)).json()).passage as {
    bars: { meter: number[]; tempo?: number; strokes: { at: string; notes: { string: number; fret: number; tone?: string; finger?: number }[] }[] }[];
    pins?: unknown[];
    gain?: string;
    goalTempo?: number;
    tags: string[];
  };
};
const newPassage = async () => {
  const page = await stage.visit();
  await page.getByRole("button", { name: "New passage", exact: true }).click();
  await page.getByRole("button", { name: "Start" }).click();
  await page.getByRole("application").waitFor();
  return page;
};

it("a two-bar sixteenth riff takes at most one and a half keys a note, and twenty", async () => {
  const page = await newPassage();
  const keys = ["g", "w", ..."ArrowDown ".repeat(5).trim().split(" "), "p"];
  const riff = "0 0 3 0 0 5 0 0 | 0 0 3 0 6 5 3 0 | 0 0 3 0 0 5 0 0 | 0 0 3 0 t1 t0 7 5";
  const frets = riff.replaceAll("|", " ").split(/\s+/);
  for (const fret of frets) keys.push(...fret);
  for (const key of keys) await page.keyboard.press(key);
  expect(keys.length).toBeLessThanOrEqual(1.5 * frets.length + 20);
  const { bars } = await saved(page);
  const written = bars.slice(0, 2).flatMap((bar) => bar.strokes.flatMap((s) => s.notes.map((n) => n.fret)));
  expect(written).toEqual(frets.map((fret) => (fret.startsWith("t") ? 10 + Number(fret[1]) : Number(fret))));
  expect(bars[0]!.strokes.every((s) => s.notes.every((n) => n.string === 6 && n.tone === "palm"))).toBe(true);
  expect(stage.seen.trouble).toEqual([]);
});

it("a bar is copied, pasted, repeated and cut by keys; each is one step of undo", async () => {
  const page = await open("Ballast Tanks");
  const before = await saved(page);
  const frets = (bars: typeof before.bars, bar: number) => bars[bar]?.strokes.map((s) => s.notes.map((n) => `${n.string}/${n.fret}`).join());
  await page.keyboard.press("Control+c");
  await page.keyboard.press("Control+ArrowRight");
  await page.keyboard.press("Control+v");
  expect(frets((await saved(page)).bars, 1)).toEqual(frets(before.bars, 0));
  await page.keyboard.press("Control+z");
  expect(frets((await saved(page)).bars, 1)).toEqual(frets(before.bars, 1));
  await page.keyboard.press("End");
  await page.keyboard.press("r");
  const longer = await saved(page);
  expect(longer.bars.length).toBe(before.bars.length + 1);
  expect(frets(longer.bars, before.bars.length)).toEqual(frets(before.bars, before.bars.length - 1));
  await page.keyboard.press("Home");
  await page.keyboard.press("Control+Shift+ArrowRight");
  await page.getByTestId("selection").first().waitFor();
  await page.keyboard.press("Delete");
  expect((await saved(page)).bars[0]!.strokes).toEqual([]);
  expect(stage.seen.trouble).toEqual([]);
});

it("a contact is kept or forbidden where it is told; the plan works around it and says what that costs", async () => {
  const page = await open("Windlass");
  await page.getByRole("button", { name: /^not so: underside/ }).click();
  await page.getByText(/^Forbidden: underside, index/).waitFor();
  await page.getByText(/It (costs|lets)/).waitFor();
  expect((await saved(page)).pins).toHaveLength(1);
  await page.getByRole("button", { name: /^Let go: Forbidden/ }).click();
  await page.getByRole("button", { name: /^not so: underside/ }).waitFor();
  expect((await saved(page)).pins).toBeUndefined();
});

it("instrument, gain, goal, tags, meter and tempo of a bar are set in one dialog; what does not fit is refused", async () => {
  const page = await open("Keelson");
  await page.keyboard.press("Control+ArrowRight");
  await page.keyboard.press("i");
  const dialog = page.getByRole("dialog", { name: "This passage" });
  await dialog.getByLabel("Gain", { exact: true }).selectOption("high");
  await dialog.getByLabel("Goal tempo (empty: none)").fill("101");
  await dialog.getByLabel("Tags, with commas between").fill("low, slow");
  await dialog.getByLabel("Meter of bar 2", { exact: true }).selectOption("3/4");
  await dialog.getByLabel("Tempo from bar 2 on (empty: as before)").fill("66");
  await page.keyboard.press("Enter");
  await dialog.getByLabel("Instrument", { exact: true }).selectOption({ label: "Bass, four strings" });
  await dialog.getByText("That does not fit this music", { exact: false }).waitFor();
  await dialog.getByRole("button", { name: "Close" }).click();
  const passage = await saved(page);
  expect(passage).toMatchObject({ gain: "high", goalTempo: 101, tags: ["low", "slow"] });
  expect(passage.bars[1]).toMatchObject({ meter: [3, 4], tempo: 66 });
});

it("the stand shows now and next, turns by pedal, follows the sound, and leaves the cursor where it turned to", async () => {
  const page = await open("Tarpaulin");
  await page.keyboard.press("s");
  const stand = page.getByRole("dialog", { name: "Tarpaulin on the stand" });
  await stand.getByRole("heading", { name: "bar 1, 1", exact: true }).waitFor();
  await page.keyboard.press("PageDown");
  await page.keyboard.press("PageDown");
  const now = await stand.getByRole("region", { name: "Now" }).getByRole("heading").textContent();
  await page.keyboard.press("PageUp");
  await stand.getByText(`then ${now}`).waitFor();
  await page.keyboard.press("Space");
  await stand.getByRole("heading", { name: "bar 2, 1", exact: true }).waitFor();
  await page.keyboard.press("Space");
  await page.keyboard.press("Escape");
  await stand.waitFor({ state: "hidden" });
  expect(stage.seen.trouble).toEqual([]);
});

it("loops the selection with clicks, slower than written", async () => {
  const page = await open("Galley Steam");
  await page.getByRole("button", { name: "loop" }).click();
  await page.getByRole("button", { name: "clicks" }).click();
  await page.getByLabel("Speed").selectOption("0.5");
  await page.getByRole("application").focus();
  await page.keyboard.press("Shift+ArrowRight");
  await page.keyboard.press("Space");
  await reads(page, "listen-state", "Sounding");
  const left = () => page.getByTestId("heard").evaluate((e) => (e as HTMLElement).style.left);
  await page.getByTestId("heard").waitFor();
  const first = await left();
  await page.waitForFunction((was) => document.querySelector<HTMLElement>("[data-testid=heard]")?.style.left !== was, first);
  await page.waitForFunction((was) => document.querySelector<HTMLElement>("[data-testid=heard]")?.style.left === was, first);
  await page.keyboard.press("Space");
  await page.getByTestId("listen-state").and(page.locator(":empty")).waitFor({ state: "attached" });
});
