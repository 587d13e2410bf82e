import type { Ticks } from "../../music/ticks.ts";
import { type GripInput, type Reading, type Sounding, type StrokeInput, ticksFrom } from "./reading.ts";
import { all, child, type Node, numberAt, textAt } from "./tree.ts";

const STEPS: Readonly<Record<string, number>> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };

/** The notes of a measure with their moments, ties joined; `length` is how far the measure goes. */
export function soundingNotes(state: Reading, measure: Node, b: number): { notes: Omit<Sounding, "bar">[]; grips: GripInput[]; length: Ticks } {
  const notes: Omit<Sounding, "bar">[] = [];
  const grips: GripInput[] = [];
  const place = `bar ${b + 1}`;
  let now = 0;
  let before = 0;
  let length = 0;
  let chord: string | undefined;
  for (const element of measure.children) {
    const duration = ticksFrom(state.divisions, numberAt(element, "duration") ?? 0);
    if (element.name === "backup") now = Math.max(0, now - duration);
    else if (element.name === "forward") now += duration;
    else if (element.name === "harmony") {
      const grip = gripOf(state, element, now, place);
      if (grip) grips.push(grip);
      else chord = chordName(element) ?? chord;
    } else if (element.name === "note") {
      if (child(element, "grace")) {
        state.remarks.push({ place, says: "a grace note is left out" });
        continue;
      }
      const isChord = child(element, "chord") !== undefined;
      const at = isChord ? before : now;
      before = at;
      if (!isChord) now += duration;
      const isElsewhere = state.tabStaff !== null && (textAt(element, "staff") ?? state.tabStaff) !== state.tabStaff;
      if (isElsewhere || child(element, "rest") || child(element, "cue")) {
        length = Math.max(length, now);
        continue;
      }
      const made = noteOf(state, element, at, duration, place);
      if (!made) {
        length = Math.max(length, now);
        continue;
      }
      const isTied = all(element, "tie").some((tie) => tie.attributes.type === "stop");
      const tiedTo = isTied ? held(state, notes, b, made) : null;
      if (tiedTo) {
        tiedTo.length += duration;
        if (made.note.letRing) tiedTo.note.letRing = true;
      } else {
        if (chord !== undefined) made.stroke.chord ??= chord.slice(0, 40);
        notes.push(made);
      }
      chord = undefined;
    }
    length = Math.max(length, now);
  }
  return { notes, grips, length };
}

/** The note that a tie goes on from: in this bar, or sounding at the end of the last one. */
function held(
  state: Reading,
  notes: readonly Omit<Sounding, "bar">[],
  b: number,
  { pitch, at, note }: Omit<Sounding, "bar">,
): { length: Ticks; note: Sounding["note"] } | null {
  const same = (other: Omit<Sounding, "bar">) =>
    other.pitch === pitch && (note.string === undefined || other.note.string === undefined || other.note.string === note.string);
  return (
    notes.findLast((other) => same(other) && other.at + other.length === at) ??
    (at === 0 ? (state.sounding.findLast((other) => other.bar === b - 1 && same(other)) ?? null) : null)
  );
}

function noteOf(state: Reading, element: Node, at: Ticks, length: Ticks, place: string): Omit<Sounding, "bar"> | null {
  const notations = all(element, "notations");
  const technical = notations.flatMap((n) => all(n, "technical"));
  const of = (name: string) => technical.map((t) => child(t, name)).find((n) => n !== undefined);
  const pitch = pitchOf(state, element);
  const isCross = textAt(element, "notehead") === "x";
  const string = numberAt(of("string"));
  const fret = numberAt(of("fret"));
  if (pitch === null && fret === undefined && !isCross) {
    state.remarks.push({ place, says: "a note without a pitch is left out" });
    return null;
  }
  const words = new Set(technical.flatMap((t) => all(t, "other-technical").map((w) => w.text)));
  const note: Sounding["note"] = {};
  if (string !== undefined && fret !== undefined) Object.assign(note, { string, fret });
  const finger = numberAt(of("fingering"));
  if (words.has("thumb over")) note.finger = "T";
  else if (finger === 0 && fret !== 0) state.remarks.push({ place, says: "finger 0 on a fretted note is left out: it stands for the open string" });
  else if (finger !== undefined && finger >= 0 && finger <= 4 && Number.isInteger(finger)) note.finger = finger as 1;
  if (textAt(element, "play", "mute") === "palm") {
    note.tone = "palm";
    const mute = MUTES.find((grade) => words.has(`${grade} mute`));
    if (mute) note.mute = mute;
  }
  const arrives = (name: string) => technical.some((t) => all(t, name).some((mark) => mark.attributes.type === "stop"));
  if (arrives("hammer-on")) note.from = "hammer";
  if (arrives("pull-off")) note.from = "pull";
  if (of("tap")) note.from = "tap";
  if (notations.flatMap((n) => all(n, "slide")).some((s) => s.attributes.type === "stop")) note.from = "slide";
  const bend = bendIn(state, technical, words, place);
  if (bend) note.bend = bend;
  if (notations.some((n) => all(n, "ornaments").some((o) => child(o, "wavy-line")))) note.vibrato = true;
  if (of("harmonic")) note.harmonic = true;
  if (notations.flatMap((n) => all(n, "tied")).some((t) => t.attributes.type === "let-ring")) note.letRing = true;
  return { at, length, pitch, note, stroke: strokeOf(notations, of, words, note), isCross, words };
}

const MUTES = ["light", "medium", "choked"] as const;

