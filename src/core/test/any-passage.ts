import fc from "fast-check";
import { MOVES } from "../hands/gestures.ts";
import { KINDS } from "../hands/parts.ts";
import { SCHOOL_KEYS, schoolOf } from "../hands/schools.ts";
import { INSTRUMENT_KINDS } from "../music/instruments.ts";
import { pitchText } from "../music/pitch.ts";
import { fractionOf, TICKS_PER_WHOLE, type Ticks } from "../music/ticks.ts";
import { parsePassage } from "../passage/parse.ts";
import { PASSAGE_FORMAT, PASSAGE_VERSION, type Passage, STROKE_KINDS } from "../passage/schema.ts";

/*
 * Passages with every field that the schema allows, for properties that must hold for all of them. Most of them nobody would
 * play; none of them may break anything. Whatever a field takes in the catalogue of the hands is taken from there.
 */

/** How large a passage may get; the integer programs need small ones. */
export interface Size {
  bars?: number;
  /** Strokes a bar, notes a stroke, pins and treatments. */
  strokes?: number;
  notes?: number;
  extras?: number;
}

type Json = Record<string, unknown>;

const oneOf = <T>(...list: readonly T[]): fc.Arbitrary<T> => fc.constantFrom(...list);
/** A key that is there every other time. */
const maybe = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { nil: undefined });
/** Now and then only: what would drown everything else. */
const seldom = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { nil: undefined, freq: 4 }).chain((x) => oneOf(x, undefined, undefined));

const METERS = [
  [4, 4],
  [4, 4],
  [3, 4],
  [5, 4],
  [6, 8],
  [7, 8],
  [12, 8],
  [2, 2],
  [5, 16],
  [1, 4],
] as const satisfies readonly (readonly [number, number])[];
const UNITS = [8, 8, 16, 16, 12, 24, 20, 28, 32, 96].map((n) => TICKS_PER_WHOLE / n);
const LENGTHS = ["1/32", "1/16", "1/12", "1/8", "1/8", "1/4", "3/8", "1/2", "1", "2"];
/** Names that a careless program takes for something of its own, among ordinary ones. */
export const NAMES = ["Am7", "E5", "constructor", "__proto__", "toString", "hasOwnProperty"];

const instruments = fc
  .record({
    kind: oneOf(...INSTRUMENT_KINDS),
    lowest: fc.integer({ min: 23, max: 45 }),
    steps: fc.array(oneOf(5, 5, 5, 4, 7, 2, 0), { minLength: 3, maxLength: 7 }),
    frets: oneOf(22, 24, 20, 12, 4, 36),
    capo: oneOf(0, 0, 0, 2, 5, 12),
    scaleLengthMm: oneOf(648, 628, 864, 300, 1200),
  })
  .map(({ lowest, steps, ...rest }) => {
    const pitches = [lowest];
    for (const step of steps) pitches.push(pitches.at(-1)! + step);
    return { ...rest, tuning: pitches.reverse().map(pitchText) };
  });

const players = fc
  .record({
    ...Object.fromEntries(SCHOOL_KEYS.map((key) => [key, maybe(oneOf(...schoolOf(key).options.map(({ value }) => value)))])),
    reachMm: seldom(fc.integer({ min: 60, max: 180 })),
    moveMs: seldom(fc.dictionary(oneOf(...MOVES), fc.integer({ min: 1, max: 2000 }), { maxKeys: 4 })),
  })
  .map(present);

const feels = fc.oneof(
  fc.constant("straight"),
  fc.record({ swing: oneOf("eighth", "sixteenth"), ratio: fc.integer({ min: 10, max: 40 }).map((tenths) => tenths / 10) }),
) as fc.Arbitrary<unknown>;

const bend = fc.oneof(
  oneOf(0, 0.5, 1, 2, 4),
  fc
    .record({ by: oneOf(0, 1, 2, 3), then: maybe(oneOf("release", "hold")), from: maybe(oneOf(0, 1, 2)), towards: maybe(oneOf("bass", "treble")) })
    .map(present),
) as fc.Arbitrary<unknown>;

function notesOn(strings: number, most: number): fc.Arbitrary<Json[]> {
  const note = fc
    .record({
      string: fc.integer({ min: 1, max: strings }),
      fret: fc.oneof(
        { arbitrary: fc.constant(0), weight: 1 },
        { arbitrary: fc.integer({ min: 1, max: 9 }), weight: 3 },
        { arbitrary: oneOf(12, 19, 30, 48), weight: 1 },
      ),
      finger: maybe(oneOf<0 | 1 | 2 | 3 | 4 | "T">(1, 2, 3, 4, "T", 0)),
      length: seldom(oneOf(...LENGTHS)),
      tone: maybe(oneOf("open", "palm", "palm", "ghost")),
      from: seldom(oneOf("stroke", "hammer", "pull", "slide", "tap")),
      by: seldom(oneOf("p", "i", "m", "a", "c")),
      bend: seldom(bend),
      mute: seldom(oneOf("light", "medium", "choked")),
      vibrato: seldom(fc.boolean()),
      harmonic: seldom(fc.boolean()),
      letRing: seldom(fc.boolean()),
    })
    .map(({ finger, mute, ...rest }) =>
      present({ ...rest, finger: finger === 0 && rest.fret > 0 ? undefined : finger, mute: rest.tone === "palm" ? mute : undefined }),
    );
  return fc.array(note, { maxLength: most });
}

