import { type MidiData, type MidiEvent, parseMidi } from "midi-file";
import { placed } from "../../grips/place-notes.ts";
import { isTempo, TEMPO } from "../../music/tempo.ts";
import { fractionOf, TICKS_PER_WHOLE, type Ticks } from "../../music/ticks.ts";
import { LIMITS, refusedBeyond } from "../../passage/limits.ts";
import { type Parsed, parsePassage } from "../../passage/parse.ts";
import { INSTRUMENT_PRESETS, presetFor } from "../../passage/presets.ts";
import { type Instrument, PASSAGE_VERSION, type PassageInput } from "../../passage/schema.ts";
import type { Imported, OnProgress } from "../imported.ts";
import { Remarks, type RemarkTaker } from "../remarks.ts";
import type { MidiGrid } from "./grids.ts";

export interface MidiOptions {
  /** Which voice, counted from 0, of those in `voices`; the first otherwise. */
  voice?: number | undefined;
  /** The grid moments and lengths are moved to, as a fraction of a whole note; a sixteenth's triplet and its quarter otherwise. */
  grid?: MidiGrid | undefined;
  onProgress?: OnProgress | undefined;
}

export interface MidiRead extends Imported {
  /** Tracks and channels with notes, for choosing one. */
  voices: string[];
}

/** Nobody chooses among more. */
const MOST_NAMED = 200;
const DRUMS = 9;
const MUTED_PROGRAM = 28;
const UNITS = [1, 2, 4, 8, 16, 32];

interface Played {
  start: number;
  end: number;
  pitch: number;
  velocity: number;
  isMuted: boolean;
}

interface Voice {
  name: string;
  program: number;
  notes: Played[];
}

/** Reads one voice of a Standard MIDI File, formats 0 and 1. Moments move to the stated grid, and it is reported how far. */
export function readMidi(bytes: Uint8Array, { voice, grid = "1/32", onProgress }: MidiOptions = {}): Parsed<MidiRead> {
  const opened = openMidi(bytes);
  if (!opened.ok) return opened;
  const { data, scale } = opened.value;
  const remarks = new Remarks();
  const voices = voicesOf(data, remarks);
  if (voices.length === 0) return fault("there are no notes in it but drums or none at all");
  const chosen = voices[voice ?? 0];
  if (!chosen) return fault(`there is no voice ${(voice ?? 0) + 1}: it has ${voices.length}`);
  const tooMany = refusedBeyond("notes", chosen.notes.length);
  if (tooMany) return tooMany;
  if (voices.length > 1) remarks.push({ place: "file", says: `${voices.length} voices; read: ${chosen.name}` });
  const { meters, tempos } = mapsOf(data, remarks);
  const instrument = instrumentFor(chosen, remarks);
  const notes = quantised(chosen, scale, grid, remarks);
  const end = notes.at(-1)!.start + 1;
  const bars = barsOf(meters, tempos, scale, end, remarks);
  const unfit = refusedBeyond("bars", bars.length) ?? fill(bars, notes, instrument, remarks, onProgress);
  if (unfit) return unfit;
  const title = trackName(data.tracks[0] ?? []) || chosen.name;
  const parsed = parsePassage({
    format: "rest-hand-passage",
    version: PASSAGE_VERSION,
    title: title.slice(0, 200) || "Untitled passage",
    instrument,
    tempo: bars[0]?.input.tempo ?? 120,
    bars: bars.map(({ input }, b) => (b === 0 ? { meter: input.meter, strokes: input.strokes } : input)),
  });
  return parsed.ok ? { ok: true, value: { passage: parsed.value, remarks: remarks.all(), voices: voices.slice(0, MOST_NAMED).map((v) => v.name) } } : parsed;
}

/** The events of a Standard MIDI File, and its ticks as ours. */
function openMidi(bytes: Uint8Array): Parsed<{ data: MidiData; scale(tick: number): number }> {
  const tooLarge = refusedBeyond("midi", bytes.length);
  if (tooLarge) return tooLarge;
  const cut = cutOff(bytes);
  if (cut) return fault(cut);
  let data: MidiData;
  try {
    data = parseMidi(bytes);
  } catch (error) {
    return fault(`not a MIDI file: ${(error as Error).message ?? error}`);
  }
  const { format, ticksPerBeat } = data.header;
  if (format > 1) return fault(`format ${format} is not read: formats 0 and 1 are`);
  if (!ticksPerBeat) return fault("its time is counted in film frames, not in beats");
  return { ok: true, value: { data, scale: (tick) => (tick * TICKS_PER_WHOLE) / 4 / ticksPerBeat } };
}

