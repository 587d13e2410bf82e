import { parsePitch, pitchText } from "../../music/pitch.ts";
import { fractionOf, type Ticks } from "../../music/ticks.ts";
import { LIMITS, refusedBeyond } from "../../passage/limits.ts";
import { type Fault, type Parsed, parsePassage } from "../../passage/parse.ts";
import { presetFor } from "../../passage/presets.ts";
import { type Instrument, PASSAGE_VERSION, type PassageInput } from "../../passage/schema.ts";
import type { Imported } from "../imported.ts";
import { Remarks, type RemarkTaker } from "../remarks.ts";
import { type Cell, cellsOf } from "./cells.ts";
import { type Meter, Signs } from "./signs.ts";
import { partsOf, type Stave, type StringLine, stavesOf } from "./staves.ts";
import { lengthOf, timesOf, type WrittenBar } from "./times.ts";

type StrokeInput = NonNullable<PassageInput["bars"][number]["strokes"]>[number];
type NoteInput = NonNullable<StrokeInput["notes"]>[number];

interface Event {
  column: number;
  cells: { string: number; cell: Cell }[];
}

const DEFAULT_TEMPO = 100;

export interface TabRead extends Imported {
  /** Names of the instruments, when there are several. */
  parts: string[];
}

/**
 * Reads plain-text tablature as people paste it. Rhythm comes from counts, letters or stems over or under the stave where there
 * are any, else from the column spacing, and the remarks say so. Of several instruments one is read, the first unless `part` says.
 */
export function readTab(text: string, { part = 0 }: { part?: number | undefined } = {}): Parsed<TabRead> {
  const refused = refusedBeyond("tab", text.length);
  if (refused) return refused;
  const found = stavesOf(text);
  if (!found.ok) return found;
  const { head } = found.source;
  const parts = partsOf(found.source.staves);
  const chosen = parts[part];
  if (!chosen) return { ok: false, faults: [{ place: "file", says: `there is no part ${part + 1}: it has ${parts.length}` }] };
  const { staves } = chosen;
  const remarks = new Remarks();
  if (parts.length > 1) remarks.push({ place: `line ${staves[0]!.strings[0]!.line}`, says: `${parts.length} instruments; read: ${chosen.name}` });
  const instrument = instrumentOf(staves[0]!, remarks);
  const bars: PassageInput["bars"] = [];
  const faults: Fault[] = [];
  let timed = false;
  let plucked = false;
  let meter: Meter = [4, 4];
  let strokes = 0;
  for (const stave of staves) {
    const spans = barColumns(stave, faults);
    const events = spans.map(([from, to]) => eventsOf(stave, from, to, remarks));
    const columns = events.flatMap((own) => own.map(({ column }) => column));
    const signs = new Signs(stave, columns, spans, remarks);
    timed ||= signs.counts !== undefined || signs.durations !== null;
    plucked ||= signs.arePlucked;
    for (const [b, [from, to]] of spans.entries()) {
      meter = signs.meterBetween(from, to) ?? meter;
      const own = events[b]!;
      const read = readBar({ stave, signs, columns: own.map(({ column }) => column), span: [from, to], meter }, own, remarks);
      bars.push({ meter: [...meter], strokes: read });
      strokes += read.length;
      if (strokes > LIMITS.strokes.most || bars.length > LIMITS.bars.most) break;
    }
    const tooMany = refusedBeyond("strokes", strokes) ?? refusedBeyond("bars", bars.length);
    if (tooMany) return tooMany;
  }
  if (faults.length > 0) return { ok: false, faults };
  if (bars.length === 0) return { ok: false, faults: [{ place: `line ${staves[0]!.strings[0]!.line}`, says: "the stave holds no bars" }] };
  if (!timed)
    remarks.push({ place: `line ${staves[0]!.strings[0]!.line}`, says: "no count line: the rhythm was read from the column spacing, in bars of 4/4" });
  const heading = headingOf(head, remarks);
  const parsed = parsePassage({
    format: "rest-hand-passage",
    version: PASSAGE_VERSION,
    title: heading.title,
    instrument,
    tempo: heading.tempo,
    bars,
    ...(plucked ? { player: { playsWith: "fingers" } } : {}),
  });
  if (!parsed.ok) return { ok: false, faults: parsed.faults.map((f) => ({ place: `line ${staves[0]!.strings[0]!.line} (${f.place})`, says: f.says })) };
  return { ok: true, value: { passage: parsed.value, remarks: remarks.all(), parts: parts.length > 1 ? parts.map(({ name }) => name) : [] } };
}

function headingOf(head: readonly { line: number; text: string }[], remarks: RemarkTaker): { title: string; tempo: number } {
  let title = "";
  let tempo = DEFAULT_TEMPO;
  let tempoFound = false;
  for (const { line, text } of head) {
    const match = /(?:tempo|bpm)\s*[:=]?\s*(\d{2,3})|(\d{2,3})\s*bpm/i.exec(text);
    const value = match ? Number(match[1] ?? match[2]) : 0;
    if (match && value >= 20 && value <= 400) {
      tempo = value;
      tempoFound = true;
    } else if (title === "")
      title = text
        .trim()
        .replace(/^title\s*:\s*/i, "")
        .slice(0, 200);
    else remarks.push({ place: `line ${line}`, says: `not understood: "${text.trim().slice(0, 40)}"` });
  }
  if (!tempoFound) remarks.push({ place: "line 1", says: `no tempo given: ${DEFAULT_TEMPO} quarters a minute assumed` });
  return { title: title || "Untitled tab", tempo };
}

