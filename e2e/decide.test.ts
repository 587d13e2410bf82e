import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { midiFile, varied } from "../src/core/test/midi-bytes.ts";
import { openPassage, reads } from "./kit.ts";
import { setStage } from "./stage.ts";

const stage = setStage();

const saved = async () => {
  const { page } = stage.seen;
  await reads(page, "save-state", /^\s*Saved/);
  const id = page.url().split("/").at(-1)!.split("?")[0]!;
  return (await (await page.request.get(`${stage.server.url}api/passages/${id}`)).json()).passage as {
    bars: { strokes: { at: string; as?: string; chord?: string; notes: unknown[] }[] }[];
    player: Record<string, string>;
    treatments?: { name: string; rules: { kind: string }[]; overrides: Record<string, unknown> }[];
  };
};
/** A bass drum on one and a snare on two. */
const BEAT = midiFile([Uint8Array.from([0, 0x99, 36, 90, ...varied(480), 0x99, 38, 90])]);
const openAt = async (title: string, key: "w" | "t" | "r") => {
  const page = await stage.visit();
  await openPassage(page, title);
  await page.keyboard.press(`Alt+${key}`);
  const stands = {
    w: page.getByRole("textbox", { name: "Chords" }),
    t: page.getByText(/No treatments yet|palm lifts a bar/),
    r: page.getByRole("application", { name: /^Loudness/ }),
  }[key];
  await stands.first().waitFor();
  return page;
};

/** A new passage in the Writer, by keys that are counted; the chords have the focus. */
const writerByKeys = async () => {
  const page = await stage.visit();
  await page.getByRole("button", { name: "New passage", exact: true }).focus();
  let keys = 0;
  const press = async (key: string) => {
    keys++;
    await page.keyboard.press(key);
  };
  await press("Enter");
  await page.getByRole("dialog").waitFor();
  await press("Enter");
  await page.getByRole("application").waitFor();
  await press("Alt+w");
  await page.getByRole("textbox", { name: "Chords" }).and(page.locator(":focus")).waitFor();
  return { page, press, count: () => keys };
};

describe("ways of playing", () => {
  it("all are tried for a sweep at one press; which suits it is said, and one is taken with a press", async () => {
    const page = await stage.visit();
    await openPassage(page, "Windlass");
    await page.keyboard.press("Alt+t");
    const ways = page.getByRole("region", { name: "Ways of playing" });
    await ways.getByRole("button", { name: "Try them all" }).click();
    await ways.getByRole("heading", { name: /^Which hand damps\? It leaves fewer strings ringing astray: 0 instead of \d+\./ }).waitFor();
    await ways.getByRole("listitem").filter({ hasText: "both, as it comes · suits it · as now" }).waitFor();
    await ways.getByRole("button", { name: "Play it so: arched; spare fingers lie there" }).click();
    await page.getByText("This passage is played so now: arched; spare fingers lie there. Undo takes it back.").waitFor();
    // Of the passage as it is now nothing has been tried yet.
    await ways.getByText("Every answer to every question of the Setup").waitFor();
    expect((await saved()).player).toEqual({ index: "arched" });
    expect(stage.seen.trouble).toEqual([]);
  });
});

