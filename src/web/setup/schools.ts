import { planPassage } from "../../core/engine.ts";
import { parsePassage } from "../../core/passage/parse.ts";
import { INSTRUMENT_PRESETS } from "../../core/passage/presets.ts";
import type { Passage, PassageInput, Player } from "../../core/passage/schema.ts";
import { settingsOf } from "../../core/passage/settings.ts";
import { strokeDirections } from "../../core/timeline/strokes.ts";

/** A question about how someone plays, with the schools that answer it. */
export interface School {
  key: Exclude<keyof Player, "reachMm" | "moveMs">;
  asks: string;
  options: readonly { value: string; says: string }[];
  /** Asked of some players only. */
  forHands?: readonly NonNullable<Player["playsWith"]>[];
  example: Example;
}

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

const highNote = music([
  { at: "0", length: "1/4", notes: [{ string: 2, fret: 7 }] },
  { at: "1/4", length: "1/4", notes: [{ string: 2, fret: 7 }] },
]);
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
const MUTED = CHORD.map((note) => ({ ...note, tone: "palm" as const }));
const mutedStrum = music([
  { at: "0", length: "1/8", notes: MUTED },
  { at: "1/8", length: "1/8", notes: MUTED },
  { at: "1/4", length: "1/8", notes: MUTED },
]);
const lowNote = music([
  { at: "0", length: "1/4", notes: [{ string: 4, fret: 5 }] },
  { at: "1/4", length: "1/4", notes: [{ string: 4, fret: 5 }] },
]);
const eighths = music(Array.from({ length: 8 }, (_, i) => ({ at: `${i}/8`, length: "1/8", notes: [{ string: i < 4 ? 5 : 4, fret: 3 }] })));
const leaving = music([
  { at: "0", length: "1/4", notes: [{ string: 3, fret: 7, finger: 3, tone: "palm" }] },
  { at: "1/4", length: "1/4", notes: [{ string: 5, fret: 5, finger: 1 }] },
]);
const bassNote = music(
  [
    { at: "0", length: "1/4", notes: [{ string: 1, fret: 5 }] },
    { at: "1/4", length: "1/4", notes: [{ string: 1, fret: 5 }] },
  ],
  bass,
);

