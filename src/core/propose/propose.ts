import { backbeats, barLength, beatsOf } from "../music/beats.ts";
import { ticksOf } from "../music/ticks.ts";
import type { Bar, Passage, Stroke } from "../passage/schema.ts";
import { settingsOf } from "../passage/settings.ts";
import { atTempo } from "../passage/tempo.ts";
import { strokeDirections } from "../timeline/strokes.ts";
import { countsOf } from "../verdict/figures.ts";
import { issuesOf } from "../verdict/findings.ts";
import { outcomesOf, type PlannedStages, straysOf } from "../verdict/verdict.ts";
import { harmonyOf } from "../writer/harmony.ts";
import { treated } from "../writer/treated.ts";
import { type Candidate, candidatesFor } from "./candidates.ts";
import type { Figures, Proposal, Wishes } from "./types.ts";
import { whyOf } from "./why.ts";

/** So many are shown: one of each family first, then a second one. */
const MOST = 6;
/** Any two differ in at least this share of their strokes. */
const LEAST_DIFFERENT = 0.25;

/**
 * Patterns for the chords of a passage: where strokes sound, where ghosts fill, where chucks, clicks and mutes fall. Each is
 * planned at the goal tempo, and what the hands cannot play there is left out; the best first, none where there are no chords. The
 * same input gives the same patterns. Yields how far the search is.
 */
export function* proposalsFor(passage: Passage, wishes: Wishes, plan: PlanAt): Generator<{ done: number; of: number }, Proposal[], void> {
  const candidates = harmonyOf(passage.bars).some(({ notes }) => notes.length > 2) ? candidatesFor(passage, settingsOf(passage), wishes) : [];
  const found: Judged[] = [];
  for (const [done, candidate] of candidates.entries()) {
    yield { done, of: candidates.length };
    const judged = judge(passage, candidate, wishes, plan);
    if (judged) found.push(judged);
  }
  found.sort((a, b) => b.score - a.score || (a.candidate.name < b.candidate.name ? -1 : 1));
  const chosen: Judged[] = [];
  // Who leans one way wants more of the same.
  const leans = wishes.busy !== 0 || wishes.backbeat !== 0 || wishes.steady !== 0;
  for (const ofAFamily of leans ? [2] : [1, 2])
    for (const one of found) {
      if (chosen.length === MOST || chosen.includes(one)) continue;
      if (chosen.filter(({ candidate }) => candidate.family === one.candidate.family).length >= ofAFamily) continue;
      if (chosen.every((other) => differenceOf(other.strokes, one.strokes) >= LEAST_DIFFERENT)) chosen.push(one);
    }
  chosen.sort((a, b) => b.score - a.score);
  return chosen.map(({ candidate, figures }) => ({ name: candidate.name, rules: candidate.rules, figures, why: whyOf(figures, wishes) }));
}

type PlanAt = (passage: Passage) => PlannedStages;

interface Judged {
  candidate: Candidate;
  figures: Figures;
  score: number;
  strokes: Strokes;
}

/** Plans it at the goal; null where it cannot be played, or the music is not what was asked for. */
function judge(passage: Passage, candidate: Candidate, wishes: Wishes, plan: PlanAt): Judged | null {
  const { passage: made, clashes } = treated(passage, { rules: candidate.rules, overrides: {} });
  if (clashes.length > 0 || made.bars.every((bar) => bar.strokes.length === 0)) return null;
  const planned = plan(atTempo(made, passage.goalTempo ?? passage.tempo));
  const { cost } = planned.path;
  if (cost.rushed > 0 || cost.harm > 0 || issuesOf(made, planned).length > 0) return null;
  const outcomes = outcomesOf(planned);
  const bars = made.bars.length;
  const figures: Figures = {
    strokes: made.bars.reduce((sum, bar) => sum + bar.strokes.length, 0) / bars,
    dead: made.bars.reduce((sum, bar) => sum + bar.strokes.filter((stroke) => kindOf(stroke) === "dead").length, 0) / bars,
    beats: made.bars.reduce((sum, bar) => sum + beatsOf(bar.meter), 0) / bars,
    palmLifts: countsOf(planned, outcomes).palmLiftsPerBar,
    gestures: cost.changes / bars,
    strays: straysOf(planned, outcomes).length,
    room: roomIn(made),
    backbeat: backbeatIn(made),
  };
  return { candidate, figures, score: scoreOf(figures, wishes), strokes: strokesOf(made) };
}

