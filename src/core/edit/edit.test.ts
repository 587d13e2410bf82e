import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { planPassage } from "../engine.ts";
import { TICKS_PER_WHOLE, ticksOf } from "../music/ticks.ts";
import { parsePassage } from "../passage/parse.ts";
import { presetFor } from "../passage/presets.ts";
import { PASSAGE_VERSION, type Passage } from "../passage/schema.ts";
import { applyEdit, type Edit, neighbourPlace, strokeAt } from "./edit.ts";

const EIGHTH = TICKS_PER_WHOLE / 8;

function blank(bars = 2): Passage {
  const parsed = parsePassage({
    format: "rest-hand-passage",
    version: PASSAGE_VERSION,
    title: "Blank",
    instrument: presetFor(6),
    tempo: 100,
    bars: Array.from({ length: bars }, () => ({ meter: [4, 4], strokes: [] })),
  });
  if (!parsed.ok) throw new Error(parsed.faults[0]!.says);
  return parsed.value;
}

describe("edits", () => {
  it("sets a fret on an empty place, then changes it, then takes it away with its stroke", () => {
    const passage = blank();
    const place = { bar: 0, tick: EIGHTH };
    expect(applyEdit(passage, { kind: "set-fret", place, string: 5, fret: 3, length: EIGHTH })).toBe(true);
    expect(strokeAt(passage, place)).toMatchObject({ at: "1/8", length: "1/8", notes: [{ string: 5, fret: 3 }] });
    applyEdit(passage, { kind: "set-fret", place, string: 5, fret: 12, length: EIGHTH });
    expect(strokeAt(passage, place)?.notes).toEqual([{ string: 5, fret: 12 }]);
    applyEdit(passage, { kind: "remove-note", place, string: 5 });
    expect(passage.bars[0]!.strokes).toEqual([]);
  });
  it("keeps strokes in order and stops a new one before the next", () => {
    const passage = blank();
    applyEdit(passage, { kind: "set-fret", place: { bar: 0, tick: 2 * EIGHTH }, string: 4, fret: 5, length: EIGHTH });
    applyEdit(passage, { kind: "set-fret", place: { bar: 0, tick: EIGHTH }, string: 4, fret: 7, length: 4 * EIGHTH });
    expect(passage.bars[0]!.strokes.map((s) => [s.at, s.length])).toEqual([
      ["1/8", "1/8"],
      ["1/4", "1/8"],
    ]);
  });
  it("clicks a string beside a note, and no longer where a note comes, the stroke dies or it is asked for again", () => {
    const passage = blank();
    const place = { bar: 0, tick: 0 };
    const click = (string: number) => applyEdit(passage, { kind: "toggle-click", place, string });
    expect(click(2)).toBe(false);
    applyEdit(passage, { kind: "set-fret", place, string: 5, fret: 3, length: EIGHTH });
    expect([click(2), click(3), click(5)]).toEqual([true, true, false]);
    expect(strokeAt(passage, place)?.click).toEqual([3, 2]);
    applyEdit(passage, { kind: "set-fret", place, string: 3, fret: 0, length: EIGHTH });
    expect(strokeAt(passage, place)?.click).toEqual([2]);
    expect(click(2)).toBe(true);
    expect(strokeAt(passage, place)).not.toHaveProperty("click");
    click(1);
    applyEdit(passage, { kind: "set-as", place, as: "chuck", length: EIGHTH });
    expect(strokeAt(passage, place)).not.toHaveProperty("click");
    expect(click(1)).toBe(false);
  });
  it("makes a chuck of a chord and a chord of the chuck again, keeping the shape", () => {
    const passage = blank();
    const place = { bar: 1, tick: 0 };
    applyEdit(passage, { kind: "set-fret", place, string: 3, fret: 2, length: EIGHTH });
    applyEdit(passage, { kind: "set-as", place, as: "chuck", length: EIGHTH });
    expect(strokeAt(passage, place)).toMatchObject({ as: "chuck", strings: [6, 5, 4, 3, 2, 1], notes: [{ string: 3, fret: 2 }] });
    applyEdit(passage, { kind: "set-as", place, as: "play", length: EIGHTH });
    expect(strokeAt(passage, place)).toEqual({ at: "0", length: "1/8", notes: [{ string: 3, fret: 2 }] });
  });
  it("a chord takes the place of the notes and leaves what the strokes are: a chuck stays a chuck, a palm-muted strum palm-muted", () => {
    const passage = blank(1);
    const at = (eighth: number) => ({ bar: 0, tick: eighth * EIGHTH });
    applyEdit(passage, { kind: "set-fret", place: at(0), string: 6, fret: 3, length: EIGHTH, tone: "palm" });
    applyEdit(passage, { kind: "set-as", place: at(2), as: "chuck", length: EIGHTH });
    const am = { kind: "set-chord", from: 0, to: 8 * EIGHTH, length: EIGHTH, name: "Am", shape: [0, 1, 2, 2, 0, null] } as const;
    expect(applyEdit(passage, am)).toBe(true);
    const [strum, chuck] = passage.bars[0]!.strokes;
    expect(strum).toMatchObject({
      chord: "Am",
      notes: [
        { string: 5, fret: 0, tone: "palm" },
        { string: 4, fret: 2 },
        { string: 3, fret: 2 },
        { string: 2, fret: 1 },
        { string: 1, fret: 0 },
      ],
    });
    expect(chuck).toMatchObject({ as: "chuck", chord: "Am", strings: [6, 5, 4, 3, 2, 1] });
    expect(parsePassage(JSON.parse(JSON.stringify(passage))).ok).toBe(true);
  });

  it("a chord on an empty place is a new stroke; one for another number of strings or beyond the neck is refused", () => {
    const passage = blank(1);
    const chord = { kind: "set-chord", from: EIGHTH, to: EIGHTH + 1, length: EIGHTH, name: null } as const;
    expect(applyEdit(passage, { ...chord, shape: [null, null, 2, 2, 0] })).toBe(false);
    expect(applyEdit(passage, { ...chord, shape: [null, null, 2, 2, 40, null] })).toBe(false);
    expect(passage.bars[0]!.strokes).toEqual([]);
    expect(applyEdit(passage, { ...chord, shape: [null, null, 2, 2, 0, null] })).toBe(true);
    expect(strokeAt(passage, { bar: 0, tick: EIGHTH })).toMatchObject({ length: "1/8", notes: [{ string: 5 }, { string: 4 }, { string: 3 }] });
  });

  it("refuses what cannot be and changes nothing", () => {
    const passage = blank(1);
    const before = structuredClone(passage);
    const refused: Edit[] = [
      { kind: "set-fret", place: { bar: 0, tick: 0 }, string: 7, fret: 1, length: EIGHTH },
      { kind: "set-fret", place: { bar: 0, tick: 0 }, string: 1, fret: 40, length: EIGHTH },
      { kind: "set-fret", place: { bar: 0, tick: TICKS_PER_WHOLE }, string: 1, fret: 1, length: EIGHTH },
      { kind: "set-fret", place: { bar: 9, tick: 0 }, string: 1, fret: 1, length: EIGHTH },
      { kind: "remove-bar", bar: 0 },
      { kind: "set-title", title: "  " },
      { kind: "set-tempo", tempo: 0 },
      { kind: "set-finger", place: { bar: 0, tick: 0 }, string: 1, finger: 2 },
    ];
    for (const edit of refused) expect(applyEdit(passage, edit), edit.kind).toBe(false);
    expect(passage).toEqual(before);
  });
  it("leaves a valid document after any sequence of edits", () => {
    const place = fc.record({ bar: fc.integer({ min: 0, max: 3 }), tick: fc.integer({ min: 0, max: 20 }).map((n) => (n * EIGHTH) / 2) });
    const string = fc.integer({ min: 1, max: 8 });
    const length = fc.constantFrom(EIGHTH, EIGHTH / 2, 2 * EIGHTH);
    const edit: fc.Arbitrary<Edit> = fc.oneof(
      fc.record({ kind: fc.constant("set-fret" as const), place, string, fret: fc.integer({ min: -1, max: 30 }), length }),
      fc.record({ kind: fc.constant("remove-note" as const), place, string }),
      fc.record({ kind: fc.constant("set-as" as const), place, as: fc.constantFrom("play" as const, "chuck" as const, "ghost" as const), length }),
      fc.record({ kind: fc.constant("set-finger" as const), place, string, finger: fc.constantFrom(1 as const, 4 as const, null) }),
      fc.record({ kind: fc.constant("set-tone" as const), place, string, tone: fc.constantFrom("open" as const, "palm" as const, "ghost" as const) }),
      fc.record({ kind: fc.constant("add-bar" as const), after: fc.integer({ min: 0, max: 3 }) }),
      fc.record({ kind: fc.constant("remove-bar" as const), bar: fc.integer({ min: 0, max: 3 }) }),
      fc.record({ kind: fc.constant("move-stroke" as const), place, to: place }),
      fc.record({ kind: fc.constant("move-note" as const), place, string, to: string }),
      fc.record({ kind: fc.constant("set-strings" as const), place, strings: fc.uniqueArray(fc.integer({ min: 0, max: 9 }), { maxLength: 6 }) }),
      fc.record({
        kind: fc.constant("paint-tone" as const),
        from: length,
        to: fc.constant(4 * EIGHTH),
        tone: fc.constantFrom("open" as const, "palm" as const),
      }),
      fc.record({
        kind: fc.constant("set-chord" as const),
        from: length,
        to: fc.constant(6 * EIGHTH),
        length,
        name: fc.constant("Am"),
        shape: fc.array(fc.option(fc.integer({ min: 0, max: 30 })), { minLength: 5, maxLength: 6 }),
      }),
    );
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 30 }), (edits) => {
        const passage = blank();
        for (const e of edits) applyEdit(passage, e);
        return parsePassage(structuredClone(passage)).ok;
      }),
    );
  });
});

