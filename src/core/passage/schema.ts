import { z } from "zod";
import { PICKING_FINGERS } from "../hands/fingers.ts";
import { MOVES } from "../hands/gestures.ts";
import { type Hand, partsOf } from "../hands/parts.ts";
import { SCHOOL_KEYS, type SchoolKey, type SchoolValue, schoolOf } from "../hands/schools.ts";
import { barLength } from "../music/beats.ts";
import { INSTRUMENT_KINDS } from "../music/instruments.ts";
import { parsePitch } from "../music/pitch.ts";
import { TEMPO } from "../music/tempo.ts";
import { parseTicks } from "../music/ticks.ts";
import { isPlayed } from "./clicks.ts";
import { beyond, LIMITS } from "./limits.ts";
import { parsePattern } from "./pattern.ts";
import { textSchema } from "./text.ts";

/** The passage document, `.resthand.json`. Unknown keys are refused; see docs/formats.md. */

export const PASSAGE_FORMAT = "rest-hand-passage";
export const PASSAGE_VERSION = 2;

const fraction = z.string().superRefine((text, ctx) => {
  const result = parseTicks(text);
  if (!result.ok) ctx.addIssue({ code: "custom", message: result.says });
});
const pitch = z.string().refine((text) => parsePitch(text) !== null, 'not a pitch name such as "E2" or "F#3"');
const id = textSchema(64, 1).refine((text) => text !== "__proto__", "nothing can be called so");
const stringNumber = z.int().min(1).max(8);
const milliseconds = z.number().min(1).max(2000);
const tempo = z.number().min(TEMPO.lowest).max(TEMPO.highest);
/** What a place in the passage is called in pins: bar number from 1 and place in that bar. */
const place = z.strictObject({ bar: z.int().min(1), at: fraction });

export const STROKE_KINDS = ["down", "up", "p", "i", "m", "a", "c", "slap", "pop", "none"] as const;

export const instrumentSchema = z.strictObject({
  kind: z.enum(INSTRUMENT_KINDS),
  tuning: z.array(pitch).min(4, "an instrument has 4 to 8 strings").max(8, "an instrument has 4 to 8 strings"),
  frets: z.int().min(4).max(36),
  capo: z.int().min(0).max(12).default(0),
  scaleLengthMm: z.number().min(300).max(1200),
});

type SchoolFields = { [K in SchoolKey]: z.ZodOptional<z.ZodEnum<{ [V in SchoolValue<K>]: V }>> };
const schoolFields = Object.fromEntries(
  SCHOOL_KEYS.map((key) => [key, z.enum(schoolOf(key).options.map((option) => option.value)).optional()]),
) as unknown as SchoolFields;

export const playerSchema = z.strictObject({
  ...schoolFields,
  reachMm: z.number().min(60).max(180).optional(),
  moveMs: z.partialRecord(z.enum(MOVES), milliseconds).optional(),
});

const gain = z.enum(["clean", "edge", "high"]);

const semitones = z.number().min(0).max(4);
/** How far a string is bent, in semitones above its fret: by a number, held to the note's end; or in full, see `bendOf`. */
export const bendSchema = z.union([
  semitones,
  z.strictObject({
    by: semitones,
    then: z.enum(["release", "hold"]).optional(),
    /** Already bent when it is struck. */
    from: semitones.optional(),
    towards: z.enum(["bass", "treble"]).optional(),
  }),
]);

export const noteSchema = z.strictObject({
  id: id.optional(),
  string: stringNumber,
  fret: z.int().min(0).max(48),
  finger: z.union([z.literal([0, 1, 2, 3, 4]), z.literal("T")]).optional(),
  length: fraction.optional(),
  tone: z.enum(["open", "palm", "ghost"]).optional(),
  /** How firmly the palm lies on a palm-muted note; else medium, and light under an accent. */
  mute: z.enum(["light", "medium", "choked"]).optional(),
  from: z.enum(["stroke", "hammer", "pull", "slide", "tap"]).optional(),
  by: z.enum(PICKING_FINGERS).optional(),
  bend: bendSchema.optional(),
  vibrato: z.boolean().optional(),
  harmonic: z.boolean().optional(),
  letRing: z.boolean().optional(),
});

