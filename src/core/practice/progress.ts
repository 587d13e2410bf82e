import type { Outcome } from "./outcomes.ts";
import type { PracticeSession } from "./record.ts";
import type { DrillState } from "./schedule.ts";
import type { TakeCounts } from "./takes.ts";

/* Figures that the log draws. What a day is, is the reader's: whoever asks names it. */

/** A session as far as its figures go. */
export interface Summed extends Pick<PracticeSession, "startedAt"> {
  outcomes: readonly Outcome[];
  takes: readonly TakeCounts[];
}

/** Seconds that were played, drills and takes. */
export function playedIn({ outcomes, takes }: Pick<Summed, "outcomes" | "takes">): number {
  return [...outcomes, ...takes].reduce((sum, { seconds }) => sum + seconds, 0);
}

/** Minutes that were played, by day. */
export function minutesByDay(sessions: readonly Summed[], dayOf: (at: Date) => string): Map<string, number> {
  const found = new Map<string, number>();
  for (const session of sessions) {
    const day = dayOf(new Date(session.startedAt));
    found.set(day, (found.get(day) ?? 0) + playedIn(session) / 60);
  }
  return found;
}

/** A drill in one session. */
export interface ProgressPoint {
  /** ms since 1970. */
  at: number;
  /** The highest clean tempo; null where nothing was clean. */
  reached: number | null;
  goal: number;
  clean: number;
  tries: number;
}

/** A drill over its sessions, the first one first. */
export interface DrillProgress {
  id: string;
  title: string;
  points: ProgressPoint[];
  clean: number;
  tries: number;
}

/** How each drill came on, the whole first, then what was practised last. */
export function progressOf(sessions: readonly Summed[]): DrillProgress[] {
  const found = new Map<string, DrillProgress>();
  for (const { startedAt, outcomes } of [...sessions].sort((a, b) => a.startedAt.localeCompare(b.startedAt)))
    for (const { drill, tries, clean, reached } of outcomes) {
      if (tries === 0) continue;
      const known = found.get(drill.id) ?? { id: drill.id, title: drill.title, points: [], clean: 0, tries: 0 };
      known.title = drill.title;
      known.points.push({ at: Date.parse(startedAt), reached, goal: drill.goal, clean, tries });
      known.clean += clean;
      known.tries += tries;
      found.set(drill.id, known);
    }
  const last = ({ points }: DrillProgress) => points.at(-1)!.at;
  return [...found.values()].sort((a, b) => Number(b.id === "whole") - Number(a.id === "whole") || last(b) - last(a));
}

/** Takes, the first one first. */
export function takesIn(sessions: readonly Summed[]): TakeCounts[] {
  return sessions.flatMap(({ takes }) => takes).sort((a, b) => a.at.localeCompare(b.at));
}

/** What is due up to a moment, what has waited longest first. */
export function dueBy<State extends Pick<DrillState, "due">>(states: readonly State[], by: number): State[] {
  return states.filter(({ due }) => due <= by).sort((a, b) => a.due - b.due);
}
