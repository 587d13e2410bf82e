import type { PlannedStep } from "../../core/document/plan.ts";
import { handPhrases } from "../../core/drawing/label.ts";
import { planPassage } from "../../core/engine.ts";
import { HANDS } from "../../core/hands/parts.ts";
import { defaultSchool, SCHOOL_KEYS, type SchoolKey, schoolOf } from "../../core/hands/schools.ts";
import { INSTRUMENT_KINDS, type InstrumentKind } from "../../core/music/instruments.ts";
import { parsePassage } from "../../core/passage/parse.ts";
import { INSTRUMENT_PRESETS } from "../../core/passage/presets.ts";
import { PASSAGE_VERSION, type Passage, type PassageInput, type Player, playerSchema } from "../../core/passage/schema.ts";
import { settingsOf } from "../../core/passage/settings.ts";
import { strokeDirections } from "../../core/timeline/strokes.ts";
import { heardAs } from "../../core/words/loudness.ts";

/** A small piece of music that shows the difference, and the string or step to look at. */
interface Example {
  music: string;
  passage: Omit<PassageInput, "format" | "version" | "title" | "player">;
  /** Index of the step that shows it. */
  step: number;
  shows: "hands" | "strokes" | "loudness";
}

const guitar = INSTRUMENT_PRESETS[0]!.instrument;
const bass = INSTRUMENT_PRESETS.find((p) => p.name === "Bass, four strings")!.instrument;
type Strokes = NonNullable<PassageInput["bars"][number]["strokes"]>;
const music = (strokes: Strokes, instrument = guitar): Example["passage"] => ({ instrument, gain: "high", tempo: 80, bars: [{ meter: [4, 4], strokes }] });

const twice = (string: number, fret: number, instrument = guitar) =>
  music(
    ["0", "1/4"].map((at) => ({ at, length: "1/4", notes: [{ string, fret }] })),
    instrument,
  );

const CHORD = [
  { string: 5, fret: 3 },
  { string: 4, fret: 5 },
  { string: 3, fret: 5 },
];
const chuck = music([
  { at: "0", length: "1/4", notes: CHORD },
  { at: "1/4", length: "1/8", as: "chuck", strings: [6, 5, 4, 3, 2, 1], notes: CHORD },
  { at: "1/2", length: "1/4", notes: CHORD },
]);
const highNote = twice(2, 7);
const lowNote = twice(4, 5);
const bassNote = twice(1, 5, bass);
const fastStrums = music(
  Array.from({ length: 8 }, (_, i) => ({
    at: `${i}/16`,
    length: "1/16",
    notes: [
      { string: 5, fret: 0 },
      { string: 4, fret: 2 },
      { string: 3, fret: 2 },
    ],
  })),
);
const MUTED = CHORD.map((note) => ({ ...note, tone: "palm" as const }));
const mutedStrum = music([
  { at: "0", length: "1/8", notes: MUTED },
  { at: "1/8", length: "1/8", notes: MUTED },
  { at: "1/4", length: "1/8", notes: MUTED },
]);
const eighths = music(Array.from({ length: 8 }, (_, i) => ({ at: `${i}/8`, length: "1/8", notes: [{ string: i < 4 ? 5 : 4, fret: 3 }] })));
const leaving = music([
  { at: "0", length: "1/4", notes: [{ string: 3, fret: 7, finger: 3, tone: "palm" }] },
  { at: "1/4", length: "1/4", notes: [{ string: 5, fret: 5, finger: 1 }] },
]);

/** What shows each school of the catalogue. */
export const EXAMPLES: Readonly<Record<SchoolKey, Example>> = {
  playsWith: { music: "a note on string 2", passage: highNote, step: 1, shows: "hands" },
  damps: { music: "a note on string 2", passage: highNote, step: 1, shows: "hands" },
  index: { music: "a note on string 4", passage: lowNote, step: 1, shows: "hands" },
  neighbour: { music: "a note on string 2", passage: highNote, step: 1, shows: "hands" },
  pickHand: { music: "a note on string 2", passage: highNote, step: 1, shows: "hands" },
  chuck: { music: "a chord, a chuck, a chord", passage: chuck, step: 1, shows: "hands" },
  strumPalmMute: { music: "the up-stroke of a muted strum", passage: mutedStrum, step: 1, shows: "hands" },
  strokes: { music: "eighths, four on string 5, four on string 4", passage: eighths, step: 0, shows: "strokes" },
  thumbOver: { music: "fast strums over an open string 5", passage: fastStrums, step: 1, shows: "hands" },
  bassThumb: { music: "a note on string 1 of a bass", passage: bassNote, step: 1, shows: "hands" },
  pullOff: { music: "a muted note on string 3, left at fret 7", passage: leaving, step: 1, shows: "loudness" },
  fretWrap: { music: "a note on string 2", passage: highNote, step: 1, shows: "hands" },
};

