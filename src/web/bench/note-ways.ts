import type { NoteChange } from "../../core/edit/types.ts";
import { bendOf } from "../../core/passage/bends.ts";
import type { Note } from "../../core/passage/schema.ts";

/** One way in which a note can be sounded or shaped: what it is called, whether the note has it, and what gives or takes it. */
export interface NoteWay {
  says: string;
  isOn(note: Note): boolean;
  on: NoteChange;
  off: NoteChange;
}

const from = (value: NonNullable<Note["from"]>, says: string): NoteWay => ({
  says,
  isOn: (note) => note.from === value,
  on: { from: value },
  off: { from: null },
});

const bend = (by: number, isReleased: boolean, says: string): NoteWay => ({
  says,
  isOn: (note) => {
    const is = bendOf(note);
    return is !== null && is.from === 0 && is.most === by && (isReleased ? is.back === 0 : is.back === null);
  },
  on: { bend: isReleased ? { by, then: "release" } : by },
  off: { bend: null },
});

const struckBent = (by: number, says: string): NoteWay => ({
  says,
  isOn: (note) => {
    const is = bendOf(note);
    return is !== null && is.from === by && is.most === by && is.back === 0;
  },
  on: { bend: { by, from: by, then: "release" } },
  off: { bend: null },
});

const mute = (value: NonNullable<Note["mute"]>, says: string): NoteWay => ({
  says,
  isOn: (note) => note.mute === value,
  on: { mute: value },
  off: { mute: null },
});

export const BENDS: readonly NoteWay[] = [
  bend(1, false, "bent a semitone"),
  bend(2, false, "bent a tone"),
  bend(3, false, "bent three semitones"),
  bend(1, true, "bent a semitone and back"),
  bend(2, true, "bent a tone and back"),
  struckBent(2, "struck bent a tone, let back"),
];

export const MUTES: readonly NoteWay[] = [mute("light", "palm lies lightly"), mute("choked", "palm chokes it")];

/** All of them in groups, as a player would look for them. */
export const NOTE_WAYS: readonly { title: string; ways: readonly NoteWay[]; isFor(note: Note): boolean }[] = [
  {
    title: "sounded",
    ways: [from("hammer", "hammered on"), from("pull", "pulled off"), from("slide", "slid to"), from("tap", "tapped")],
    isFor: () => true,
  },
  {
    title: "bend",
    ways: BENDS,
    isFor: (note) => note.fret > 0,
  },
  {
    title: "colour",
    ways: [
      { says: "vibrato", isOn: (note) => note.vibrato === true, on: { vibrato: true }, off: { vibrato: null } },
      { says: "harmonic", isOn: (note) => note.harmonic === true, on: { harmonic: true }, off: { harmonic: null } },
    ],
    isFor: () => true,
  },
  { title: "palm", ways: MUTES, isFor: (note) => note.tone === "palm" },
];

/** From one way to the next and after the last to none: what a key does that is pressed again and again. */
export function nextWay(ways: readonly NoteWay[], note: Note): NoteChange {
  const at = ways.findIndex((way) => way.isOn(note));
  return at + 1 < ways.length ? ways[at + 1]!.on : ways[at]!.off;
}