describe("the Writer", () => {
  it("makes a two-chord strum with chucks from nothing, by keyboard, in under forty keys", async () => {
    const { page, press, count } = await writerByKeys();
    for (const key of "Am | G") await press(key);
    await press("Enter");
    await page.getByRole("textbox", { name: "Pattern" }).and(page.locator(":focus")).waitFor();
    for (const key of "ss ks ss ks") await press(key);
    await press("Control+Enter");
    await page.getByText(/is what is written now/).waitFor();
    expect(count()).toBeLessThan(40);
    const { bars } = await saved();
    expect(bars.slice(0, 2).map((bar) => bar.strokes.map((s) => `${s.chord} ${s.as ?? "play"}`))).toEqual(
      ["Am", "G"].map((chord) => [0, 1, 2, 3, 4, 5, 6, 7].map((i) => `${chord} ${i === 2 || i === 6 ? "chuck" : "play"}`)),
    );
    expect(stage.seen.trouble).toEqual([]);
  });

  it.each([
    {
      what: "a sixteenth funk part with a chord change",
      chords: "Am7 | D7",
      pattern: "s.gs .gs. s.gs .gs.",
      then: [],
      bar: "play ghost play ghost play play ghost play ghost play".split(" "),
    },
    { what: "a boom-brush in three chords", chords: "G | C | D", pattern: ">b>t >b>t >b>t >b>t", then: [], bar: new Array(8).fill("play") },
    {
      what: "a palm-muted arpeggio",
      chords: "Em",
      pattern: "b432 1234 b432 1234",
      // Past the signs to the rules' menu.
      then: ["Tab", "Tab", "Enter", "p", "a", "l", "Enter"],
      bar: new Array(16).fill("palm"),
    },
  ])("writes $what from nothing, by keyboard, in under sixty keys", async ({ chords, pattern, then, bar }) => {
    const { page, press, count } = await writerByKeys();
    for (const key of chords) await press(key);
    await press("Enter");
    await page.getByRole("textbox", { name: "Pattern" }).and(page.locator(":focus")).waitFor();
    for (const key of pattern) await press(key);
    for (const key of then) await press(key);
    if (then.length > 0) {
      await page.getByText("Palm all but accents", { exact: true }).waitFor();
      await page.getByRole("button", { name: "Add a rule" }).and(page.locator(":focus")).waitFor();
    }
    await press("Control+Enter");
    await page.getByText(/is what is written now/).waitFor();
    expect(count()).toBeLessThan(60);
    const { bars } = await saved();
    for (const { strokes } of bars.slice(0, chords.split("|").length))
      expect(strokes.map((s) => ((s.notes as { tone?: string }[]).every(({ tone }) => tone === "palm") ? "palm" : (s.as ?? "play")))).toEqual(bar);
    expect(stage.seen.trouble).toEqual([]);
  });

  it("proposes patterns for the chords, each with why; another lean seeks again; one is taken with a press", async () => {
    const page = await stage.visit();
    await page.getByRole("button", { name: "New passage", exact: true }).click();
    await page.getByRole("button", { name: "Start" }).click();
    await page.getByRole("application").waitFor();
    await page.keyboard.press("Alt+w");
    await page.getByRole("textbox", { name: "Chords" }).fill("G | C");
    await page.keyboard.press("Enter");
    const proposed = page.getByRole("region", { name: "Proposed patterns" });
    await proposed.getByRole("button", { name: "Propose patterns" }).click();
    await proposed.getByRole("button", { name: "busier" }).waitFor();
    const count = await proposed.getByRole("listitem").count();
    expect(count).toBeGreaterThan(2);
    expect(count).toBeLessThan(7);
    await proposed.getByRole("button", { name: "calmer" }).click();
    await proposed.getByRole("button", { name: "calmer" }).and(page.locator(":enabled")).waitFor();
    const first = proposed.getByRole("listitem").first();
    const line = (await first.locator(".font-mono").textContent())!;
    await first.getByRole("button").click();
    await page.getByRole("textbox", { name: "Pattern" }).first().waitFor();
    expect(await page.getByRole("textbox", { name: "Pattern" }).first().inputValue()).toBe(line);
    // A drum track says what must be heard.
    await proposed.getByLabel("A tune or drum track").setInputFiles({ name: "beat.mid", mimeType: "audio/midi", buffer: Buffer.from(BEAT) });
    await proposed.getByText("2 places must be heard, out of beat.mid;").waitFor();
    await proposed.getByLabel("A tune or drum track").setInputFiles({ name: "none.mid", mimeType: "audio/midi", buffer: Buffer.from("MThd no") });
    await proposed.getByRole("alert").waitFor();
    expect(stage.seen.trouble).toEqual([]);
  });

  it("lays a bar out over a row of chords, tells what that does before, and undo takes it back", async () => {
    const page = await openAt("Windlass", "w");
    const before = (await saved()).bars.length;
    await page.getByText("The same figure over a row of chords").click();
    const line = page.getByRole("textbox", { name: "Laid out again behind itself, over" });
    await line.fill("IV VX");
    await page.getByText("Character 4:", { exact: false }).waitFor();
    await line.fill("IV V I");
    await page.getByText(/^(The hands do the same|Stray rings|Changes of the hands|Moves without time)/).waitFor();
    await line.press("Enter");
    await page.getByText("Bar 1 laid out over IV V I", { exact: false }).waitFor();
    expect((await saved()).bars.length).toBe(Math.max(before, 4));
    await page.getByRole("application").press("Control+z");
    expect((await saved()).bars.length).toBe(before);
  });

  it("points at the character that cannot be read, and takes nothing before it is mended", async () => {
    const page = await openAt("Galley Steam", "w");
    await page.getByRole("button", { name: "Sixteenth funk with ghosts" }).click();
    const pattern = page.getByRole("textbox", { name: "Pattern" });
    await pattern.fill("s. qs ss ks");
    await page.getByText('Character 4: "q" is no sign here').waitFor();
    await pattern.fill("s. ks ss ks");
    await page.getByText("Character 4").waitFor({ state: "detached" });
    expect((await saved()).treatments![0]!.rules[1]).toEqual({ kind: "pattern", pattern: "s. ks ss ks" });
    const chords = page.getByRole("textbox", { name: "Chords" });
    await chords.fill("Am | Hm");
    await page.getByText(/Character 6: "Hm" does not begin with a root/).waitFor();
  });

  it("rules are moved by keys, switched off and taken away; each says what it did", async () => {
    const page = await openAt("Tarpaulin", "w");
    await page.getByText("40 ghost strokes on the empty sixteenths").waitFor();
    const grip = page.getByRole("button", { name: /^Move Dead-note fill/ });
    await grip.focus();
    await page.keyboard.press("Space");
    await page.getByText(/^Dead-note fill is (taken|at place 3)/).waitFor({ state: "attached" });
    // The sensor listens from the next turn of the event loop on.
    await page.evaluate(() => new Promise((next) => setTimeout(next)));
    await page.keyboard.press("ArrowUp");
    await page.getByText("Dead-note fill is at place 2.").waitFor({ state: "attached" });
    await page.keyboard.press("Space");
    await page.waitForFunction(() => document.querySelector("ol li:nth-child(2)")?.textContent?.includes("Dead-note fill"));
    expect((await saved()).treatments![0]!.rules.map((rule) => rule.kind)).toEqual(["plain", "ghosts", "pattern"]);
    await page.getByRole("checkbox", { name: "Strum pattern" }).uncheck();
    await page.getByText("Switched off.").waitFor();
    await page.getByRole("button", { name: "Take Dead-note fill away" }).click();
    expect((await saved()).treatments![0]!.rules).toEqual([{ kind: "plain" }, { kind: "pattern", pattern: "s..s ..s. s..s ..s.", off: true }]);
  });

  it("asks before it doubles a drummer's snare", async () => {
    const page = await openAt("Tarpaulin", "w");
    const before = (await saved()).treatments![0]!.rules;
    await page.getByRole("button", { name: "Backbeat chucks, eighths" }).click();
    await page.getByRole("dialog", { name: "Is there a drummer?" }).waitFor();
    await page.getByRole("button", { name: "There is one: leave it" }).click();
    expect((await saved()).treatments![0]!.rules).toEqual(before);
    await page.getByRole("button", { name: "Backbeat chucks, eighths" }).click();
    await page.getByRole("button", { name: "No drummer: write it" }).click();
    await page.getByText("8 chucks on the backbeat").waitFor();
  });

  it("a stroke against the swing is marked at its stroke and said; pressing the sentence goes there", async () => {
    const page = await openAt("Tarpaulin", "w");
    await page.getByRole("button", { name: "Muted bass, open chords" }).click();
    await page.getByRole("textbox", { name: "Pattern" }).fill("s>s ss ss ss");
    await page.getByTestId("clash").first().waitFor();
    await page.getByRole("button", { name: /^Bar 1, 1 &: the hand swings up here, the stroke goes down/ }).click();
  });

  it("one stroke is made an exception from the rules, and let go again", async () => {
    const page = await openAt("Bilge Pump", "w");
    await page.getByRole("application").focus();
    await page.keyboard.press("a");
    await page.getByRole("button", { name: "1 exception: take away" }).waitFor();
    expect(Object.values((await saved()).treatments![0]!.overrides)).toEqual([{ accent: true }]);
    await page.getByRole("button", { name: "1 exception: take away" }).click();
    expect((await saved()).treatments![0]!.overrides).toEqual({});
  });
});

