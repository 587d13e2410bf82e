import { writeMidi as encode, type MidiData, type MidiEvent } from "midi-file";
import type { InstrumentKind } from "../../music/instruments.ts";
import { TICKS_PER_WHOLE } from "../../music/ticks.ts";
import type { Fault } from "../../passage/parse.ts";
import type { Passage } from "../../passage/schema.ts";
import { openPitches, settingsOf } from "../../passage/settings.ts";
import { timelineOf } from "../../timeline/timeline.ts";

/** Ticks of a quarter in the file; those of the document divide into them. */
export const PPQ = 960;
const DOCUMENT_TICKS = TICKS_PER_WHOLE / 4 / PPQ;

/** Programs of General MIDI 1 (MIDI Manufacturers Association, 1991), counted from 0; muted only where the standard has one. */
const PROGRAMS: Readonly<Record<InstrumentKind, { open: number; muted: number | null }>> = {
  "electric-guitar": { open: 27, muted: 28 },
  "acoustic-guitar": { open: 25, muted: 28 },
  "nylon-guitar": { open: 24, muted: null },
  "electric-bass": { open: 33, muted: null },
};

const OPEN_CHANNEL = 0;
const MUTED_CHANNEL = 1;
/** Where no muted program is, a muted note is cut to this share of its length. */
const MUTED_SHARE = 0.4;
/** A dead note is a short soft one. */
const DEAD_TICKS = PPQ / 16;
const VELOCITY = { plain: 90, accent: 115, dead: 50 } as const;

/**
 * The passage as a Standard MIDI File, format 1: a tempo track and a track of notes, as long as they are planned to sound.
 * Palm-muted notes are on the muted guitar where General MIDI has it. Remarks name what is lost.
 */
export function writeMidi(passage: Passage): { bytes: Uint8Array; remarks: Fault[] } {
  const remarks: Fault[] = [];
  const timeline = timelineOf(passage, settingsOf(passage));
  const open = openPitches(passage.instrument);
  const programs = PROGRAMS[passage.instrument.kind];
  const notes: Timed[] = [];
  const add = (start: number, end: number, channel: number, noteNumber: number, velocity: number) => {
    const from = Math.round(start / DOCUMENT_TICKS);
    const to = Math.max(from + 1, Math.round(end / DOCUMENT_TICKS));
    notes.push({ tick: from, event: { deltaTime: 0, type: "noteOn", channel, noteNumber, velocity } });
    notes.push({ tick: to, event: { deltaTime: 0, type: "noteOff", channel, noteNumber, velocity: 0 } });
  };
  let shortened = 0;
  let dead = 0;
  for (const note of timeline.notes) {
    const velocity = passage.bars[note.bar]!.strokes[note.stroke]!.accent ? VELOCITY.accent : VELOCITY.plain;
    const pitch = open[note.string - 1]! + note.pitchFret;
    if (note.tone === "ghost") {
      dead++;
      add(note.start, note.start + DEAD_TICKS * DOCUMENT_TICKS, programs.muted === null ? OPEN_CHANNEL : MUTED_CHANNEL, pitch, VELOCITY.dead);
    } else if (note.tone !== "palm") add(note.start, note.end, OPEN_CHANNEL, pitch, velocity);
    else if (programs.muted !== null) add(note.start, note.end, MUTED_CHANNEL, pitch, velocity);
    else {
      shortened++;
      add(note.start, note.start + (note.end - note.start) * MUTED_SHARE, OPEN_CHANNEL, pitch, velocity);
    }
  }
  for (const stroke of timeline.strokes) {
    if (stroke.as === "play") continue;
    dead++;
    for (const string of stroke.crossed) {
      const fret = stroke.kept.find((kept) => kept.string === string)?.fret ?? 0;
      add(
        stroke.start,
        stroke.start + DEAD_TICKS * DOCUMENT_TICKS,
        programs.muted === null ? OPEN_CHANNEL : MUTED_CHANNEL,
        open[string - 1]! + fret,
        VELOCITY.dead,
      );
    }
  }
  if (shortened > 0)
    remarks.push({
      place: "file",
      says: `${shortened} palm-muted note${shortened === 1 ? "" : "s"} shortened: General MIDI has no muted program for this instrument`,
    });
  if (dead > 0) remarks.push({ place: "file", says: `${dead} dead note${dead === 1 ? "" : "s"} and strokes became short soft notes` });
  const lost = timeline.notes.filter((note) => note.bend || note.vibrato).length;
  if (lost > 0) remarks.push({ place: "file", says: `${lost} bend${lost === 1 ? "" : "s"} or vibratos are left out` });
  remarks.push({ place: "file", says: "strings, frets, fingers, grips, stroke directions and chord names are left out" });
  const data: MidiData = {
    header: { format: 1, numTracks: 2, ticksPerBeat: PPQ },
    tracks: [deltas(conductor(passage, timeline)), deltas([...programChanges(passage, programs), ...notes])],
  };
  return { bytes: encoded(data), remarks };
}

