import fc from "fast-check";
import type { Edit } from "../edit/edit.ts";
import { ticksAt } from "../edit/range.ts";
import type { NoteChange } from "../edit/types.ts";
import { fractionOf, TICKS_PER_WHOLE, type Ticks } from "../music/ticks.ts";
import type { Finger, Note, Passage } from "../passage/schema.ts";
import { gripsOn, NAMES, pinsOn, treatments } from "./any-passage.ts";

const oneOf = <T>(...list: readonly T[]): fc.Arbitrary<T> => fc.constantFrom(...list);
const seldom = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { nil: undefined, freq: 1 });

const noteChange = fc
  .record({
    from: seldom(oneOf("stroke", "hammer", "tap", null)),
    bend: seldom(oneOf<NonNullable<Note["bend"]> | null>(1, 2, { by: 2, then: "release" as const }, { by: 1, from: 2, towards: "treble" as const }, null)),
    mute: seldom(oneOf("light", "choked", null)),
    vibrato: seldom(oneOf(true, null)),
    harmonic: seldom(oneOf(true, null)),
  })
  .map((change) => JSON.parse(JSON.stringify(change)) as NoteChange);

/** Every kind of edit, at places that a passage has and at some that it has not. */
export function anyEdit(passage: Passage): fc.Arbitrary<Edit> {
  const strings = passage.instrument.tuning.length;
  const bar = fc.integer({ min: 0, max: passage.bars.length });
  const length = oneOf(16, 8, 4, 12).map((n): Ticks => TICKS_PER_WHOLE / n);
  const taken = passage.bars.flatMap(({ strokes }, b) => strokes.map((stroke) => ({ bar: b, tick: ticks(stroke.at) })));
  const gripped = passage.bars.flatMap(({ grips = [] }, b) => grips.map((grip) => ticksAt(passage, { bar: b, tick: ticks(grip.at) })));
  const anywhere = fc.record({ bar, tick: fc.integer({ min: 0, max: 16 }).map((k) => (k * TICKS_PER_WHOLE) / 16) });
  const place = taken.length > 0 ? fc.oneof(anywhere, oneOf(...taken), oneOf(...taken)) : anywhere;
  const string = fc.integer({ min: 1, max: strings });
  const fret = fc.integer({ min: 0, max: 15 });
  const tick = fc.integer({ min: 0, max: 40 }).map((k) => (k * TICKS_PER_WHOLE) / 16);
  const tone = oneOf("open" as const, "palm" as const, "ghost" as const);
  const shape = fc.array(fc.option(fret), { minLength: strings, maxLength: strings });
  const is = <K extends Edit["kind"]>(kind: K) => fc.constant(kind);
  return fc.oneof(
    { weight: 6, arbitrary: fc.record({ kind: is("set-fret"), place, string, fret, length, tone }) },
    fc.record({ kind: is("remove-note"), place, string }),
    fc.record({ kind: is("set-finger"), place, string, finger: fc.option(oneOf<Finger>(0, 1, 2, 3, 4, "T")) }),
    fc.record({ kind: is("set-tone"), place, string, tone }),
    fc.record({ kind: is("set-note"), place, string, change: noteChange }),
    fc.record({ kind: is("set-stroke"), place, stroke: fc.option(oneOf("down" as const, "up" as const, "i" as const, "none" as const)) }),
    fc.record({ kind: is("set-as"), place, as: oneOf("play" as const, "chuck" as const, "ghost" as const, "rake" as const), length }),
    fc.record({ kind: is("set-length"), place, length: tick }),
    fc.record({ kind: is("toggle-accent"), place }),
    fc.record({ kind: is("toggle-click"), place, string }),
    fc.record({ kind: is("move-stroke"), place, to: place }),
    fc.record({ kind: is("move-note"), place, string, to: string }),
    fc.record({ kind: is("set-strings"), place, strings: fc.uniqueArray(string, { maxLength: strings }) }),
    fc.record({ kind: is("toggle-let-ring"), place, string }),
    fc.record({ kind: is("set-tempo"), tempo: fc.integer({ min: 20, max: 400 }) }),
    fc.record({ kind: is("add-bar"), after: bar }),
    fc.record({ kind: is("remove-bar"), bar }),
    fc.record({ kind: is("clear"), from: tick, to: tick }),
    fc.record({ kind: is("move-grip"), from: oneOf(...gripped, 0), to: tick }),
    fc.record({ kind: is("end-grip"), from: oneOf(...gripped, 0), to: tick }),
    fc.record({ kind: is("take-over-grips"), from: tick }),
    fc.record({ kind: is("hold-stroke"), place }),
    fc.record({
      kind: is("move-figure"),
      from: tick,
      to: tick,
      by: fc.oneof(
        fc.record({ frets: fc.integer({ min: -5, max: 5 }) }),
        fc.record({ strings: fc.integer({ min: -2, max: 2 }) }),
        fc.record({ semitones: fc.integer({ min: -12, max: 12 }) }),
        fc.record({ pitchClass: fc.nat({ max: 11 }) }),
      ),
    }) as fc.Arbitrary<Edit>,
    fc.record({ kind: is("repeat-figure"), from: tick, to: tick, over: fc.array(fc.nat({ max: 11 }), { maxLength: 2 }) }),
    fc.record({ kind: is("paint-tone"), from: tick, to: tick, tone }),
    fc.record({ kind: is("set-chord"), from: tick, to: tick, length, name: fc.option(oneOf(...NAMES)), shape }),
    fc
      .record({ kind: is("set-grip"), place, grip: fc.option(gripsOn(strings, [4, 4]).map((grips) => ({ at: "0", notes: [], ...grips[0] }))) })
      .map((edit) => (edit.grip ? { ...edit, grip: { ...edit.grip, at: fractionOf(edit.place.tick) } } : edit)) as fc.Arbitrary<Edit>,
    fc.record({ kind: is("set-meter"), bar, meter: oneOf<[number, 4 | 8]>([4, 4], [3, 4], [7, 8], [1, 4]) }),
    fc.record({ kind: is("set-bar-tempo"), bar, tempo: fc.option(fc.integer({ min: 20, max: 400 })) }),
    fc.record({ kind: is("set-pickup"), pickup: fc.boolean() }),
    fc.record({ kind: is("toggle-pin"), pin: pinsOn(strings, passage.bars.length) }) as fc.Arbitrary<Edit>,
    fc.record({
      kind: is("set-treatment"),
      treatment: treatments(1).map((all) => all[0] ?? { id: "t9", name: "t9", rules: [], overrides: {} }),
    }) as fc.Arbitrary<Edit>,
    fc.record({ kind: is("promote-treatment"), id: oneOf("t1", "t2", "t9") }),
    fc.record({ kind: is("remove-treatment"), id: oneOf("t1", "constructor") }),
    fc.record({ kind: is("set-head"), head: fc.record({ gain: oneOf("clean" as const, "high" as const), ring: oneOf("written" as const, "bloom" as const) }) }),
  );
}

function ticks(at: string): Ticks {
  const [a = 0, b = 1] = at.split("/").map(Number);
  return (a * TICKS_PER_WHOLE) / b;
}
