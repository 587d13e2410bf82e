import type { Ladder, Try } from "./types.ts";

/*
 * The tempo ladder (common practice): begin at 50 to 60% of what can be reached, go up by 3 to 5% after 3 to 5 clean tries, near the
 * goal by 1 or 2 quarters a minute, and down by 5 to 10% after failing twice.
 */

const START_SHARE = 0.55;
const STEP_PERCENT = 4;
const NEAR_GOAL_STEP = 2;
const CLEAN_IN_A_ROW = 4;
const AFTER_TWO_FAILS = -8;
/** From this share of the goal on it is near. */
const NEAR_SHARE = 0.95;
/** Where someone left off, a little slower is where to begin. */
const AGAIN_SHARE = 0.92;
export const SLOWEST = 20;

/** The ladder up to a goal that the hands can reach, begun where earlier tries of this drill left off. */
export function ladderTo(goal: number, hands: number | null, tries: readonly Try[]): Ladder {
  const reachable = Math.max(SLOWEST, Math.min(goal, hands ?? goal));
  const first = Math.max(SLOWEST, Math.round(START_SHARE * reachable));
  const reached = reachedIn(tries);
  const start = reached === null ? first : Math.max(first, Math.min(goal, Math.round(AGAIN_SHARE * reached)));
  return { start, goal, stepPercent: STEP_PERCENT, nearGoalStep: NEAR_GOAL_STEP, cleanInARow: CLEAN_IN_A_ROW, afterTwoFails: AFTER_TWO_FAILS };
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

/** What a try changes. */
export function nextRung(ladder: Ladder, rung: Rung, clean: boolean): Rung {
  const { goal, stepPercent, nearGoalStep, cleanInARow, afterTwoFails } = ladder;
  if (!clean) {
    if (rung.failed + 1 < 2) return { ...rung, clean: 0, failed: rung.failed + 1 };
    return { tempo: Math.max(SLOWEST, Math.round(rung.tempo * (1 + afterTwoFails / 100))), clean: 0, failed: 0, atGoal: rung.atGoal };
  }
  const atGoal = rung.atGoal + (rung.tempo >= goal ? 1 : 0);
  if (rung.clean + 1 < cleanInARow || rung.tempo >= goal) return { ...rung, clean: rung.clean + 1, failed: 0, atGoal };
  const step = rung.tempo >= NEAR_SHARE * goal ? nearGoalStep : Math.max(1, Math.round((rung.tempo * stepPercent) / 100));
  return { tempo: Math.min(goal, rung.tempo + step), clean: 0, failed: 0, atGoal };
}