/** General MIDI Level 1, percussion key map (MIDI Manufacturers Association, 1991): both bass drums, both snares and the side stick. */
const ACCENTED_DRUMS: ReadonlySet<number> = new Set([35, 36, 37, 38, 40]);

/** Where bass drum and snare are struck, in ticks from the beginning, on the nearest sixteenth; empty where there are no drums. */
export function drumOnsets(bytes: Uint8Array): Parsed<Ticks[]> {
  const opened = openMidi(bytes);
  if (!opened.ok) return opened;
  const { data, scale } = opened.value;
  const sixteenth = TICKS_PER_WHOLE / 16;
  const onsets = new Set<Ticks>();
  for (const track of data.tracks) {
    let tick = 0;
    for (const event of track) {
      tick += event.deltaTime;
      if (event.type === "noteOn" && event.channel === DRUMS && event.velocity > 0 && ACCENTED_DRUMS.has(event.noteNumber))
        onsets.add(Math.round(scale(tick) / sixteenth) * sixteenth);
    }
  }
  return { ok: true, value: [...onsets].sort((a, b) => a - b) };
}

/** Chunks say how long they are: a file that ends before them was cut off. */
function cutOff(bytes: Uint8Array): string | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const name = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (bytes.length < 14 || name(0) !== "MThd") return "not a MIDI file: it does not begin with MThd";
  let tracks = 0;
  for (let at = 0; at < bytes.length; ) {
    if (at + 8 > bytes.length || at + 8 + view.getUint32(at + 4) > bytes.length) return "the file is cut off";
    if (name(at) === "MTrk") tracks++;
    at += 8 + view.getUint32(at + 4);
  }
  return tracks < view.getUint16(10) ? `the file is cut off: ${tracks} of ${view.getUint16(10)} tracks` : null;
}

function fault(says: string): Parsed<never> {
  return { ok: false, faults: [{ place: "file", says }] };
}

function trackName(track: readonly MidiEvent[]): string {
  const named = track.find((event) => event.type === "trackName");
  return named?.type === "trackName" ? named.text.trim() : "";
}

/** Notes by track and channel; the muted guitar beside an open one belongs to it. Drums are left out. */
function voicesOf({ tracks }: MidiData, remarks: RemarkTaker): Voice[] {
  let drums = 0;
  const voices = tracks.flatMap((track, t) => {
    const channels = new Map<number, Voice>();
    const open = new Map<string, Held>();
    let tick = 0;
    for (const event of track) {
      tick += event.deltaTime;
      if (!("channel" in event)) continue;
      if (event.channel === DRUMS) {
        if (event.type === "noteOn") drums++;
        continue;
      }
      const voice = channels.get(event.channel) ?? { name: `${trackName(track) || `track ${t + 1}`}, channel ${event.channel + 1}`, program: 0, notes: [] };
      channels.set(event.channel, voice);
      if (event.type === "programChange") voice.program = event.programNumber;
      if (event.type !== "noteOn" && event.type !== "noteOff") continue;
      const key = `${event.channel} ${event.noteNumber}`;
      const held = open.get(key) ?? { begun: [], letGo: 0 };
      open.set(key, held);
      if (event.type === "noteOn" && event.velocity > 0) held.begun.push({ start: tick, velocity: event.velocity });
      else {
        const begun = held.begun[held.letGo++];
        if (begun) voice.notes.push({ ...begun, end: tick, pitch: event.noteNumber, isMuted: voice.program === MUTED_PROGRAM });
      }
    }
    // What is never let go ends with its track.
    for (const [key, held] of open)
      for (const begun of held.begun.slice(held.letGo)) {
        const [channel, pitch] = key.split(" ").map(Number) as [number, number];
        channels.get(channel)!.notes.push({ ...begun, end: tick, pitch, isMuted: channels.get(channel)!.program === MUTED_PROGRAM });
      }
    return joined([...channels.values()].filter((voice) => voice.notes.length > 0));
  });
  if (drums > 0) remarks.push({ place: "file", says: `${drums} drum notes are left out` });
  return voices;
}

