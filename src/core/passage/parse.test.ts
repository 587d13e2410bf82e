import { readdirSync, readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { parsePassageText } from "./parse.ts";

const base = {
  format: "rest-hand-passage",
  version: 2,
  title: "t",
  tempo: 100,
  instrument: { kind: "electric-guitar", tuning: ["E4", "B3", "G3", "D3", "A2", "E2"], frets: 22, scaleLengthMm: 648 },
  bars: [{ meter: [4, 4], strokes: [{ at: "0", length: "1/4", notes: [{ string: 6, fret: 3 }] }] }],
};
const fault = (value: unknown) => {
  const parsed = parsePassageText(typeof value === "string" ? value : JSON.stringify(value));
  return parsed.ok ? "none" : `${parsed.faults[0]!.place}: ${parsed.faults[0]!.says}`;
};
const withBar = (bar: unknown) => ({ ...base, bars: [bar] });

describe("passage documents", () => {
  it("takes a minimal one and fills in the defaults", () => {
    const parsed = parsePassageText(JSON.stringify(base));
    expect(parsed.ok && parsed.value).toMatchObject({ ring: "written", feel: "straight", player: {}, tags: [], instrument: { capo: 0 } });
  });
  it("names the place of every fault", () => {
    expect(fault('{"format": "rest-hand-passage",\n  oops}')).toMatch(/^line 2, column \d+: /);
    expect(fault("[1,")).toMatch(/^line 1, column 4: /);
    expect(fault({ ...base, colour: 1 })).toBe("/colour: unknown key");
    expect(fault({ ...base, player: { index: "bent" } })).toMatch(/^\/player\/index: /);
    expect(fault({ ...base, version: 3 })).toMatch(/^\/version: version 3 is newer/);
    expect(fault({ ...base, format: "x" })).toMatch(/^\/format: /);
    expect(fault({ ...base, bars: [] })).toMatch(/^\/bars: /);
    expect(fault(withBar({ meter: [4, 4], strokes: [{ at: "1/11", length: "1/4", notes: [{ string: 6, fret: 3 }] }] }))).toMatch(
      /^\/bars\/0\/strokes\/0\/at: .*grid/,
    );
    expect(fault(withBar({ meter: [3, 4], strokes: [{ at: "3/4", length: "1/4", notes: [{ string: 6, fret: 3 }] }] }))).toMatch(
      /^\/bars\/0\/strokes\/0\/at: the bar of 3\/4 ends/,
    );
    expect(fault(withBar({ meter: [4, 4], strokes: [{ at: "0", length: "1/4", notes: [{ string: 7, fret: 3 }] }] }))).toBe(
      "/bars/0/strokes/0/notes/0/string: string 7 on an instrument of 6",
    );
    expect(fault(withBar({ meter: [4, 4], strokes: [{ at: "0", length: "1/4" }] }))).toMatch(/^\/bars\/0\/strokes\/0: a stroke needs/);
    const muted = { string: 6, fret: 3, mute: "light" };
    expect(fault(withBar({ meter: [4, 4], strokes: [{ at: "0", length: "1/4", notes: [muted] }] }))).toMatch(/^\/bars\/0\/strokes\/0\/notes\/0\/mute: only/);
    expect(fault(withBar({ meter: [4, 4], strokes: [{ at: "0", length: "1/4", notes: [{ ...muted, tone: "palm" }] }] }))).toBe("none");
    expect(fault({ ...base, instrument: { ...base.instrument, tuning: ["E4"] } })).toMatch(/4 to 8 strings/);
  });
  it("refuses a key that a plain object would lose without a word", () => {
    const rule = '{ "kind": "boom-brush", "brush": { "__proto__": [3, 2, 1] } }';
    const text = JSON.stringify(base).replace(/}$/, `, "treatments": [{ "id": "t", "name": "T", "rules": [${rule}] }] }`);
    expect(fault(text)).toBe("/treatments/0/rules/0/brush/__proto__: no key can be called so");
    expect(fault(withBar({ meter: [4, 4], strokes: [{ id: "__proto__", at: "0", length: "1/4", notes: [{ string: 6, fret: 3 }] }] }))).toMatch(
      /^\/bars\/0\/strokes\/0\/id: /,
    );
  });
  it("reads every demo passage", () => {
    const files = readdirSync("demo").filter((f) => f.endsWith(".resthand.json"));
    expect(files.length).toBeGreaterThanOrEqual(6);
    for (const file of files) expect(fault(readFileSync(`demo/${file}`, "utf8")), file).toBe("none");
  });
});

describe("older versions are brought up to date", () => {
  const fixture = readFileSync("src/core/passage/fixtures/version-1.resthand.json", "utf8");
  it("1: finger 0 on a fretted note says nothing, and goes; so does a pin that names a part its hand has not", () => {
    const parsed = parsePassageText(fixture);
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.faults));
    const written = JSON.parse(fixture);
    const expected = structuredClone(written);
    delete expected.bars[0].strokes[0].notes[0].finger;
    expected.pins.splice(0, 1);
    expect(parsed.value).toMatchObject({ ...expected, version: 2 });
    expect("finger" in parsed.value.bars[0]!.strokes[0]!.notes[0]!).toBe(false);
    expect(parsed.value.pins).toHaveLength(1);
  });
  it("what was wrong in its own version is still said at its place", () => {
    const wrong = JSON.parse(fixture);
    wrong.bars[0].strokes[1].notes[0].finger = 7;
    expect(fault(wrong)).toMatch(/^\/bars\/0\/strokes\/1\/notes\/0\/finger: /);
    expect(fault({ ...JSON.parse(fixture), bars: "none" })).toMatch(/^\/bars: /);
    expect(fault({ ...JSON.parse(fixture), pins: [{ want: "ban", contact: { hand: "fretting", part: "knee" } }] })).toMatch(/^\/pins\/0/);
    expect(fault({ ...JSON.parse(fixture), version: 0 })).toMatch(/^\/version: /);
  });
  it("now finger 0 on a fretted note is refused, with its place; on an open string it stays", () => {
    const notes = (finger: number, fret: number) => withBar({ meter: [4, 4], strokes: [{ at: "0", length: "1/4", notes: [{ string: 6, fret, finger }] }] });
    expect(fault(notes(0, 3))).toMatch(/^\/bars\/0\/strokes\/0\/notes\/0\/finger: finger 0 is the open string/);
    expect(fault(notes(0, 0))).toBe("none");
  });
});

it("the committed JSON Schema is the one the Zod schema gives", async () => {
  const { passageJsonSchema } = await import("../../../scripts/write-json-schema.ts");
  expect(readFileSync("docs/passage.schema.json", "utf8")).toBe(passageJsonSchema());
});
