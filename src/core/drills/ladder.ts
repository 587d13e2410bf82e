import type { Ladder, Try } from "./types.ts";

/*
 * The tempo ladder (common practice): begin at 50 to 60% of what can be reached, go up by 3 to 5% after 3 to 5 clean tries, near the
 * goal by 1 or 2 quarters a minute, and down by 5 to 10% after failing twice. Another day it begins a little below where it was left,
 * and one clean try is enough up to there: else a session of few tries would end where the one before ended.
 */

const START_SHARE = 0.55;
const STEP_PERCENT = 4;
const NEAR_GOAL_STEP = 2;
const CLEAN_IN_A_ROW = 4;
const AFTER_TWO_FAILS = -8;
/** From this share of the goal on it is near. */
const NEAR_SHARE = 0.95;
/** Where someone left off, a little slower is where to begin: one step, or two where it did not go well. */
const AGAIN_SHARE = { clean: 0.96, mixed: 0.92 } as const;
export const SLOWEST = 20;

/** The ladder up to a goal that the hands can reach, begun where earlier tries of this drill left off. */
export function ladderTo(goal: number, hands: number | null, tries: readonly Try[]): Ladder {
  const reachable = Math.max(SLOWEST, Math.min(goal, hands ?? goal));
  const first = Math.max(SLOWEST, Math.round(START_SHARE * reachable));
  const rule = { goal, stepPercent: STEP_PERCENT, nearGoalStep: NEAR_GOAL_STEP, cleanInARow: CLEAN_IN_A_ROW, afterTwoFails: AFTER_TWO_FAILS };
  const level = levelOf(rule, tries);
  if (level === null) return { start: first, ...rule };
  const share = isGoingWell(tries) ? AGAIN_SHARE.clean : AGAIN_SHARE.mixed;
  return { start: Math.max(first, Math.round(share * level)), reached: level, ...rule };
}

/** The tempo that someone is at: what was clean lately, or the next one, where that was earned over several days. */
function levelOf(rule: Omit<Ladder, "start">, tries: readonly Try[]): number | null {
  const reached = reachedIn(tries);
  if (reached === null) return null;
  const all = latest(tries);
  const since = all.slice(all.findLastIndex(({ clean }) => !clean) + 1).filter(({ tempo }) => tempo >= reached);
  return since.length >= CLEAN_IN_A_ROW ? stepFrom(rule, reached) : Math.min(rule.goal, reached);
}

function isGoingWell(tries: readonly Try[]): boolean {
  return latest(tries)
    .slice(-CLEAN_IN_A_ROW)
    .every(({ clean }) => clean);
}

/** The next tempo up. */
function stepFrom({ goal, stepPercent, nearGoalStep }: Omit<Ladder, "start">, tempo: number): number {
  const step = tempo >= NEAR_SHARE * goal ? nearGoalStep : Math.max(1, Math.round((tempo * stepPercent) / 100));
  return Math.min(goal, tempo + step);
}

/** The highest tempo of the latest tries that were clean; null where none was. */
export function reachedIn(tries: readonly Try[]): number | null {
  const clean = latest(tries).filter((one) => one.clean);
  return clean.length > 0 ? Math.max(...clean.map(({ tempo }) => tempo)) : null;
}

/** How often it went wrong lately; 1 where nothing is known. */
export function wrongShare(tries: readonly Try[]): number {
  const lately = latest(tries);
  return lately.length === 0 ? 1 : Math.max(LEAST_SHARE, lately.filter((one) => !one.clean).length / lately.length);
}

const LATELY = 12;
/** What is always clean is still worth a look. */
const LEAST_SHARE = 0.1;

function latest(tries: readonly Try[]): readonly Try[] {
  return [...tries].sort((a, b) => a.at - b.at).slice(-LATELY);
}

/** Where a trainer is on a ladder. */
export interface Rung {
  tempo: number;
  /** Clean tries in a row at this tempo, and tries in a row that were not. */
  clean: number;
  failed: number;
  /** Clean tries at the goal. */
  atGoal: number;
}

export function firstRung({ start }: Ladder): Rung {
  return { tempo: start, clean: 0, failed: 0, atGoal: 0 };
}

/** Clean tries in a row that a tempo asks for before the next one. */
export function neededAt({ cleanInARow, reached }: Ladder, tempo: number): number {
  return reached !== undefined && tempo < reached ? 1 : cleanInARow;
}

/** What a try changes. */
export function nextRung(ladder: Ladder, rung: Rung, clean: boolean): Rung {
  const { goal, afterTwoFails } = ladder;
  if (!clean) {
    if (rung.failed + 1 < 2) return { ...rung, clean: 0, failed: rung.failed + 1 };
    return { tempo: Math.max(SLOWEST, Math.round(rung.tempo * (1 + afterTwoFails / 100))), clean: 0, failed: 0, atGoal: rung.atGoal };
  }
  const atGoal = rung.atGoal + (rung.tempo >= goal ? 1 : 0);
  if (rung.clean + 1 < neededAt(ladder, rung.tempo) || rung.tempo >= goal) return { ...rung, clean: rung.clean + 1, failed: 0, atGoal };
  return { tempo: stepFrom(ladder, rung.tempo), clean: 0, failed: 0, atGoal };
}