export const SCHOOLS: readonly School[] = [
  {
    key: "playsWith",
    asks: "What strikes the strings?",
    options: [
      { value: "pick", says: "a pick" },
      { value: "fingers", says: "fingers" },
      { value: "thumb", says: "thumb and nails" },
      { value: "slap", says: "slap and pop" },
    ],
    example: { music: "a note on string 2", passage: highNote, step: 1, shows: "hands" },
  },
  {
    key: "index",
    asks: "How does the index lie?",
    options: [
      { value: "laid", says: "flat over the treble strings" },
      { value: "arched", says: "arched; spare fingers lie there" },
    ],
    example: { music: "a note on string 4", passage: lowNote, step: 1, shows: "hands" },
  },
  {
    key: "neighbour",
    asks: "Who has the string beside a single note, on the bass side?",
    options: [
      { value: "fingertip", says: "the fingertip; the palm stays one string away" },
      { value: "palm", says: "the palm, right up to the note" },
    ],
    forHands: ["pick"],
    example: { music: "a note on string 2", passage: highNote, step: 1, shows: "hands" },
  },
  {
    key: "pickHand",
    asks: "Where does the picking hand rest?",
    options: [
      { value: "palm", says: "palm at the bridge" },
      { value: "thumb", says: "thumb on the bass-side strings" },
    ],
    forHands: ["pick"],
    example: { music: "a note on string 2", passage: highNote, step: 1, shows: "hands" },
  },
  {
    key: "chuck",
    asks: "How do you make a chuck?",
    options: [
      { value: "flat-hand", says: "the flat hand, through all strings" },
      { value: "edge", says: "the edge of the hand, through the first three or four" },
      { value: "release", says: "by letting the chord go" },
    ],
    example: { music: "a chord, a chuck, a chord", passage: chuck, step: 1, shows: "hands" },
  },
  {
    key: "strumPalmMute",
    asks: "Palm-muted strums:",
    options: [
      { value: "anchored", says: "the palm stays down, both ways" },
      { value: "percussive", says: "it lands with the down-stroke only" },
    ],
    forHands: ["pick"],
    example: { music: "the up-stroke of a muted strum", passage: mutedStrum, step: 1, shows: "hands" },
  },
  {
    key: "strokes",
    asks: "Which way do strokes go, where nothing is written?",
    options: [
      { value: "pendulum", says: "as the hand swings: down on the numbers, up on the “&”" },
      { value: "down", says: "all down" },
      { value: "economy", says: "on in the same way over a change of string" },
      { value: "free", says: "down, and up where it says so" },
    ],
    forHands: ["pick", "thumb"],
    example: { music: "eighths, four on string 5, four on string 4", passage: eighths, step: 0, shows: "strokes" },
  },
  {
    key: "thumbOver",
    asks: "Does the thumb come over the edge?",
    options: [
      { value: "no", says: "no, it stays behind the neck" },
      { value: "yes", says: "yes, onto the lowest string" },
    ],
    example: { music: "a note on string 4", passage: lowNote, step: 1, shows: "hands" },
  },
  {
    key: "bassThumb",
    asks: "On bass, the plucking thumb",
    options: [
      { value: "floating", says: "floats from string to string" },
      { value: "anchored", says: "stays on the lowest string; a finger parks between" },
    ],
    forHands: ["fingers"],
    example: { music: "a note on string 1 of a bass", passage: bassNote, step: 1, shows: "hands" },
  },
  {
    key: "pullOff",
    asks: "A finger that leaves a string:",
    options: [
      { value: "flick", says: "flicks across it (clear)" },
      { value: "between", says: "something between" },
      { value: "lift", says: "lifts off (soft)" },
    ],
    example: { music: "a muted note on string 3, left at fret 7", passage: leaving, step: 1, shows: "loudness" },
  },
  {
    key: "fretWrap",
    asks: "A fret wrap near the nut?",
    options: [
      { value: "never", says: "never" },
      { value: "on", says: "on, for tapping and recording (no open strings then)" },
    ],
    example: { music: "a note on string 2", passage: highNote, step: 1, shows: "hands" },
  },
];

/** What the hands do in a school's example when one plays like that, in the plan's own words. */
export function exampleWords(school: School, player: Player): string[] {
  const { example } = school;
  const needsFingers = school.key === "bassThumb" ? { playsWith: "fingers" as const } : {};
  const parsed = parsePassage({ format: "rest-hand-passage", version: 1, title: "example", ...example.passage, player: { ...player, ...needsFingers } });
  if (!parsed.ok) return [parsed.faults[0]!.says];
  const passage: Passage = parsed.value;
  if (example.shows === "strokes") return [strokeDirections(passage.bars[0]!, settingsOf(passage), 6).join(" ")];
  const plan = planPassage(passage, { why: "nothing" });
  const step = plan.steps[example.step]!;
  if (example.shows === "loudness") {
    const level = step.strings[2]!.undampedDb;
    return [level === null ? "Nothing is heard of it." : `Left alone it would be heard ${level} dB over the threshold.`];
  }
  return (["fretting", "picking"] as const).flatMap((hand) => {
    const parts = plan.steps[example.step]!.strings.flatMap((string) =>
      string.touchedBy.filter((t) => t.hand === hand || (hand === "fretting" && t.hand === "aid")).map((t) => ({ part: t.part, string: string.string })),
    );
    const byPart = new Map<string, number[]>();
    for (const { part, string } of parts) byPart.set(part, [...(byPart.get(part) ?? []), string]);
    const words = [...byPart].map(([part, strings]) => `${PART_WORDS[part] ?? part.replace("-", " ")} on ${strings.join(", ")}`);
    return [`${hand === "fretting" ? "Fretting" : "Picking"} hand: ${words.length > 0 ? words.join("; ") : "nothing"}.`];
  });
}

const PART_WORDS: Readonly<Record<string, string>> = {
  press: "pressing",
  ease: "eased",
  tip: "fingertip",
  spare: "spare finger",
  lay: "laid across",
  heel: "flat hand",
};
