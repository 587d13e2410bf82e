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
  await stage.seen.context.grantPermissions(["clipboard-read", "clipboard-write"]);
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

it("a tab from elsewhere is pasted at the cursor; what is no music is said and changes nothing", async () => {
  const page = await newPassage();
  await page.evaluate(() => navigator.clipboard.writeText("e|--------|\nB|--------|\nG|--------|\nD|--2---4-|\nA|--------|\nE|0---3---|"));
  await page.keyboard.press("Control+v");
  const written = (await saved(page)).bars[0]!.strokes.flatMap((s) => s.notes.map((n) => `${n.string}/${n.fret}`));
  expect(written).toEqual(["6/0", "4/2", "6/3", "4/4"]);
  await page.evaluate(() => navigator.clipboard.writeText("see you at the pier"));
  await page.keyboard.press("Control+v");
  await page.getByText(/^This could not be read as music/).waitFor();
  expect((await saved(page)).bars[0]!.strokes).toHaveLength(4);
});

it("a chord is set by name for all that is selected, and by shape on an empty place", async () => {
  const page = await newPassage();
  for (const key of ["0", "ArrowRight", "ArrowRight", "c", "Shift+ArrowLeft", "Shift+ArrowLeft", "k"]) await page.keyboard.press(key);
  await page.getByRole("dialog").getByText("Chord for all that is selected").waitFor();
  // Before anything is typed there are shapes to choose from; one fills in its name.
  await page.getByRole("region", { name: "Chords to begin with" }).getByRole("button", { name: "Em" }).click();
  await page.getByRole("radio", { name: /^022000/ }).waitFor();
  await page.getByRole("textbox", { name: /^Name, such as/ }).fill("Am");
  await page.getByRole("radio", { name: /^x02210/ }).waitFor();
  await page.keyboard.press("Enter");
  const am = "5/0 4/2 3/2 2/1 1/0";
  const frets = async () => (await saved(page)).bars[0]!.strokes.map((s) => s.notes.map((n) => `${n.string}/${n.fret}`).join(" "));
  expect(await frets()).toEqual([am, am]);
  for (const key of ["Escape", "Control+ArrowRight", "Control+ArrowLeft", "ArrowRight", "k"]) await page.keyboard.press(key);
  await page.keyboard.type("32001");
  await page.getByText(/needs 6 places/).waitFor();
  await page.keyboard.type("3");
  await page.keyboard.press("Enter");
  expect((await frets())[1]).toBe("6/3 5/2 4/0 3/0 2/1 1/3");
  expect(stage.seen.trouble).toEqual([]);
});

it("a chord is held from a place on, whatever is struck, and let go of at another; both are undone", async () => {
  const page = await newPassage();
  await page.keyboard.press("k");
  await page.getByRole("dialog").waitFor();
  await page.keyboard.type("x02210");
  await page.getByRole("button", { name: "Hold it from here on" }).click();
  await page.getByText("holds x02210").waitFor();
  // One string of it is struck: the whole shape is pressed.
  for (const key of ["Escape", "ArrowDown", "1"]) await page.keyboard.press(key);
  await page.getByText(/index 2 at 1/i).waitFor();
  await page.getByText(/4 at 2/i).waitFor();
  for (const key of ["ArrowRight", "ArrowRight", "k"]) await page.keyboard.press(key);
  await page.getByText("The hand holds x02210 here.").waitFor();
  await page.getByRole("button", { name: "Let go here" }).click();
  await page.getByText("lets go", { exact: true }).waitFor();
  const grips = async () =>
    ((await saved(page)).bars[0] as unknown as { grips?: { at: string; notes: unknown[] }[] }).grips?.map((g) => `${g.at} ${g.notes.length}`);
  expect(await grips()).toEqual(["0 5", "1/4 0"]);
  await page.keyboard.press("Escape");
  for (let i = 0; i < 3; i++) await page.keyboard.press("Control+z");
  expect(await grips()).toBeUndefined();
  expect(stage.seen.trouble).toEqual([]);
});