/** The answer that stands for "as is usual on the instrument". */
export const AS_USUAL = "";

/** A question of the catalogue as it is asked of a player: what can be answered, and what is taken as long as nothing is. */
export interface Question {
  school: SchoolKey;
  options: readonly { value: string; says: string }[];
  value: string;
}

/**
 * What a player is asked. Who has not said what strikes the strings plays as is usual on each instrument, with a pick here and
 * with fingers there, and is asked all that then matters; see `schoolsOf`, by which the engine answers for the player.
 */
export function questionsFor(player: Player): Question[] {
  const { default: usual } = schoolOf("playsWith");
  const hands: readonly string[] = player.playsWith ? [player.playsWith] : Object.values(usual!);
  return SCHOOL_KEYS.flatMap((school): Question[] => {
    const { askedOf, default: byInstrument, options } = schoolOf(school);
    if (askedOf && !askedOf.some((hand) => hands.includes(hand))) return [];
    const chosen = player[school];
    if (byInstrument) return [{ school, options: [{ value: AS_USUAL, says: usualWords(byInstrument, options) }, ...options], value: chosen ?? AS_USUAL }];
    return [{ school, options, value: chosen ?? defaultSchool(school, guitar.kind, player.playsWith) }];
  });
}

/** "as is usual: a pick on an electric or a steel-string guitar, fingers on …" */
function usualWords(usual: Readonly<Record<InstrumentKind, string>>, options: Question["options"]): string {
  const by = options.flatMap(({ value, says }) => {
    const kinds = INSTRUMENT_KINDS.filter((kind) => usual[kind] === value).map((kind) => KIND_WORDS[kind]);
    return kinds.length > 0 ? [`${says} on ${kinds.join(" and ")}`] : [];
  });
  return `as is usual: ${by.join(", ")}`;
}

const KIND_WORDS: Readonly<Record<InstrumentKind, string>> = {
  "electric-guitar": "electric",
  "acoustic-guitar": "steel strings",
  "nylon-guitar": "nylon",
  "electric-bass": "bass",
};

/** A player with another answer to one question. */
export function answered(player: Player, school: SchoolKey, value: string): Player {
  const { [school]: _, ...others } = player;
  return playerSchema.parse(value === AS_USUAL ? others : { ...others, [school]: value });
}

/** What a school's example comes to when one plays like that: a step to draw, and what there is to say of it. */
export interface Shown {
  step: PlannedStep | null;
  says: string;
}

export function exampleOf(school: SchoolKey, player: Player): Shown {
  const example = EXAMPLES[school];
  const needsFingers = school === "bassThumb" ? { playsWith: "fingers" as const } : {};
  const parsed = parsePassage({
    format: "rest-hand-passage",
    version: PASSAGE_VERSION,
    title: "example",
    ...example.passage,
    player: { ...player, ...needsFingers },
  });
  if (!parsed.ok) return { step: null, says: parsed.faults[0]!.says };
  const passage: Passage = parsed.value;
  if (example.shows === "strokes") return { step: null, says: strokeDirections(passage.bars[0]!, settingsOf(passage), 6).join(" ") };
  const step = planPassage(passage, { why: "nothing" }).steps[example.step]!;
  if (example.shows === "loudness") return { step: null, says: `left alone it is ${heardAs(step.strings[2]!.undampedDb, settingsOf(passage).gain)}` };
  const said = HANDS.flatMap((hand) => handPhrases(step, hand));
  return { step, says: said.join("; ") || "both hands off the strings" };
}
