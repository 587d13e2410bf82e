import { isTempo, TEMPO } from "../../music/tempo.ts";
import { fractionOf, TICKS_PER_WHOLE } from "../../music/ticks.ts";
import { refusedBeyond } from "../../passage/limits.ts";
import { type Parsed, parsePassage } from "../../passage/parse.ts";
import { INSTRUMENT_PRESETS, presetFor } from "../../passage/presets.ts";
import { type Instrument, instrumentSchema, PASSAGE_VERSION, type PassageInput } from "../../passage/schema.ts";
import type { Imported, OnProgress } from "../imported.ts";
import { Remarks, type RemarkTaker } from "../remarks.ts";
import type { BarInput, Reading } from "./reading.ts";
import { unfolded } from "./repeats.ts";
import { SETTINGS_FIELD } from "./settings-field.ts";
import { soundingNotes } from "./sounding.ts";
import { strokesOf } from "./strokes.ts";
import { all, child, type Node, numberAt, parseXml, textAt } from "./tree.ts";

/** What a reader is asked for. */
export interface MusicXmlOptions {
  /** Which part, counted from 0; the first with notes otherwise. */
  part?: number | undefined;
  onProgress?: OnProgress | undefined;
}

export interface MusicXmlRead extends Imported {
  /** Names of all parts, for choosing one. */
  parts: string[];
}

/** Reads one part of a MusicXML score (score-partwise, 1.0 to 4.0). What was not understood is reported with bar and element. */
export function readMusicXml(text: string, options: MusicXmlOptions = {}): Parsed<MusicXmlRead> {
  const read = parseXml(text);
  if (!read.ok) return read;
  const score = read.value;
  if (score.name !== "score-partwise")
    return fault(
      "/",
      score.name === "score-timewise" ? "the score is ordered by time: save it part by part (score-partwise)" : `<${score.name}> is no MusicXML score`,
    );
  const parts = all(score, "part");
  const names = all(child(score, "part-list"), "score-part").map((part, i) => textAt(part, "part-name") || `part ${i + 1}`);
  if (parts.length === 0) return fault("/score-partwise", "there is no part in it");
  const chosen =
    options.part ??
    Math.max(
      0,
      parts.findIndex((part) => part.children.some((measure) => all(measure, "note").some((note) => child(note, "pitch")))),
    );
  const part = parts[chosen];
  if (!part) return fault("/score-partwise", `there is no part ${chosen + 1}: it has ${parts.length}`);
  const remarks = new Remarks();
  if (parts.length > 1) remarks.push({ place: "score", says: `${parts.length} parts; read: ${names[chosen] ?? `part ${chosen + 1}`}` });
  const measures = unfolded(all(part, "measure"), remarks);
  if (measures.length === 0) return fault(`/part ${chosen + 1}`, "there is no measure in it");
  const tooLong = refusedBeyond("bars", measures.length, `/part ${chosen + 1}`);
  if (tooLong) return tooLong;
  const crowded = refusedBeyond("notesAMoment", mostTogether(measures), `/part ${chosen + 1}`);
  if (crowded) return crowded;
  const kept = settingsOf(score);
  const instrument = instrumentOf(part, kept?.instrument, names[chosen] ?? "", remarks);
  const state: Reading = {
    divisions: 1,
    meter: [4, 4],
    octaves: 0,
    semitones: 0,
    tempo: undefined,
    swing: undefined,
    bars: [],
    remarks,
    instrument,
    sounding: [],
    tabStaff: tabStaffOf(part),
  };
  for (const [b, measure] of measures.entries()) readMeasure(state, measure, b);
  const unfit = strokesOf(state.sounding, state.bars, instrument, remarks, options.onProgress);
  if (unfit) return unfit;
  const title = textAt(score, "work", "work-title") || textAt(score, "movement-title") || "Untitled passage";
  const parsed = parsePassage({
    ...(kept ?? {}),
    format: "rest-hand-passage",
    version: PASSAGE_VERSION,
    title: title.slice(0, 200),
    instrument,
    tempo: state.tempo ?? 100,
    ...(state.swing ? { feel: state.swing } : {}),
    bars: state.bars,
  });
  if (state.tempo === undefined) remarks.push({ place: "score", says: "no tempo in it: taken as 100" });
  if (!parsed.ok) return { ok: false, faults: parsed.faults };
  return { ok: true, value: { passage: parsed.value, remarks: remarks.all(), parts: names.slice(0, MOST_NAMED) } };
}