describe("Treatments", () => {
  it("two treatments of a riff are made from the Writer, compared, and one promoted; undo takes it back", async () => {
    const page = await openAt("Windlass", "t");
    for (const rule of ["Palm all but accents", "Muted roots, open melody"]) {
      await page.getByRole("button", { name: /Other strokes, in the Writer|New treatment/ }).click();
      await page.getByRole("button", { name: "Add a rule" }).click();
      await page.getByRole("menuitem", { name: rule }).click();
      await page.keyboard.press("Alt+t");
      await page.getByTestId("figures").waitFor();
    }
    const figures = page.getByTestId("figures");
    expect(await figures.getByRole("row").count()).toBe(4);
    // Windlass has no accents: under "palm all but accents" every note is muted.
    const notes = (await saved()).bars.flatMap((bar) => bar.strokes.flatMap((stroke) => stroke.notes)).length;
    const muted = figures
      .getByRole("row", { name: /Treatment 1/ })
      .getByRole("cell")
      .nth(10);
    await muted.filter({ hasText: new RegExp(`^${notes}$`) }).waitFor();
    await page
      .getByText(/strokes? otherwise/)
      .first()
      .waitFor();
    const before = (await saved()).bars;
    await page.getByRole("button", { name: "Make Treatment 1 the main one" }).click();
    await page.getByText(/is what is written now/).waitFor();
    const after = await saved();
    expect(after.bars).not.toEqual(before);
    expect(after.treatments!.map((t) => t.name)).toEqual(["as it was", "Treatment 2"]);
    await page.keyboard.press("Control+z");
    expect((await saved()).bars).toEqual(before);
    expect(stage.seen.trouble).toEqual([]);
  });

  it("the open chords of a strum are compared with closed ones: named, told, counted, heard from the same place, and kept", async () => {
    const page = await openAt("Tarpaulin", "t");
    await page.getByRole("button", { name: "Compare otherwise" }).click();
    const dialog = page.getByRole("dialog", { name: "Compare the same notes" });
    await dialog.getByLabel("Chords").selectOption("closed");
    await page.keyboard.press("Enter");
    await dialog.getByRole("button", { name: "Compare it" }).click();
    const closed = page.getByRole("region", { name: "Closed voicings" });
    await closed.getByText(/^\d+ strokes in closed voicings/).waitFor();
    const figures = page.getByTestId("figures");
    await figures.filter({ hasNotText: "…" }).waitFor();
    for (const title of ["faint", "gestures a bar", "hands keep up", "clean"]) await figures.getByRole("columnheader", { name: title, exact: true }).waitFor();
    await page.keyboard.press("1");
    await page.getByRole("region", { name: "as written" }).getByTestId("heard").waitFor();
    const number = await closed.getByRole("button", { name: "Hear Closed voicings" }).textContent();
    await page.keyboard.press(number!.trim());
    await closed.getByTestId("heard").waitFor();
    await page.keyboard.press("Escape");
    // Another player beside it, mixed with closed chords.
    await closed.getByRole("button", { name: "More for Closed voicings" }).click();
    await page.getByRole("menuitem", { name: "Voicings, place, instrument, player" }).click();
    const again = page.getByRole("dialog", { name: "Closed voicings: otherwise than written" });
    await again.getByText("Played otherwise").click();
    await again.getByLabel("Which hand damps?").selectOption("fretting");
    await again.getByRole("button", { name: "Compare it" }).click();
    await closed.getByText("closed voicings, damps with", { exact: false }).waitFor();
    const kept = (await saved()).treatments!.find(({ name }) => name === "Closed voicings") as unknown as { conditions: Record<string, unknown> };
    expect(kept.conditions).toMatchObject({ voicing: "closed", player: { damps: "fretting" } });
    expect(stage.seen.trouble).toEqual([]);
  });

  it("another one is heard from the place where the one before was", async () => {
    const page = await openAt("Bilge Pump", "t");
    await page.getByTestId("figures").filter({ hasNotText: "…" }).waitFor();
    await page.keyboard.press("1");
    await page.getByRole("button", { name: "Stop" }).waitFor();
    await page.getByTestId("heard").waitFor();
    const x = () => page.getByTestId("heard").getAttribute("x");
    const start = Number(await x());
    await page.waitForFunction((was) => Number(document.querySelector("[data-testid=heard]")?.getAttribute("x") ?? was) > was + 60, start);
    await page.keyboard.press("2");
    await page.getByRole("region", { name: "muted roots, open tune" }).getByTestId("heard").waitFor();
    expect(Number(await x())).toBeGreaterThan(start + 30);
    await page.keyboard.press("Escape");
    await page.getByTestId("heard").waitFor({ state: "detached" });
    expect(stage.seen.trouble).toEqual([]);
  });
});