function strokesOf(strings: number, [count, unit]: readonly [number, number], size: Required<Size>): fc.Arbitrary<Json[]> {
  const length = (count * TICKS_PER_WHOLE) / unit;
  const places: fc.Arbitrary<Ticks> = oneOf(...UNITS).chain((grid) =>
    fc.integer({ min: 0, max: Math.max(0, Math.ceil(length / grid) - 1) }).map((k) => Math.round(k * grid)),
  );
  const stroke = fc
    .record({
      at: places,
      length: oneOf(...LENGTHS),
      stroke: maybe(oneOf(...STROKE_KINDS)),
      strings: maybe(fc.uniqueArray(fc.integer({ min: 1, max: strings }), { minLength: 1, maxLength: strings })),
      as: oneOf(undefined, undefined, undefined, "play", "chuck", "ghost", "click", "rake"),
      click: seldom(fc.uniqueArray(fc.integer({ min: 1, max: strings }), { minLength: 1, maxLength: 3 })),
      accent: maybe(fc.boolean()),
      chord: maybe(oneOf(...NAMES)),
      notes: notesOn(strings, size.notes),
    })
    .map(({ at, click, ...rest }) =>
      present({ at: fractionOf(at), ...rest, ...clickOf(rest, click), ...(rest.notes.length === 0 && !rest.strings ? { strings: [1] } : {}) }),
    );
  return fc.uniqueArray(stroke, { maxLength: size.strokes, selector: (s) => s.at });
}

/** Clicks beside what sounds, where they may stand. */
function clickOf(
  { as, notes, strings }: { as?: string | undefined; notes: Json[]; strings?: number[] | undefined },
  click: number[] | undefined,
): { click?: number[] } {
  const free = click?.filter((string) => !strings?.includes(string) && notes.every((note) => note.string !== string)) ?? [];
  return free.length > 0 && (as ?? "play") === "play" && (notes.length > 0 || strings) ? { click: free } : {};
}

export function gripsOn(strings: number, [count, unit]: readonly [number, number]): fc.Arbitrary<Json[]> {
  const finger = maybe(oneOf<1 | 2 | 3 | 4 | "T">(1, 2, 3, 4, "T"));
  const fretted = fc.record({ string: fc.integer({ min: 1, max: strings }), fret: oneOf(0, 1, 2, 3, 4, 5, 7, 30), finger }).map(present);
  const grip = fc.record({
    at: fc.integer({ min: 0, max: count - 1 }).map((k) => fractionOf((k * TICKS_PER_WHOLE) / unit)),
    chord: maybe(oneOf(...NAMES)),
    notes: fc.uniqueArray(fretted, { maxLength: 4, selector: (place) => place.string }),
  });
  return fc.uniqueArray(grip.map(present), { minLength: 1, maxLength: 2, selector: (one) => one.at });
}

function barsOf(strings: number, size: Required<Size>): fc.Arbitrary<Json[]> {
  const bar = oneOf<readonly [number, number]>(...METERS).chain((meter) =>
    fc
      .record({ tempo: seldom(fc.integer({ min: 20, max: 400 })), grips: seldom(gripsOn(strings, meter)), strokes: strokesOf(strings, meter, size) })
      .map((rest) => present({ meter: [...meter], ...rest })),
  );
  return fc
    .tuple(fc.boolean(), fc.array(bar, { minLength: 1, maxLength: size.bars }))
    .map(([pickup, bars]) => bars.map((one, b) => (b === 0 && pickup ? { ...one, pickup } : one)));
}

const contacts = oneOf(...KINDS).chain((kind) =>
  maybe(oneOf<unknown>(...(kind.hand === "fretting" ? [1, 2, 3, 4, "T"] : ["p", "i", "m", "a", "c"]))).map((finger) => present({ ...kind, finger })),
);

export function pinsOn(strings: number, bars: number): fc.Arbitrary<Json> {
  const place = fc.record({ bar: fc.integer({ min: 1, max: bars + 1 }), at: oneOf("0", "1/8", "1/4", "1/2", "1") });
  return fc.record({ want: oneOf("demand", "ban"), string: fc.integer({ min: 1, max: strings }), from: place, to: place, contact: contacts });
}

