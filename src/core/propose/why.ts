import type { Figures, Wishes } from "./types.ts";

/** What speaks for a pattern, and what against it, in one sentence. */
export function whyOf(figures: Figures, wishes: Wishes): string {
  const { strokes, dead, beats, palmLifts, gestures, strays, room, backbeat } = figures;
  const said: string[] = [];
  if (backbeat === 1) said.push(wishes.drummer ? "accents fall with the snare" : "it carries the backbeat");
  if (dead >= beats) said.push("ghosts keep the hand swinging");
  if (room >= 0.3) said.push(`${shareWords(room)} of the time is left to the voice`);
  if (gestures <= 1) said.push("both hands nearly stay where they are");
  else if (palmLifts === 0) said.push("the palm never lifts");
  else if (palmLifts > 1) said.push(`the palm lifts ${Number(palmLifts.toFixed(1))} times a bar`);
  if (strays > 0) said.push(strays === 1 ? "but one string rings astray" : `but strings ring astray ${strays} times`);
  if (said.length === 0) said.push(`${Number(strokes.toFixed(1))} strokes a bar, all within reach of the hands`);
  const text = said.join(", ");
  return `${text[0]!.toUpperCase()}${text.slice(1)}.`;
}

function shareWords(share: number): string {
  if (share >= 0.7) return "most";
  return share >= 0.45 ? "half" : "a third";
}