/** The usual instrument for this many strings, retuned by the labels on the left. */
function instrumentOf(stave: Stave, remarks: RemarkTaker): Instrument {
  const usual = presetFor(stave.strings.length);
  const tuning = stave.strings.map((line, i) => {
    const expected = parsePitch(usual.tuning[i]!)!;
    if (line.label === "") return usual.tuning[i]!;
    const withOctave = parsePitch(line.label);
    if (withOctave !== null && /\d$/.test(line.label)) return pitchText(withOctave);
    const near = parsePitch(`${line.label}4`)!;
    const shift = Math.round((expected - near) / 12) * 12;
    return pitchText(near + shift);
  });
  if (stave.strings.every((line) => line.label === ""))
    remarks.push({ place: `line ${stave.strings[0]!.line}`, says: "no tuning on the left: the usual one for this many strings is assumed" });
  return { ...usual, tuning };
}

/** Columns between bar lines, which must stand at the same place on every string. */
function barColumns(stave: Stave, faults: Fault[]): [number, number][] {
  const width = Math.max(...stave.strings.map((s) => s.body.length));
  const isBar = (s: StringLine, c: number) => s.body[c] === "|";
  const spans: [number, number][] = [];
  let from = 0;
  for (let c = 0; c <= width; c++) {
    const bars = stave.strings.filter((s) => isBar(s, c)).length;
    if (c < width && bars === 0) continue;
    if (c < width && bars < stave.strings.length) {
      const odd = stave.strings.find((s) => !isBar(s, c))!;
      faults.push({ place: `line ${odd.line}, column ${stave.startColumn + c + 1}`, says: "the bar lines of this stave do not stand under each other" });
      return [];
    }
    const content = stave.strings.some((s) => /[-0-9xX]/.test(s.body.slice(from, c)));
    if (c > from && content) spans.push([from, c]);
    from = c + 1;
  }
  return spans;
}

function readBar(bar: WrittenBar, events: readonly Event[], remarks: RemarkTaker): StrokeInput[] {
  const { ticks, lengths } = timesOf(bar, remarks);
  return events.map((event, i) => {
    const room = (ticks[i + 1] ?? lengthOf(bar.meter)) - ticks[i]!;
    return strokeOf(bar.signs, event, ticks[i]!, Math.min(room, lengths?.[i] ?? room));
  });
}

function eventsOf(stave: Stave, from: number, to: number, remarks: RemarkTaker): Event[] {
  const byColumn = new Map<number, Event>();
  stave.strings.forEach((line, s) => {
    const { cells, odd } = cellsOf(line.body, from, to);
    for (const { column, sign } of odd)
      remarks.push({ place: `line ${line.line}, column ${stave.startColumn + column + 1}`, says: `the sign "${sign}" was not understood` });
    for (const cell of cells) {
      const event = byColumn.get(cell.column) ?? { column: cell.column, cells: [] };
      event.cells.push({ string: s + 1, cell });
      byColumn.set(cell.column, event);
    }
  });
  const events = [...byColumn.values()].sort((a, b) => a.column - b.column);
  // A one-digit fret set under the second digit of a two-digit one belongs to the same chord.
  const joined: Event[] = [];
  for (const event of events) {
    const last = joined.at(-1);
    const wide = last?.cells.some(({ cell }) => cell.width === 2);
    const free = last && !last.cells.some(({ string }) => event.cells.some((c) => c.string === string));
    if (last && wide && free && event.column === last.column + 1) last.cells.push(...event.cells);
    else joined.push(event);
  }
  return joined;
}

function strokeOf(signs: Signs, event: Event, at: Ticks, length: Ticks): StrokeInput {
  const palm = signs.isUnderPalm(event.column);
  const stroke = signs.strokeAt(event.column);
  const pressed = event.cells.filter(({ cell }) => cell.fret !== null && cell.fret > 0);
  const finger = pressed.length === 1 ? signs.fingerAt(event.column) : undefined;
  const base = {
    at: fractionOf(at),
    length: fractionOf(length),
    ...(stroke ? { stroke } : {}),
  };
  if (event.cells.every(({ cell }) => cell.fret === null)) return { ...base, as: "ghost", strings: event.cells.map((c) => c.string).sort((a, b) => b - a) };
  const notes = event.cells.map(
    ({ string, cell }): NoteInput => ({
      string,
      fret: cell.fret ?? 0,
      ...(finger && cell === pressed[0]!.cell ? { finger } : {}),
      ...(cell.ghost ? { tone: "ghost" as const } : palm ? { tone: "palm" as const } : {}),
      ...(cell.from === "stroke" ? {} : { from: cell.from }),
      ...(cell.bend > 0 ? { bend: cell.released ? { by: cell.bend, then: "release" as const } : cell.bend } : {}),
      ...(cell.vibrato ? { vibrato: true } : {}),
      ...(cell.harmonic ? { harmonic: true } : {}),
    }),
  );
  return { ...base, notes };
}