export const strokeSchema = z.strictObject({
  id: id.optional(),
  at: fraction,
  length: fraction.refine((text) => text !== "0", "a stroke needs a length above 0"),
  stroke: z.enum(STROKE_KINDS).optional(),
  strings: z.array(stringNumber).min(1).max(8).optional(),
  as: z.enum(["play", "chuck", "ghost", "click", "rake"]).optional(),
  /** Strings that nails or fingers come down on together with the stroke. */
  click: z.array(stringNumber).min(1).max(8).optional(),
  accent: z.boolean().optional(),
  chord: textSchema(40).optional(),
  notes: z.array(noteSchema).max(8).default([]),
});

/** What the fretting hand keeps from a place on until the next grip, whatever is struck; without notes it lets go. */
export const gripSchema = z.strictObject({
  at: fraction,
  chord: textSchema(40).optional(),
  notes: z.array(noteSchema.pick({ string: true, fret: true, finger: true })).max(8),
});

export const barSchema = z.strictObject({
  id: id.optional(),
  meter: z.tuple([z.int().min(1).max(32), z.literal([1, 2, 4, 8, 16, 32])]),
  tempo: tempo.optional(),
  pickup: z.boolean().optional(),
  strokes: z.array(strokeSchema).max(512).default([]),
  grips: z.array(gripSchema).max(64).optional(),
});

const contactOf = <H extends Hand, P extends string>(hand: H, parts: readonly [P, ...P[]]) =>
  z.strictObject({
    hand: z.literal(hand),
    part: z.enum(parts),
    finger: z.union([z.literal([1, 2, 3, 4]), z.enum(["T", ...PICKING_FINGERS])]).optional(),
  });
export const contactSchema = z.discriminatedUnion("hand", [
  contactOf("fretting", partsOf("fretting")),
  contactOf("picking", partsOf("picking")),
  contactOf("aid", partsOf("aid")),
]);

export const pinSchema = z.strictObject({
  want: z.enum(["demand", "ban"]),
  string: stringNumber,
  from: place,
  to: place,
  contact: contactSchema,
});

const barRange = z.strictObject({ from: z.int().min(1), to: z.int().min(1) }).refine(({ from, to }) => from <= to, "the first bar comes after the last");
/** What every rule of a treatment can say: switched off for now, and where it holds; else everywhere. */
const ruleBase = { off: z.boolean().optional(), bars: barRange.optional() };
const pattern = z
  .string()
  .max(400)
  .superRefine((text, ctx) => {
    const read = parsePattern(text);
    if (!read.ok) ctx.addIssue({ code: "custom", message: `${read.says} (character ${read.at + 1})` });
  });

/** One rule for strokes and articulations; see docs/formats.md. */
export const ruleSchema = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("plain"), ...ruleBase }),
  z.strictObject({ kind: z.literal("pattern"), pattern, ...ruleBase }),
  z.strictObject({
    kind: z.literal("strokes"),
    school: z.enum(["pendulum", "down", "economy", "free"]),
    /** For `free`: the order that repeats, such as "dduu". */
    order: z
      .string()
      .regex(/^[du]{1,16}$/, "write d and u, such as dduu")
      .optional(),
    /** Where the order begins anew: at each bar, after each rest, or never. */
    restart: z.enum(["bar", "motif", "never"]).optional(),
    ...ruleBase,
  }),
  z.strictObject({ kind: z.literal("backbeat"), as: z.enum(["chuck", "click"]), ...ruleBase }),
  z.strictObject({ kind: z.literal("ghosts"), unit: z.enum(["eighth", "triplet", "sixteenth"]), ...ruleBase }),
  z.strictObject({
    kind: z.literal("muted-roots"),
    /** The notes on these strings, else those below a pitch, else the lowest of each stroke. */
    strings: z.array(stringNumber).min(1).max(8).optional(),
    below: pitch.optional(),
    /** Every note that is struck from one place up to and with another, such as what was selected. */
    within: z.strictObject({ from: place, to: place }).optional(),
    ...ruleBase,
  }),
  z.strictObject({ kind: z.literal("palm-but-accents"), ...ruleBase }),
  z.strictObject({ kind: z.literal("shuffle-ups"), ...ruleBase }),
  z.strictObject({
    kind: z.literal("boom-brush"),
    /** The strings brushed, by chord name; else those above the bass note. */
    brush: z.record(textSchema(40), z.array(stringNumber).min(1).max(8)).optional(),
    /** The bass rings on under the brush, over a grip that stays down. */
    overlap: z.boolean().optional(),
    ...ruleBase,
  }),
  z.strictObject({
    kind: z.literal("thumb-swing"),
    /** The written notes stay; the nail comes down beside them on the backbeat. */
    keep: z.boolean().optional(),
    ...ruleBase,
  }),
  z.strictObject({ kind: z.literal("rest-after-bass"), ...ruleBase }),
  z.strictObject({ kind: z.literal("pressed-accents"), ...ruleBase }),
  z.strictObject({ kind: z.literal("rake"), into: z.enum(["accents", "bars"]), ...ruleBase }),
  z.strictObject({ kind: z.literal("through-all"), ...ruleBase }),
  z.strictObject({ kind: z.literal("one-hand-damps"), hand: z.enum(["fretting", "picking"]), ...ruleBase }),
]);