/** Notes of one pitch in the order in which they begin; the first `letGo` of them have ended. */
interface Held {
  begun: { start: number; velocity: number }[];
  letGo: number;
}

function joined(voices: Voice[]): Voice[] {
  const muted = voices.find((voice) => voice.program === MUTED_PROGRAM);
  const main = voices.find((voice) => voice !== muted && voice.program >= 24 && voice.program <= 31);
  if (!muted || !main) return voices;
  for (const note of muted.notes) main.notes.push(note);
  return voices.filter((voice) => voice !== muted);
}

type Change<T> = { tick: number; value: T };

function mapsOf({ tracks }: MidiData, remarks: RemarkTaker): { meters: Change<[number, number]>[]; tempos: Change<number>[] } {
  const meters: Change<[number, number]>[] = [];
  const tempos: Change<number>[] = [];
  for (const track of tracks) {
    let tick = 0;
    for (const event of track) {
      tick += event.deltaTime;
      if (event.type === "timeSignature") {
        const { numerator, denominator } = event;
        if (numerator >= 1 && numerator <= 32 && UNITS.includes(denominator)) meters.push({ tick, value: [numerator, denominator] });
        else remarks.push({ place: "file", says: `a meter of ${numerator}/${denominator} is left out` });
      } else if (event.type === "setTempo") {
        const tempo = Math.round(6_000_000_000 / event.microsecondsPerBeat) / 100;
        if (isTempo(tempo)) tempos.push({ tick, value: tempo });
        else remarks.push({ place: "file", says: `a tempo of ${tempo} is left out: ${TEMPO.lowest} to ${TEMPO.highest} can be played here` });
      }
    }
  }
  const inOrder = <T>(changes: Change<T>[]) => changes.sort((a, b) => a.tick - b.tick);
  return { meters: inOrder(meters), tempos: inOrder(tempos) };
}

function instrumentFor({ program, notes, name }: Voice, remarks: RemarkTaker): Instrument {
  const lowest = notes.reduce((low, { pitch }) => Math.min(low, pitch), 127);
  const highest = notes.reduce((high, { pitch }) => Math.max(high, pitch), 0);
  const isBass = (program >= 32 && program <= 39) || (program === 0 && highest < 58 && lowest < 40);
  const instrument = isBass
    ? presetFor(lowest < 28 ? 5 : 4)
    : program === 24
      ? INSTRUMENT_PRESETS.find((p) => p.instrument.kind === "nylon-guitar")!.instrument
      : program === 25
        ? INSTRUMENT_PRESETS.find((p) => p.instrument.kind === "acoustic-guitar")!.instrument
        : presetFor(lowest < 40 ? 7 : 6);
  remarks.push({
    place: name,
    says: `taken as ${instrument.kind.replaceAll("-", " ")}, ${[...instrument.tuning].reverse().join(" ")}; places on the neck were chosen`,
  });
  return instrument;
}

interface Quantised {
  start: Ticks;
  length: Ticks;
  pitch: number;
  velocity: number;
  isMuted: boolean;
}

function quantised({ notes }: Voice, scale: (tick: number) => number, grid: string, remarks: RemarkTaker): Quantised[] {
  const unit = TICKS_PER_WHOLE / Number(grid.slice(2));
  let moved = 0;
  let furthest = 0;
  const on = (ticks: number) => Math.round(ticks / unit) * unit;
  const all = notes.map(({ start, end, ...note }) => {
    const at = on(scale(start));
    const off = Math.abs(at - scale(start));
    if (off > 0.5) moved++;
    furthest = Math.max(furthest, off);
    return { ...note, start: at, length: Math.max(unit, on(scale(end)) - at) };
  });
  remarks.push({
    place: "file",
    says: `moved to a grid of ${grid}: ${moved} of ${all.length} notes, by ${((100 * furthest * 4) / TICKS_PER_WHOLE).toFixed(1)}% of a quarter at most`,
  });
  return all.sort((a, b) => a.start - b.start || b.pitch - a.pitch);
}