describe("moving by places", () => {
  it("walks in eighths, over the bar line, and stops at the ends", () => {
    const passage = blank();
    expect(neighbourPlace(passage, { bar: 0, tick: 7 * EIGHTH }, 1, EIGHTH)).toEqual({ bar: 1, tick: 0 });
    expect(neighbourPlace(passage, { bar: 1, tick: 0 }, -1, EIGHTH)).toEqual({ bar: 0, tick: 7 * EIGHTH });
    expect(neighbourPlace(passage, { bar: 0, tick: 0 }, -1, EIGHTH)).toBeNull();
    expect(neighbourPlace(passage, { bar: 1, tick: 7 * EIGHTH }, 1, EIGHTH)).toBeNull();
  });
  it("goes as fine as the bar's own strokes", () => {
    const passage = blank();
    applyEdit(passage, { kind: "set-fret", place: { bar: 0, tick: ticksOf("1/16") }, string: 1, fret: 1, length: EIGHTH });
    expect(neighbourPlace(passage, { bar: 0, tick: 0 }, 1, EIGHTH)).toEqual({ bar: 0, tick: ticksOf("1/16") });
  });
});

describe("edits of the whole passage and its bars", () => {
  const written = () => {
    const passage = blank(2);
    for (const [tick, fret] of [
      [0, 3],
      [4 * EIGHTH, 5],
      [6 * EIGHTH, 7],
    ] as const)
      applyEdit(passage, { kind: "set-fret", place: { bar: 0, tick }, string: 6, fret, length: 2 * EIGHTH });
    return passage;
  };

  it("a shorter meter keeps what begins in it, to its end, and drops the rest", () => {
    const passage = written();
    applyEdit(passage, { kind: "set-meter", bar: 0, meter: [5, 8] });
    expect(passage.bars[0]).toMatchObject({ meter: [5, 8] });
    expect(passage.bars[0]!.strokes.map((s) => [s.at, s.length])).toEqual([
      ["0", "1/4"],
      ["1/2", "1/8"],
    ]);
    expect(parsePassage(JSON.parse(JSON.stringify(passage))).ok).toBe(true);
  });
  it("a bar's tempo is set, taken back, and refused out of range", () => {
    const passage = written();
    expect(applyEdit(passage, { kind: "set-bar-tempo", bar: 1, tempo: 66 })).toBe(true);
    expect(passage.bars[1]!.tempo).toBe(66);
    expect(applyEdit(passage, { kind: "set-bar-tempo", bar: 1, tempo: 500 })).toBe(false);
    expect(applyEdit(passage, { kind: "set-bar-tempo", bar: 9, tempo: 66 })).toBe(false);
    applyEdit(passage, { kind: "set-bar-tempo", bar: 1, tempo: null });
    expect(passage.bars[1]).not.toHaveProperty("tempo");
  });
  it("the first bar becomes a pick-up and is one no more", () => {
    const passage = written();
    applyEdit(passage, { kind: "set-pickup", pickup: true });
    expect(passage.bars[0]!.pickup).toBe(true);
    applyEdit(passage, { kind: "set-pickup", pickup: false });
    expect(passage.bars[0]).not.toHaveProperty("pickup");
  });
  it("a pin is put in and, put in again, taken out; others stay", () => {
    const passage = written();
    const pin = (string: number) => ({
      want: "ban" as const,
      string,
      from: { bar: 1, at: "0" },
      to: { bar: 1, at: "1/4" },
      contact: { hand: "fretting" as const, part: "underside" as const, finger: 1 as const },
    });
    applyEdit(passage, { kind: "toggle-pin", pin: pin(1) });
    applyEdit(passage, { kind: "toggle-pin", pin: pin(2) });
    applyEdit(passage, { kind: "toggle-pin", pin: pin(1) });
    expect(passage.pins).toEqual([pin(2)]);
    applyEdit(passage, { kind: "toggle-pin", pin: pin(2) });
    expect(passage).not.toHaveProperty("pins");
  });
  it("a contact that hurts is banned everywhere, where it was demanded too; others stay", () => {
    const passage = written();
    const contact = { hand: "fretting" as const, part: "thumb" as const };
    const over = { from: { bar: 1, at: "0" }, to: { bar: 1, at: "1/4" } };
    const other = { want: "demand" as const, string: 6, ...over, contact: { hand: "picking" as const, part: "palm" as const } };
    applyEdit(passage, { kind: "toggle-pin", pin: { want: "demand", string: 6, ...over, contact } });
    applyEdit(passage, { kind: "toggle-pin", pin: other });
    applyEdit(passage, { kind: "ban-contact", contact });
    expect(parsePassage(JSON.parse(JSON.stringify(passage))).ok).toBe(true);
    expect(passage.pins!.filter(({ want }) => want === "demand")).toEqual([other]);
    expect(passage.pins!.flatMap((pin) => (pin.want === "ban" ? [pin.string] : []))).toEqual(passage.instrument.tuning.map((_, s) => s + 1));
    for (const { strings } of planPassage(passage).steps)
      for (const { touchedBy } of strings) expect(touchedBy.some(({ hand, part }) => hand === "fretting" && part === "thumb")).toBe(false);
  });
  it("instrument and the like are set together, or not at all when the music would not fit", () => {
    const passage = written();
    expect(applyEdit(passage, { kind: "set-head", head: { gain: "high", tags: ["deck"], goalTempo: 120 } })).toBe(true);
    expect(passage).toMatchObject({ gain: "high", tags: ["deck"], goalTempo: 120 });
    const before = structuredClone(passage);
    expect(applyEdit(passage, { kind: "set-head", head: { gain: "clean", instrument: presetFor(4) } })).toBe(false);
    expect(passage).toEqual(before);
  });
  it("a new note takes tone and finger with it; an open string takes no finger", () => {
    const passage = blank();
    const at = (tick: number) => ({ bar: 0, tick });
    applyEdit(passage, { kind: "set-fret", place: at(0), string: 6, fret: 5, length: EIGHTH, tone: "palm", finger: 2 });
    applyEdit(passage, { kind: "set-fret", place: at(EIGHTH), string: 6, fret: 0, length: EIGHTH, tone: "palm", finger: 2 });
    expect(strokeAt(passage, at(0))!.notes).toEqual([{ string: 6, fret: 5, finger: 2, tone: "palm" }]);
    expect(strokeAt(passage, at(EIGHTH))!.notes).toEqual([{ string: 6, fret: 0, tone: "palm" }]);
  });
  it("a patch made for another version does nothing", () => {
    const passage = written();
    const before = structuredClone(passage);
    const patch = [
      { op: "test" as const, path: "/tempo", value: 17 },
      { op: "replace" as const, path: "/tempo", value: 60 },
    ];
    expect(applyEdit(passage, { kind: "apply-patch", patch })).toBe(false);
    expect(passage).toEqual(before);
    expect(applyEdit(passage, { kind: "apply-patch", patch: [{ op: "test", path: "/tempo", value: 100 }, patch[1]!] })).toBe(true);
    expect(passage.tempo).toBe(60);
  });
});