/** What one stroke or note is in a treatment, whatever the rules say; null takes away what is written. */
export const strokeOverride = z.strictObject({
  stroke: z.enum(STROKE_KINDS).nullable().optional(),
  strings: strokeSchema.shape.strings.unwrap().nullable().optional(),
  as: strokeSchema.shape.as,
  accent: z.boolean().optional(),
  length: strokeSchema.shape.length.optional(),
});
export const noteOverride = z.strictObject({
  tone: noteSchema.shape.tone,
  mute: noteSchema.shape.mute.unwrap().nullable().optional(),
  length: fraction.nullable().optional(),
  letRing: z.boolean().optional(),
});

/** What a treatment is played with, and where on the neck, instead of what is written; what is left out is as written. */
const conditionsSchema = z.strictObject({
  voicing: z.enum(["open", "closed"]).optional(),
  /** The same pitches, with the index about this fret. */
  near: z.int().min(1).max(24).optional(),
  instrument: instrumentSchema.optional(),
  player: playerSchema.optional(),
  gain: gain.optional(),
});

const treatmentSchema = z.strictObject({
  id,
  name: textSchema(80, 1),
  conditions: conditionsSchema.optional(),
  rules: z.array(ruleSchema).max(40).default([]),
  overrides: z
    .record(id, z.union([strokeOverride, noteOverride]))
    .superRefine((all, ctx) => {
      const says = beyond("overrides", Object.keys(all).length);
      if (says !== null) ctx.addIssue({ code: "custom", message: says });
    })
    .default({}),
});

export const passageSchema = z
  .strictObject({
    format: z.literal(PASSAGE_FORMAT),
    version: z.literal(PASSAGE_VERSION),
    title: textSchema(200, 1),
    tags: z.array(textSchema(40, 1)).max(40).default([]),
    goalTempo: tempo.optional(),
    notes: textSchema(20000).default(""),
    instrument: instrumentSchema,
    player: playerSchema.default({}),
    gain: gain.optional(),
    ring: z.enum(["written", "bloom"]).default("written"),
    tempo,
    feel: z.union([z.literal("straight"), z.strictObject({ swing: z.enum(["eighth", "sixteenth"]), ratio: z.number().min(1).max(4) })]).default("straight"),
    bars: z.array(barSchema).min(1, "a passage needs at least one bar").max(LIMITS.bars.most),
    pins: z.array(pinSchema).max(1000).optional(),
    treatments: z.array(treatmentSchema).max(16).optional(),
  })
  .superRefine(checkPlaces);