describe("the Ring", () => {
  it("says which string rings at the stray and why, in dB and words, by keyboard; and goes to that place on the Bench", async () => {
    const page = await openAt("Bilge Pump", "r");
    const chart = page.getByRole("application");
    await chart.focus();
    await chart.press("n");
    await reads(page, "readout", /Bar 2, 5: string 5: stray ring, (clearly|as loud as the note).*as planned it is [\d.]+ dB over.*Because/);
    await page.getByRole("link", { name: "This place on the Bench" }).click();
    await reads(page, "string-state", /^String 5: stray ring/);
    await page.keyboard.press("Alt+r");
    await reads(page, "readout", /^Bar 2, 5: string 5/);
    expect(stage.seen.trouble).toEqual([]);
  });

  it("by pointer: hovering reads, pressing chooses", async () => {
    const page = await openAt("Bilge Pump", "r");
    const box = (await page.getByRole("application").boundingBox())!;
    await page.mouse.move(box.x + 200, box.y + 28 + 62 * 3 + 30);
    await reads(page, "readout", /string 4/);
    await page.mouse.move(box.x + 200, box.y + 28 + 62 * 5 + 30);
    await reads(page, "readout", /string 6/);
    await page.mouse.down();
    await page.mouse.up();
    await page.mouse.move(5, 5);
    await reads(page, "readout", /string 6/);
  });

  it("the table says who answers: E on string 2 sets off string 1, the same pitch", async () => {
    const page = await openAt("Bilge Pump", "r");
    await page.getByRole("button", { name: /^string 2, fret 5, E4: sets off .*1/ }).click();
    await reads(page, "answers", /string 1: [\d.]+ dB over what is heard; the same pitch/);
    await page.keyboard.press("ArrowRight");
    await page
      .getByRole("button", { name: /^string 2, fret 6/ })
      .and(page.locator(":focus"))
      .waitFor();
  });

  it("what is heard is saved as a sound file, as long as the passage", async () => {
    const page = await openAt("Bilge Pump", "r");
    await page.getByRole("application").waitFor();
    await page.getByRole("button", { name: "practice" }).click();
    await page.getByRole("button", { name: "Save as a sound file" }).click();
    const dialog = page.getByRole("dialog", { name: "Save as a sound file" });
    await dialog.getByRole("radio", { name: "Nobody damps" }).check();
    await dialog.getByRole("radio", { name: "24 bit" }).check();
    const coming = page.waitForEvent("download");
    await dialog.getByRole("button", { name: "Save" }).click();
    const file = await coming;
    expect(file.suggestedFilename()).toBe("Bilge Pump, undamped.wav");
    const bytes = readFileSync(await file.path());
    expect(bytes.toString("latin1", 0, 4)).toBe("RIFF");
    expect(bytes.readUInt16LE(34)).toBe(24);
    expect(bytes.readUInt32LE(40)).toBe(bytes.length - 44);
    // Four bars, eighteen quarters at 128 bpm, and the sounds that die away after.
    expect(bytes.readUInt32LE(40) / 3 / 44_100).toBeGreaterThan((17 * 60) / 128);
    expect(stage.seen.trouble).toEqual([]);
  });
});