it("by pointer: a sound is drawn out, a stroke moved, the palm painted, a selection drawn; Escape lets go", async () => {
  const page = await open("Windlass");
  const before = await saved(page);
  const strokes = async () => (await saved(page)).bars[0]!.strokes as unknown as { at: string; length: string; notes: { tone?: string }[] }[];
  const drag = async (kind: string, nth: number, x: number, y = 0, letGo = true) => {
    const box = (await page.locator(`[data-bar="0"] [data-grab="${kind}"]`).nth(nth).boundingBox())!;
    const from = kind === "palm" ? { x: box.x + 20, y: box.y + box.height / 2 } : { x: box.x + box.width / 2, y: box.y + box.height / 2 };
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await page.mouse.move(from.x + x / 2, from.y + y / 2, { steps: 3 });
    await page.mouse.move(from.x + x, from.y + y, { steps: 3 });
    if (letGo) await page.mouse.up();
  };
  await drag("end", 7, 0, 0);
  await drag("end", 1, 70);
  expect((await strokes())[1]!.length).toBe("1/4");
  await drag("palm", 0, 200);
  expect((await strokes()).filter((s) => s.notes.some((n) => n.tone === "palm")).length).toBe(3);
  await drag("sweep", 0, 0, 200);
  expect((await strokes())[0]).toMatchObject({ strings: [6, 5, 4, 3, 2, 1] });
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  expect((await saved(page)).bars).toEqual(before.bars);
  await drag("note", 0, 0, 33, false);
  await page.getByText("same pitch on string 5").waitFor();
  await page.keyboard.press("Escape");
  await page.mouse.up();
  expect((await saved(page)).bars).toEqual(before.bars);
  await page.mouse.move(120, 265);
  await page.mouse.down();
  await page.mouse.move(330, 265, { steps: 4 });
  await page.mouse.up();
  await page.getByTestId("selection").first().waitFor();
  expect(stage.seen.trouble).toEqual([]);
});

it("a contact is kept or forbidden where it is said; the plan works around it and says what that costs", async () => {
  const page = await open("Windlass");
  await page.getByRole("button", { name: /^not so: index over it/ }).click();
  await page.getByText(/^Forbidden: index over it/).waitFor();
  await page.getByText(/It (costs|lets)/).waitFor();
  expect((await saved(page)).pins).toHaveLength(1);
  await page.getByRole("button", { name: /^Let go: Forbidden/ }).click();
  await page.getByRole("button", { name: /^not so: index over it/ }).waitFor();
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
  await dialog.getByLabel("Instrument", { exact: true }).selectOption({ label: "Electric bass E1 A1 D2 G2" });
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
  await page.getByRole("button", { name: "practice" }).click();
  await page.getByRole("checkbox", { name: "loop" }).check();
  await page.getByRole("checkbox", { name: "clicks" }).check();
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

it("a bar of the riff moves a string over by keys, told before it is done, and is heard; undo takes it back in one step", async () => {
  const page = await open("Bilge Pump");
  const before = await saved(page);
  const places = (bars: typeof before.bars, bar: number) => bars[bar]!.strokes.map((s) => s.notes.map((n) => `${n.string}/${n.fret}`).join(" "));
  await page.keyboard.press("m");
  const dialog = page.getByRole("dialog", { name: "Move the figure" });
  await dialog.waitFor();
  await page.keyboard.press("ArrowUp");
  await dialog.getByText("1 string to the treble side, at the same frets").waitFor();
  await dialog.getByText("It sounds 5 semitones higher.").waitFor();
  await dialog.getByText(/^(The hands do the same|Stray rings|Moves without time|Changes of the hands)/).waitFor();
  await page.keyboard.press("Enter");
  await dialog.waitFor({ state: "detached" });
  const moved = await saved(page);
  expect(places(moved.bars, 0)).toEqual(places(before.bars, 0).map((notes) => notes.replace(/(\d)\//g, (_, string) => `${Number(string) - 1}/`)));
  expect(moved.bars.slice(1)).toEqual(before.bars.slice(1));
  await page.getByRole("application").press("Space");
  await reads(page, "listen-state", "Sounding");
  await page.getByRole("application").press("Space");
  await page.keyboard.press("Control+z");
  expect((await saved(page)).bars).toEqual(before.bars);
  // What has no place is refused with its reason, and nothing moves.
  await page.keyboard.press("m");
  await page.keyboard.press("ArrowDown");
  await dialog.getByText(/^Not there: string 6, fret 0 has no place there/).waitFor();
  await page.keyboard.press("Enter");
  await page.keyboard.press("Escape");
  expect((await saved(page)).bars).toEqual(before.bars);
  expect(stage.seen.trouble).toEqual([]);
});

it("a bar is laid out over a row of chords", async () => {
  const page = await open("Bilge Pump");
  const before = await saved(page);
  await page.keyboard.press("m");
  const dialog = page.getByRole("dialog", { name: "Move the figure" });
  await dialog.getByLabel(/lay it out again/).fill("IV X");
  await dialog.getByText('Character 4: "X" is neither a step such as IV nor a root such as D').waitFor();
  await dialog.getByLabel(/lay it out again/).fill("IV");
  await page.keyboard.press("Enter");
  await dialog.waitFor({ state: "detached" });
  const { bars } = await saved(page);
  expect(bars[1]!.strokes[0]!.notes).toMatchObject([{ string: 5, fret: 0 }]);
  expect(bars[0]).toEqual(before.bars[0]);
});