/** What no single field can know: strings that exist, frets on the neck, strokes inside their bar. */
function checkPlaces(passage: z.infer<z.ZodObject<RawShape>>, ctx: z.RefinementCtx): void {
  const strings = passage.instrument.tuning.length;
  const fault = (path: (string | number)[], message: string) => ctx.addIssue({ code: "custom", path, message });
  const checkPlace = ({ string, fret, finger }: Pick<z.infer<typeof noteSchema>, "string" | "fret" | "finger">, path: (string | number)[]) => {
    if (finger === 0 && fret > 0) fault([...path, "finger"], "finger 0 is the open string: a fretted note has a finger 1 to 4 or T, or none named");
    if (string > strings) fault([...path, "string"], `string ${string} on an instrument of ${strings}`);
  };
  passage.bars.forEach((bar, b) => {
    if (bar.pickup && b > 0) fault(["bars", b, "pickup"], "only the first bar can be a pick-up");
    const seen = new Set<number>();
    bar.strokes.forEach((stroke, s) => {
      const path = ["bars", b, "strokes", s];
      const at = parseTicks(stroke.at);
      if (!at.ok) return;
      if (at.ticks >= barLength(bar.meter)) fault([...path, "at"], `the bar of ${bar.meter.join("/")} ends before ${stroke.at}`);
      if (seen.has(at.ticks)) fault([...path, "at"], `a second stroke at ${stroke.at}: join their notes in one`);
      seen.add(at.ticks);
      if (stroke.notes.length === 0 && !stroke.strings) fault(path, "a stroke needs notes or strings");
      stroke.strings?.forEach((string, i) => {
        if (string > strings) fault([...path, "strings", i], `string ${string} on an instrument of ${strings}`);
      });
      stroke.notes.forEach((note, n) => {
        checkPlace(note, [...path, "notes", n]);
        if (note.mute && note.tone !== "palm") fault([...path, "notes", n, "mute"], "only a palm-muted note is muted lightly or firmly: give it the tone palm");
      });
      const isDead = stroke.as !== undefined && stroke.as !== "play";
      if (stroke.click && isDead) fault([...path, "click"], `a ${stroke.as} has its own strings: click goes with a stroke that sounds`);
      stroke.click?.forEach((string, i) => {
        if (string > strings) fault([...path, "click", i], `string ${string} on an instrument of ${strings}`);
        if (isPlayed(stroke, string)) fault([...path, "click", i], `string ${string} is played here and cannot be clicked`);
      });
    });
    const gripped = new Set<number>();
    bar.grips?.forEach((grip, g) => {
      const path = ["bars", b, "grips", g];
      const at = parseTicks(grip.at);
      if (!at.ok) return;
      if (at.ticks >= barLength(bar.meter)) fault([...path, "at"], `the bar of ${bar.meter.join("/")} ends before ${grip.at}`);
      if (gripped.has(at.ticks)) fault([...path, "at"], `a second grip at ${grip.at}`);
      gripped.add(at.ticks);
      grip.notes.forEach((place, n) => {
        checkPlace(place, [...path, "notes", n]);
        if (grip.notes.findIndex(({ string }) => string === place.string) < n)
          fault([...path, "notes", n, "string"], `string ${place.string} twice in one grip`);
      });
    });
  });
  passage.pins?.forEach((pin, p) => {
    if (pin.string > strings) fault(["pins", p, "string"], `string ${pin.string} on an instrument of ${strings}`);
  });
}

/** The fields `checkPlaces` reads, named so that the schema can refer to itself. */
type RawShape = {
  instrument: typeof instrumentSchema;
  bars: z.ZodArray<typeof barSchema>;
  pins: z.ZodOptional<z.ZodArray<typeof pinSchema>>;
};

export type Passage = z.output<typeof passageSchema>;
/** A passage as people write it: defaults may be left out. */
export type PassageInput = z.input<typeof passageSchema>;
export type Instrument = z.output<typeof instrumentSchema>;
export type Player = z.output<typeof playerSchema>;
export type Bar = z.output<typeof barSchema>;
export type WrittenGrip = z.output<typeof gripSchema>;
export type Stroke = z.output<typeof strokeSchema>;
export type Note = z.output<typeof noteSchema>;
export type Treatment = z.output<typeof treatmentSchema>;
export type Conditions = z.output<typeof conditionsSchema>;
export type Rule = z.output<typeof ruleSchema>;
export type Pin = z.output<typeof pinSchema>;
export type Finger = NonNullable<Note["finger"]>;
export type Gain = NonNullable<Passage["gain"]>;
export type StrokeKind = (typeof STROKE_KINDS)[number];