interface OpenBar {
  start: Ticks;
  length: Ticks;
  input: PassageInput["bars"][number] & { strokes: NonNullable<PassageInput["bars"][number]["strokes"]> };
}

function barsOf(meters: Change<[number, number]>[], tempos: Change<number>[], scale: (tick: number) => number, end: Ticks, remarks: RemarkTaker): OpenBar[] {
  const bars: OpenBar[] = [];
  let start = 0;
  let inside = 0;
  // Changes lie in order, and so do bars: each is looked at once.
  let [m, t] = [0, 0];
  let meter: [number, number] = [4, 4];
  for (let b = 0; start < end && b <= LIMITS.bars.most; b++) {
    for (; m < meters.length && scale(meters[m]!.tick) <= start; m++) meter = meters[m]!.value;
    const length = (meter[0] * TICKS_PER_WHOLE) / meter[1];
    let tempo: number | undefined;
    for (; t < tempos.length && scale(tempos[t]!.tick) <= start; t++) {
      // Up to a tick before the bar counts as its beginning.
      if (b === 0 || scale(tempos[t]!.tick) > start - 1) tempo = tempos[t]!.value;
      else inside++;
    }
    bars.push({ start, length, input: { meter: [...meter] as [number, 4], strokes: [], ...(tempo === undefined ? {} : { tempo }) } });
    start += length;
  }
  if (inside > 0) remarks.push({ place: "file", says: `${inside} changes of tempo inside a bar are left out` });
  return bars;
}

/** Softer than this beside louder ones is not an accent; at least so much louder is. */
const ACCENT_OVER = 18;

function fill(
  bars: OpenBar[],
  notes: readonly Quantised[],
  instrument: Instrument,
  remarks: RemarkTaker,
  onProgress?: OnProgress,
): ReturnType<typeof refusedBeyond> {
  const moments = new Map<Ticks, Quantised[]>();
  for (const note of notes) {
    const together = moments.get(note.start);
    if (together) together.push(note);
    else moments.set(note.start, [note]);
  }
  let unfit = refusedBeyond("strokes", moments.size);
  for (const together of moments.values()) unfit ??= refusedBeyond("notesAMoment", together.length);
  if (unfit) return unfit;
  const ordered = [...moments.entries()].sort(([a], [b]) => a - b);
  const places = placed(
    ordered.map(([, all]) => all.map(({ pitch }) => ({ pitch }))),
    instrument,
    { onProgress },
  );
  const usual = notes.map((n) => n.velocity).sort((a, b) => a - b)[Math.floor(notes.length / 2)] ?? 90;
  let cut = 0;
  let b = 0;
  ordered.forEach(([start, all], m) => {
    while (bars[b] && start >= bars[b]!.start + bars[b]!.length) b++;
    const bar = bars[b];
    if (!bar) return;
    const room = bar.length - (start - bar.start);
    const own = all.flatMap((note, n) => {
      const place = places[m]![n];
      if (!place) remarks.push({ place: `bar ${b + 1}`, says: `MIDI note ${note.pitch} is left out: this neck does not have it, or not beside the others` });
      if (place && note.length > room) cut++;
      return place ? [{ ...note, ...place, length: Math.min(room, note.length) }] : [];
    });
    if (own.length === 0) return;
    const longest = Math.max(...own.map((note) => note.length));
    bar.input.strokes.push({
      at: fractionOf(start - bar.start),
      length: fractionOf(longest),
      ...(own.some((note) => note.velocity >= usual + ACCENT_OVER) ? { accent: true } : {}),
      notes: own
        .sort((x, y) => y.string - x.string)
        .map((note) => ({
          string: note.string,
          fret: note.fret,
          ...(note.isMuted ? { tone: "palm" as const } : {}),
          ...(note.length < longest ? { length: fractionOf(note.length) } : {}),
        })),
    });
  });
  if (cut > 0) remarks.push({ place: "file", says: `${cut} note${cut === 1 ? "" : "s"} over a bar line are cut there` });
  return null;
}