const barRanges = seldom(fc.tuple(fc.integer({ min: 1, max: 3 }), fc.integer({ min: 0, max: 2 })).map(([from, more]) => ({ from, to: from + more })));
const brushes = fc.dictionary(oneOf(...NAMES.filter((name) => name !== "__proto__")), fc.uniqueArray(oneOf(1, 2, 3, 4), { minLength: 1 }), {
  maxKeys: 3,
  noNullPrototype: true,
});
const rules = fc
  .oneof(
    fc.record({ kind: fc.constant("muted-roots"), within: maybe(fc.constant({ from: { bar: 1, at: "0" }, to: { bar: 2, at: "1/4" } })) }).map(present),
    fc.record({ kind: oneOf("plain", "muted-roots", "palm-but-accents", "shuffle-ups", "thumb-swing", "rest-after-bass", "pressed-accents") }),
    fc.record({ kind: fc.constant("pattern"), pattern: oneOf("s. ks .s ks", "b t b t", "s", ">S<m kg c.") }),
    fc.record({ kind: fc.constant("strokes"), school: oneOf("pendulum", "down", "economy", "free"), order: maybe(oneOf("dduu", "du")) }),
    fc.record({ kind: fc.constant("backbeat"), as: oneOf("chuck", "click") }),
    fc.record({ kind: fc.constant("ghosts"), unit: oneOf("eighth", "triplet", "sixteenth") }),
    fc.record({ kind: fc.constant("boom-brush"), brush: maybe(brushes) }),
  )
  .chain((rule) => fc.record({ off: seldom(fc.boolean()), bars: barRanges }).map((base) => present({ ...rule, ...base })));

const overrides = fc.dictionary(
  oneOf("s0-0", "s0-1", "s0-0/1", "constructor", "toString"),
  fc.oneof(
    fc.record({ as: maybe(oneOf("play", "chuck")), stroke: maybe(oneOf("down", null)), accent: maybe(fc.boolean()) }).map(present),
    fc.record({ tone: maybe(oneOf("open", "palm")), mute: maybe(oneOf("light", null)), letRing: maybe(fc.boolean()) }).map(present),
  ),
  { maxKeys: 3 },
);

const conditions = fc
  .record({
    voicing: maybe(oneOf("open", "closed")),
    near: maybe(fc.integer({ min: 1, max: 24 })),
    gain: maybe(oneOf("clean", "high")),
    player: maybe(players),
  })
  .map(present);

export const treatments = (most: number) =>
  fc.uniqueArray(
    fc
      .record({
        id: oneOf("t1", "t2", "constructor"),
        name: oneOf(...NAMES),
        conditions: seldom(conditions),
        rules: fc.array(rules, { maxLength: 4 }),
        overrides,
      })
      .map(present),
    { maxLength: most, selector: (t) => t.id },
  );

/** Passages with every field that the schema allows. */
export function anyPassage({ bars = 3, strokes = 7, notes = 4, extras = 2 }: Size = {}): fc.Arbitrary<Passage> {
  const size = { bars, strokes, notes, extras };
  return instruments.chain((instrument) => {
    const strings = instrument.tuning.length;
    return fc
      .record({
        title: oneOf(...NAMES),
        tags: fc.array(oneOf("riff", "__proto__"), { maxLength: 2 }),
        goalTempo: maybe(fc.integer({ min: 20, max: 400 })),
        notes: oneOf("", "slowly"),
        player: players,
        gain: maybe(oneOf("clean", "edge", "high")),
        ring: oneOf("written", "bloom"),
        tempo: fc.oneof(fc.integer({ min: 20, max: 400 }), oneOf(60, 90, 120, 160)),
        feel: feels,
        bars: barsOf(strings, size),
        pins: maybe(fc.array(pinsOn(strings, bars), { maxLength: extras })),
        treatments: maybe(treatments(extras)),
      })
      .map((rest) => valid({ format: PASSAGE_FORMAT, version: PASSAGE_VERSION, instrument, ...present(rest), bars: named(rest.bars) }));
  });
}

/** So many of them, the same for the same seed. */
export function somePassages(seed: number, count: number, size?: Size): Passage[] {
  return fc.sample(anyPassage(size), { seed, numRuns: count });
}

/** Every other stroke has an id, so that overrides find some. */
function named(bars: readonly Json[]): Json[] {
  return bars.map((bar, b) => ({ ...bar, strokes: (bar.strokes as Json[]).map((stroke, s) => (s % 2 === 0 ? { id: `s${b}-${s}`, ...stroke } : stroke)) }));
}

function present<T extends object>(object: T): Json {
  return Object.fromEntries(Object.entries(object).filter(([, value]) => value !== undefined));
}

function valid(raw: Json): Passage {
  const parsed = parsePassage(raw);
  if (!parsed.ok) throw new Error(parsed.faults.map((f) => `${f.place}: ${f.says}`).join("; "));
  return parsed.value;
}