/** Of two staves that say the same, the one that says where it is played; null where one says all. */
function tabStaffOf(part: Node): string | null {
  const clefs = part.children.flatMap((measure) => all(measure, "attributes")).flatMap((attributes) => all(attributes, "clef"));
  const tab = clefs.find((clef) => clef.attributes.number !== undefined && textAt(clef, "sign") === "TAB")?.attributes.number;
  if (tab === undefined) return null;
  const notes = part.children.flatMap((measure) => all(measure, "note"));
  return notes.some((note) => textAt(note, "staff") === tab && textAt(note, "notations", "technical", "string") !== undefined) ? tab : null;
}

/** Notes that are written as one chord, the most there are. */
function mostTogether(measures: readonly Node[]): number {
  let most = 0;
  for (const measure of measures) {
    let together = 0;
    for (const element of measure.children) {
      if (element.name !== "note") continue;
      together = child(element, "chord") ? together + 1 : 1;
      most = Math.max(most, together);
    }
  }
  return most;
}

/** Nobody chooses among more. */
const MOST_NAMED = 200;

function fault(place: string, says: string): Parsed<never> {
  return { ok: false, faults: [{ place, says }] };
}

const UNITS = [1, 2, 4, 8, 16, 32];

function readMeasure(state: Reading, measure: Node, b: number): void {
  const place = `bar ${b + 1}`;
  let tempo: number | undefined;
  for (const attributes of all(measure, "attributes")) {
    const divisions = numberAt(attributes, "divisions");
    if (divisions !== undefined && divisions > 0) state.divisions = divisions;
    else if (divisions !== undefined) state.remarks.push({ place, says: `divisions of ${divisions} are left out` });
    const beats = textAt(attributes, "time", "beats");
    const unit = numberAt(attributes, "time", "beat-type");
    if (beats !== undefined && unit !== undefined) {
      const count = beats.split("+").reduce((sum, part) => sum + Number(part), 0);
      if (Number.isInteger(count) && count >= 1 && count <= 32 && UNITS.includes(unit)) state.meter = [count, unit];
      else state.remarks.push({ place, says: `a meter of ${beats}/${unit} cannot be written here: ${state.meter.join("/")} goes on` });
    }
    const transpose = child(attributes, "transpose");
    if (transpose) {
      state.octaves = numberAt(transpose, "octave-change") ?? 0;
      state.semitones = numberAt(transpose, "chromatic") ?? 0;
    }
  }
  for (const sound of [...all(measure, "sound"), ...all(measure, "direction").flatMap((direction) => all(direction, "sound"))]) {
    const written = Number(sound.attributes.tempo ?? Number.NaN);
    if (Number.isFinite(written)) {
      if (isTempo(written)) tempo = written;
      else state.remarks.push({ place, says: `a tempo of ${written} is left out: ${TEMPO.lowest} to ${TEMPO.highest} can be played here` });
    }
    const swing = child(sound, "swing");
    if (swing && b === 0) state.swing = swingOf(swing, state.remarks);
  }
  if (state.tempo === undefined && tempo !== undefined) state.tempo = tempo;
  const bar: BarInput = { meter: [...state.meter] as BarInput["meter"], strokes: [] };
  if (tempo !== undefined && b > 0) bar.tempo = tempo;
  state.bars.push(bar);
  const { notes, grips, length } = soundingNotes(state, measure, b);
  const full = (state.meter[0] * TICKS_PER_WHOLE) / state.meter[1];
  // A short first measure is a pick-up: its music stands at the bar's end.
  const isPickup = b === 0 && length > 0 && length < full && (measure.attributes.implicit === "yes" || measure.attributes.number === "0");
  if (isPickup) bar.pickup = true;
  const shift = isPickup ? full - length : 0;
  const gripped = new Set<number>();
  const held = grips.filter(({ at }) => at + shift < full && !gripped.has(at) && gripped.add(at));
  if (held.length < grips.length) state.remarks.push({ place, says: "a chord frame after the bar's end, or a second one at a place, is left out" });
  if (held.length > 0) bar.grips = held.slice(0, 64).map((grip) => ({ ...grip, at: fractionOf(grip.at + shift) }));
  for (const note of notes) {
    if (note.at + shift >= full) state.remarks.push({ place, says: "a note after the bar's end is left out" });
    else state.sounding.push({ ...note, bar: b, at: note.at + shift });
  }
}