/*
 * What players weigh, in points; from memory, adjustable. A stray ring undoes most of what speaks for a pattern; a lift of the
 * palm is worth two other moves.
 */
const POINTS = { stray: 3, lift: 0.4, gesture: 0.2, backbeat: 2, room: 1.5, stroke: 0.35 } as const;
/** As busy as a strum is by nature, in strokes a beat; and how much busier or calmer one step is. */
const STROKES_A_BEAT = { usual: 1.6, step: 0.9 } as const;

function scoreOf({ strokes, beats, palmLifts, gestures, strays, room, backbeat }: Figures, { drummer, busy, backbeat: more, steady }: Wishes): number {
  const still = Math.max(0, 1 + steady);
  const usual = beats * (STROKES_A_BEAT.usual + STROKES_A_BEAT.step * busy);
  return (
    -POINTS.stray * strays -
    still * (POINTS.lift * palmLifts + POINTS.gesture * gestures) +
    (drummer ? 0.25 : Math.max(0, 1 + more)) * POINTS.backbeat * backbeat +
    POINTS.room * Math.min(room, MOST_ROOM) -
    POINTS.stroke * Math.abs(strokes - usual)
  );
}

/** More room than that is worth nothing more to a voice. */
const MOST_ROOM = 0.6;

/** The share of the time in which no note sounds openly. */
function roomIn({ bars }: Passage): number {
  let open = 0;
  let all = 0;
  for (const bar of bars) {
    const length = barLength(bar.meter);
    all += length;
    let until = 0;
    for (const stroke of bar.strokes) {
      if (!isOpen(stroke)) continue;
      const at = Math.max(until, ticksOf(stroke.at));
      until = Math.max(until, Math.min(length, ticksOf(stroke.at) + ticksOf(stroke.length)));
      open += Math.max(0, until - at);
    }
  }
  return 1 - open / all;
}

function backbeatIn({ bars }: Passage): number {
  let struck = 0;
  let all = 0;
  for (const bar of bars)
    for (const tick of backbeats(bar.meter)) {
      all++;
      const stroke = bar.strokes.find(({ at }) => ticksOf(at) === tick);
      if (stroke && (stroke.as === "chuck" || stroke.as === "click" || stroke.accent)) struck++;
    }
  return all === 0 ? 0 : struck / all;
}

function isOpen(stroke: Stroke): boolean {
  return kindOf(stroke) === "sounding";
}

function kindOf({ as, notes }: Stroke): "sounding" | "dead" | "muted" {
  if (as && as !== "play") return "dead";
  return notes.every((note) => note.tone === "palm") ? "muted" : "sounding";
}

/** By place: what is struck and which way; where nothing is, the hand is in the air. */
type Strokes = ReadonlyMap<string, string>;

function strokesOf(passage: Passage): Strokes {
  const settings = settingsOf(passage);
  return new Map(
    passage.bars.flatMap((bar: Bar, b) => {
      const ways = strokeDirections(bar, settings, passage.instrument.tuning.length);
      return bar.strokes.map((stroke, s): [string, string] => [`${b} ${ticksOf(stroke.at)}`, `${kindOf(stroke)} ${ways[s]}`]);
    }),
  );
}

/** The share of their strokes in which two patterns differ: another kind or way, or air instead. */
export function differenceOf(a: Strokes, b: Strokes): number {
  const places = new Set([...a.keys(), ...b.keys()]);
  let different = 0;
  for (const place of places) if (a.get(place) !== b.get(place)) different++;
  return different / Math.max(a.size, b.size, 1);
}