/** Events encoded in one go: the package copies all that it has at every event, so that long tracks are put together from short ones. */
const AT_ONCE = 256;
/** Bytes of the file's head, and of a track's before its events. */
const FILE_HEAD = 14;
const TRACK_HEAD = 8;

function encoded({ header, tracks }: MidiData): Uint8Array {
  const head = encode({ header, tracks: [] });
  // How many tracks there are, two bytes.
  head[11] = tracks.length;
  const parts: number[][] = [head];
  for (const track of tracks) {
    const events: number[][] = [];
    for (let at = 0; at < track.length; at += AT_ONCE) events.push(encode({ header, tracks: [track.slice(at, at + AT_ONCE)] }).slice(FILE_HEAD + TRACK_HEAD));
    const length = events.reduce((sum, { length: bytes }) => sum + bytes, 0);
    parts.push(
      [...new TextEncoder().encode("MTrk"), 24, 16, 8, 0].map((byte, i) => (i < 4 ? byte : (length >>> byte) & 255)),
      ...events,
    );
  }
  return Uint8Array.from(parts.flat());
}

interface Timed {
  tick: number;
  event: MidiEvent;
}

function conductor(passage: Passage, { bars }: ReturnType<typeof timelineOf>): Timed[] {
  const events: Timed[] = [{ tick: 0, event: { deltaTime: 0, meta: true, type: "trackName", text: passage.title } }];
  passage.bars.forEach((bar, b) => {
    const tick = Math.round(bars[b]!.start / DOCUMENT_TICKS);
    const before = passage.bars[b - 1];
    if (!before || before.meter.join() !== bar.meter.join())
      events.push({
        tick,
        event: { deltaTime: 0, meta: true, type: "timeSignature", numerator: bar.meter[0], denominator: bar.meter[1], metronome: 24, thirtyseconds: 8 },
      });
    const tempo = b === 0 ? (bar.tempo ?? passage.tempo) : bar.tempo;
    if (tempo !== undefined) events.push({ tick, event: { deltaTime: 0, meta: true, type: "setTempo", microsecondsPerBeat: Math.round(60_000_000 / tempo) } });
  });
  return events;
}

function programChanges(passage: Passage, { open, muted }: { open: number; muted: number | null }): Timed[] {
  const change = (channel: number, programNumber: number): Timed => ({ tick: 0, event: { deltaTime: 0, type: "programChange", channel, programNumber } });
  const name: Timed = { tick: 0, event: { deltaTime: 0, meta: true, type: "trackName", text: passage.instrument.kind.replaceAll("-", " ") } };
  return [name, change(OPEN_CHANNEL, open), ...(muted === null ? [] : [change(MUTED_CHANNEL, muted)])];
}

/** Events in order, each with how long after the one before; what ends comes before what begins. */
function deltas(events: readonly Timed[]): MidiEvent[] {
  const rank = ({ event }: Timed) => (event.type === "noteOff" ? 0 : event.type === "noteOn" ? 2 : 1);
  const sorted = [...events].sort((a, b) => a.tick - b.tick || rank(a) - rank(b));
  let now = 0;
  const timed = sorted.map(({ tick, event }) => {
    const deltaTime = tick - now;
    now = tick;
    return { ...event, deltaTime };
  });
  return [...timed, { deltaTime: 0, meta: true, type: "endOfTrack" }];
}