function swingOf(swing: Node, remarks: RemarkTaker): PassageInput["feel"] {
  if (child(swing, "straight")) return "straight";
  const [first, second] = [numberAt(swing, "first"), numberAt(swing, "second")];
  const ratio = first && second ? first / second : 2;
  if (ratio < 1 || ratio > 4) {
    remarks.push({ place: "bar 1", says: `a swing of ${first} to ${second} is left out` });
    return "straight";
  }
  return { swing: textAt(swing, "swing-type") === "16th" ? "sixteenth" : "eighth", ratio };
}

/** What this program wrote beside the notes; nothing when the file is from elsewhere or the field is damaged. */
function settingsOf(score: Node): (Partial<PassageInput> & { instrument?: Instrument }) | null {
  const field = all(child(child(score, "identification"), "miscellaneous"), "miscellaneous-field").find((f) => f.attributes.name === SETTINGS_FIELD);
  if (!field) return null;
  try {
    const value: unknown = JSON.parse(field.text);
    if (typeof value !== "object" || value === null || Array.isArray(value)) return null;
    // The instrument is needed before the schema sees the whole.
    const { instrument, ...rest } = value as Record<string, unknown>;
    const read = instrumentSchema.safeParse(instrument);
    return { ...rest, ...(read.success ? { instrument: read.data } : {}) };
  } catch {
    return null;
  }
}

const ALTERS: Readonly<Record<string, string>> = { "-1": "b", "1": "#" };

/** Tuning and capo as the staff has them, else the usual instrument of that name. */
function instrumentOf(part: Node, kept: Instrument | undefined, name: string, remarks: RemarkTaker): Instrument {
  const details = part.children.flatMap((measure) => all(measure, "attributes")).flatMap((attributes) => all(attributes, "staff-details"));
  const tunings = details.map((d) => all(d, "staff-tuning")).find((t) => t.length >= 4);
  const capo = details.map((d) => numberAt(d, "capo")).find((c) => c !== undefined);
  const isBass = /bass/i.test(name);
  if (!tunings) {
    const usual = kept ?? presetFor(isBass ? 4 : 6);
    if (!kept) remarks.push({ place: "score", says: `no tuning in it: taken as ${[...usual.tuning].reverse().join(" ")}` });
    return usual;
  }
  const tuning = tunings
    .map((t) => ({
      line: Number(t.attributes.line),
      name: `${textAt(t, "tuning-step")}${ALTERS[textAt(t, "tuning-alter") ?? ""] ?? ""}${textAt(t, "tuning-octave")}`,
    }))
    .sort((a, b) => b.line - a.line)
    .map((t) => t.name)
    .slice(0, 8);
  const like = kept ?? likeFor(tuning.length, isBass, name);
  return { ...like, tuning, capo: Math.min(12, Math.max(0, capo ?? 0)) };
}

function likeFor(strings: number, isBass: boolean, name: string): Instrument {
  if (isBass || strings < 6) return presetFor(Math.min(5, Math.max(4, strings)));
  if (/nylon|classical/i.test(name)) return INSTRUMENT_PRESETS.find((p) => p.instrument.kind === "nylon-guitar")!.instrument;
  if (/acoustic|steel/i.test(name)) return INSTRUMENT_PRESETS.find((p) => p.instrument.kind === "acoustic-guitar")!.instrument;
  return presetFor(strings);
}