/** A bend put together from its parts: each says by how much it goes on from the one before. */
function bendIn(state: Reading, technical: readonly Node[], words: ReadonlySet<string>, place: string): Sounding["note"]["bend"] {
  let [from, most, back]: [number, number, number | null] = [0, 0, null];
  for (const part of technical.flatMap((t) => all(t, "bend"))) {
    const by = numberAt(part, "bend-alter");
    const now: number = back ?? most;
    const isBack = child(part, "release") !== undefined;
    const to: number = by === undefined ? -1 : isBack ? Math.max(0, now - Math.abs(by)) : now + by;
    if (to < 0 || to > 4 || (!isBack && (by! <= 0 || back !== null)) || (isBack && most === 0)) {
      state.remarks.push({ place, says: `a bend of ${by ?? "nothing"} is left out` });
      continue;
    }
    if (isBack) back = to;
    else {
      most = to;
      if (child(part, "pre-bend")) from = to;
    }
  }
  if (most === 0) return undefined;
  const towards = (["bass", "treble"] as const).find((side) => words.has(`bent to ${side}`));
  if (from === 0 && back === null && !towards) return most;
  const start = from > 0 ? { from } : {};
  if (back && from === 0) {
    state.remarks.push({ place, says: "a bend that is let back in part is held instead" });
    back = null;
  }
  return { by: back || most, ...(back === 0 ? { then: "release" as const } : {}), ...start, ...(towards ? { towards } : {}) };
}

const DEAD = ["chuck", "ghost", "click", "rake"] as const;

function strokeOf(
  notations: readonly Node[],
  of: (name: string) => Node | undefined,
  words: ReadonlySet<string>,
  note: Sounding["note"],
): Partial<StrokeInput> {
  const stroke: Partial<StrokeInput> = {};
  const pluck = of("pluck")?.text;
  if (of("down-bow")) stroke.stroke = "down";
  else if (of("up-bow")) stroke.stroke = "up";
  else if (words.has("slap")) stroke.stroke = "slap";
  else if (words.has("pop")) stroke.stroke = "pop";
  else if (words.has("no stroke")) stroke.stroke = "none";
  if (pluck && ["p", "i", "m", "a", "c"].includes(pluck)) note.by = pluck as "p";
  const as = DEAD.find((kind) => words.has(kind));
  if (as) stroke.as = as;
  const chord = [...words].find((word) => word.startsWith("chord "));
  if (chord) stroke.chord = chord.slice(6);
  if (notations.some((n) => all(n, "articulations").some((a) => child(a, "accent") || child(a, "strong-accent")))) stroke.accent = true;
  return stroke;
}

function pitchOf(state: Reading, element: Node): number | null {
  const step = STEPS[textAt(element, "pitch", "step") ?? ""];
  const octave = numberAt(element, "pitch", "octave");
  if (step === undefined || octave === undefined) return null;
  return 12 * (octave + 1) + step + Math.round(numberAt(element, "pitch", "alter") ?? 0) + 12 * state.octaves + state.semitones;
}

/** A chord frame is what the hand holds from there on; the chord "none" lets go. Null for a chord without a frame. */
function gripOf(state: Reading, harmony: Node, now: Ticks, place: string): GripInput | null {
  const at = Math.max(0, now + ticksFrom(state.divisions, numberAt(harmony, "offset") ?? 0));
  const frame = child(harmony, "frame");
  if (!frame) return textAt(harmony, "kind") === "none" ? { at, notes: [] } : null;
  // Frets of a frame that begins up the neck are counted from its first one.
  const first = numberAt(frame, "first-fret") ?? 1;
  const notes = all(frame, "frame-note").flatMap((note): GripInput["notes"] => {
    const [string, fret] = [numberAt(note, "string"), numberAt(note, "fret")];
    const written = textAt(note, "fingering");
    const finger = written === "T" ? ("T" as const) : ([1, 2, 3, 4] as const).find((f) => String(f) === written);
    if (string === undefined || fret === undefined || string > state.instrument.tuning.length || fret < 0 || !Number.isInteger(fret)) {
      state.remarks.push({ place, says: "a place of a chord frame is left out" });
      return [];
    }
    return [{ string, fret: fret > 0 ? fret + first - 1 : 0, ...(finger === undefined ? {} : { finger }) }];
  });
  const named = child(harmony, "kind")?.attributes.text;
  const chord = textAt(harmony, "kind") === "other" && named !== undefined ? named : chordName(harmony);
  const single = notes.filter((note, n) => notes.findIndex(({ string }) => string === note.string) === n);
  return { at, ...(chord ? { chord: chord.slice(0, 40) } : {}), notes: single };
}

const ALTERS: Readonly<Record<string, string>> = { "-1": "b", "1": "#" };

function chordName(harmony: Node): string | undefined {
  const root = textAt(harmony, "root", "root-step");
  if (!root) return undefined;
  const kind = child(harmony, "kind");
  const bass = textAt(harmony, "bass", "bass-step");
  const alter = ALTERS[textAt(harmony, "root", "root-alter") ?? ""] ?? "";
  const suffix = kind?.attributes.text ?? KINDS[kind?.text ?? ""] ?? "";
  return `${root}${alter}${suffix}${bass ? `/${bass}${ALTERS[textAt(harmony, "bass", "bass-alter") ?? ""] ?? ""}` : ""}`;
}

const KINDS: Readonly<Record<string, string>> = {
  minor: "m",
  dominant: "7",
  "major-seventh": "maj7",
  "minor-seventh": "m7",
  diminished: "dim",
  augmented: "aug",
  "suspended-fourth": "sus4",
  "suspended-second": "sus2",
  power: "5",
  "half-diminished": "m7b5",
  "diminished-seventh": "dim7",
  "major-sixth": "6",
  "minor-sixth": "m6",
  "dominant-ninth": "9",
};
