import type { Note } from "./schema.ts";

/** Gives a note its tone, in place; how firmly a palm lay on it goes with the palm. False when it has that tone already. */
export function setTone(note: Note, tone: NonNullable<Note["tone"]>): boolean {
  if ((note.tone ?? "open") === tone) return false;
  if (tone === "open") delete note.tone;
  else note.tone = tone;
  if (tone !== "palm") delete note.mute;
  return true;
}
