import { LEAST_STRAY_MS } from "../acoustics/constants.ts";
import type { SharedLists } from "../caching/shared-lists.ts";
import { PRICES } from "../hands/prices.ts";
import { leastHeardDb, levelAt } from "../hazards/excitations.ts";
import type { Excitation, StepHazards, StringHazard } from "../hazards/types.ts";
import type { InstrumentKind } from "../music/instruments.ts";
import { bit } from "../shapes/types.ts";
import type { Step } from "../timeline/types.ts";

/** What one string has at stake in one step. State j means: its newest j excitations are unsilenced. */
export interface StringStakes {
  /** Cost of leaving it alone in state j where that is heard, in thousandths of dB·s over the threshold. */
  cost: readonly number[];
  /** The same of what is too faint to be heard as a stray, as effort in thousandths of a tenth. */
  faint: readonly number[];
  /** State after this step, if left alone, from the state before it. */
  next: readonly number[];
  /** State if left alone in this step and silent before. */
  fresh: number;
  /** State at the end of a joined step from the state at its start; empty when they are the same. */
  last: readonly number[];
  /** What would be at stake should a contact fail: cost of the excitations that begin here. */
  risk: number;
}

/** What is the same for every string at a step. */
export interface Moment {
  step: Step;
  /** Something is meant to sound. */
  meant: boolean;
  kind: InstrumentKind;
  hazards: StepHazards;
  before: readonly StringHazard[];
  /** As bits: strings that are meant to sound before a ring on them would count as stray. */
  soonMeant: number;
  /** As bits: strings under a fret wrap. */
  wrapped: number;
  /** Where lists are kept that many strings have in common. */
  lists: SharedLists;
}

/** Per string. */
export function stakesOf(moment: Moment): StringStakes[] {
  const stakes: StringStakes[] = new Array(moment.hazards.strings.length);
  for (let s = 0; s < stakes.length; s++) stakes[s] = stakesOn(s, moment);
  return stakes;
}

function stakesOn(s: number, { step, meant, kind, hazards: { thresholdDb, strings }, before, soonMeant, wrapped, lists }: Moment): StringStakes {
  const row = strings[s]!;
  const earlier = before[s]?.alive ?? NONE_ALIVE;
  if (row.alive.length === 0 && earlier.length === 0) return NOTHING_AT_STAKE;
  const isSoonMeant = (soonMeant & bit(s + 1)) !== 0;
  const until = step.ms + step.lengthMs;
  const { alive } = row;
  const cost: number[] = new Array(alive.length + 1).fill(0);
  const faint: number[] = new Array(alive.length + 1).fill(0);
  /** Up to here as something faint, heard or not. */
  let faintest = 0;
  for (let j = 1; j <= alive.length && !isSoonMeant; j++) {
    const e = alive[j - 1]!;
    cost[j] = Math.max(cost[j - 1]!, heardOver(e, step.ms, until, thresholdDb, leastHeardDb(e, meant, kind)));
    const isBrief = ((e.db - thresholdDb) / e.slope) * 1000 < LEAST_STRAY_MS;
    if (!isBrief) faintest = Math.max(faintest, Math.round(PRICES.faint * ringOver(e, step.ms, until, thresholdDb, 0)));
    // What is heard is paid for as a stray, not as something faint.
    faint[j] = cost[j]! > 0 ? 0 : faintest;
  }
  // A wrap keeps a still string still where nobody presses it; what already sounds goes on under it.
  const fresh = row.onlyShaken && (wrapped & bit(s + 1)) !== 0 ? 0 : row.fresh;
  const next: number[] = new Array(earlier.length + 1).fill(fresh);
  for (let j = 1; j <= earlier.length; j++) {
    let living = 0;
    for (const e of alive) if (e.ms >= earlier[j - 1]!.ms || e.ms === step.ms) living++;
    next[j] = living;
  }
  return { cost: lists.of(cost), faint: lists.of(faint), next: lists.of(next), fresh, risk: cost[fresh]!, last: NONE_JOINED };
}

const NONE_ALIVE: readonly Excitation[] = [];

/** Of a step joined with none. */
const NONE_JOINED: readonly number[] = [];

const NOTHING_AT_STAKE: StringStakes = { cost: [0], faint: [0], next: [0], fresh: 0, risk: 0, last: NONE_JOINED };

/** The stakes of two steps in a row with nothing new in the second, as one. */
export function followedBy(first: StringStakes, second: StringStakes): StringStakes {
  const reached = first.last.length > 0 ? first.last : first.cost.map((_, j) => j);
  const last = reached.map((j) => second.next[j] ?? second.fresh);
  const cost = first.cost.map((c, j) => c + second.cost[last[j]!]!);
  const faint = first.faint.map((c, j) => c + second.faint[last[j]!]!);
  return { ...first, cost, faint, risk: cost[first.fresh]!, last };
}

/** Strings, as bits, on which something would be at stake should a contact fail. */
export function riskyOf(strings: readonly StringStakes[]): number {
  return strings.reduce((mask, { risk }, s) => (risk > 0 ? mask | bit(s + 1) : mask), 0);
}

/** As `ringOver`, but nothing of what is left of a ring in its last 80 ms. */
function heardOver(e: Excitation, fromMs: number, toMs: number, threshold: number, leastDb: number): number {
  const over = levelAt(e, fromMs) - threshold;
  return ((over - leastDb) / e.slope) * 1000 < LEAST_STRAY_MS ? 0 : ringOver(e, fromMs, toMs, threshold, leastDb);
}

/** Loudness over the threshold × time in dB·ms, while it is over a least level. */
function ringOver(e: Excitation, fromMs: number, toMs: number, threshold: number, leastDb: number): number {
  const over = levelAt(e, fromMs) - threshold;
  if (over < leastDb) return 0;
  const fadesAt = fromMs + ((over - leastDb) / e.slope) * 1000;
  const until = Math.min(toMs, fadesAt);
  const overThen = over - (e.slope * (until - fromMs)) / 1000;
  return Math.round(((over + overThen) / 2) * (until - fromMs));
}
