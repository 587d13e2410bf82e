import { type Card, createEmptyCard, fsrs, type Grade, Rating } from "ts-fsrs";
import type { DrillKind, Try } from "../drills/types.ts";
import { type PracticeSession, type PracticeTry, triesOf } from "./record.ts";

/*
 * When a drill is due again: a spaced schedule (the package's FSRS-6 with its published parameters, whole days, no chance in it).
 * One session is one review of each drill that was tried in it.
 */

const SCHEDULER = fsrs({ enable_fuzz: false, enable_short_term: false });

/** So many of the last tries of a session say how it went. */
const LAST_TRIES = 6;
/** So many tries are remembered of a drill, from whichever session: what the rules of practice look back at. */
const REMEMBERED = 12;

/** How a drill stands after all that was practised. */
export interface DrillState {
  id: string;
  kind: DrillKind;
  title: string;
  goal: number;
  /** Its last tries, the latest last. */
  lately: Try[];
  /** When it was last practised and when it is due again, in ms since 1970. */
  last: number;
  due: number;
}

/** All clean: good, at the goal easy; some clean: hard; none: again. Null without a try. */
export function gradeOf(tries: readonly Pick<PracticeTry, "clean" | "tempo">[], goal: number): Grade | null {
  const last = tries.slice(-LAST_TRIES);
  if (last.length === 0) return null;
  const clean = last.filter((one) => one.clean).length;
  if (clean === 0) return Rating.Again;
  if (clean < last.length) return Rating.Hard;
  return last.every(({ tempo }) => tempo >= goal) ? Rating.Easy : Rating.Good;
}

/** How every drill stands after some sessions of one passage or move, in any order. */
export function drillStatesOf(sessions: readonly Pick<PracticeSession, "startedAt" | "drills" | "tries">[]): DrillState[] {
  const found = new Map<string, { state: DrillState; card: Card }>();
  for (const { drills, tries } of [...sessions].sort((a, b) => a.startedAt.localeCompare(b.startedAt)))
    for (const { id, kind, title, goal } of drills) {
      const own = tries.filter(({ drill }) => drill === id);
      const grade = gradeOf(own, goal);
      if (grade === null) continue;
      const before = found.get(id);
      // A clock that was set back, or two sessions at once: nothing was practised before it was practised last.
      const at = new Date(Math.max(Date.parse(own.at(-1)!.at), before?.state.last ?? 0));
      const { card } = SCHEDULER.next(before?.card ?? createEmptyCard(at), at, grade);
      const lately = [...(before?.state.lately ?? []), ...triesOf(own)].slice(-REMEMBERED);
      found.set(id, { card, state: { id, kind, title, goal, lately, last: at.getTime(), due: card.due.getTime() } });
    }
  return [...found.values()].map(({ state }) => state);
}
