import type { NeckPlace } from "../../music/neck.ts";
import type { Ticks } from "../../music/ticks.ts";
import type { Conditions, Passage } from "../../passage/schema.ts";
import { harmonyOf, heldAt } from "../harmony.ts";
import type { RuleReport } from "../report.ts";
import { replacePitches } from "./replace.ts";
import { isChord, revoice } from "./revoice.ts";

/** What the conditions of a treatment did, and what they could not do. */
export interface Under {
  passage: Passage;
  reports: readonly RuleReport[];
}

/**
 * The passage under other conditions: another instrument (the pitches stay), voicings, place on the neck (of lines the pitches
 * stay, chords are voiced there), player or gain. What
 * cannot be done is told and left as written. The passage given stays as it is.
 */
export function underConditions(passage: Passage, { instrument, voicing, near, player, gain }: Conditions): Under {
  const reports: RuleReport[] = [];
  const bars = structuredClone(passage.bars);
  let made: Passage = { ...passage, bars, player: player ?? passage.player, ...(gain ? { gain } : {}) };
  const report = (found: RuleReport | null, cannot: string): boolean => {
    reports.push(found ?? { changed: 0, says: cannot, clashes: [] });
    return found !== null;
  };
  if (instrument && report(replacePitches(bars, passage.instrument, instrument), "Not every pitch is on that instrument: as written."))
    made = { ...made, instrument };
  if (voicing) reports.push(revoice(bars, made.instrument, voicing));
  if (near !== undefined) {
    const hasChords = harmonyOf(bars).some(isChord);
    if (hasChords) reports.push(revoice(bars, made.instrument, near));
    const chords = harmonyOf(bars);
    const isPart = (tick: Ticks, notes: readonly NeckPlace[]) => {
      const held = heldAt(chords, tick);
      return held !== undefined && isChord(held) && notes.every((note) => held.notes.some(({ string, fret }) => string === note.string && fret === note.fret));
    };
    const lines = replacePitches(bars, made.instrument, made.instrument, near, isPart);
    if (!hasChords || !lines || lines.changed > 0) report(lines, `Not every pitch of the lines is to be had about fret ${near}: these are as written.`);
  }
  // Pins speak of strings and steps as they are written.
  if (reports.some(({ changed }) => changed > 0) || made.instrument !== passage.instrument) {
    const { pins: _, ...rest } = made;
    made = rest;
  }
  return { passage: made, reports };
}
