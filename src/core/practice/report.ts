import type { Outcome } from "./outcomes.ts";
import { playedIn, type Summed, takesIn } from "./progress.ts";
import type { PracticeSession } from "./record.ts";

/* What a teacher sees of a log: figures alone, none of the player's words, nothing of where it hurt. */

/** A session as far as a report goes. */
export type Reported = Summed & Pick<PracticeSession, "passage" | "figure" | "title">;

/** What came of one passage or move. */
export interface ReportedSubject {
  passage: string | null;
  figure: string | null;
  title: string;
  seconds: number;
  sessions: number;
  /** When it was practised last. */
  last: string;
  tries: number;
  clean: number;
  /** The highest clean tempo of the passage as a whole, and its goal; null where the whole was not tried. */
  whole: { reached: number | null; goal: number } | null;
  /** How many takes, and how much went wrong in the first and in the last one; null without takes. */
  takes: { many: number; first: number; last: number } | null;
}

/** A drill that does not go yet. */
export interface HardDrill {
  /** The passage or move. */
  of: string;
  title: string;
  tries: number;
  clean: number;
  reached: number | null;
  goal: number;
}

export interface PracticeReport {
  seconds: number;
  /** Days on which something was played. */
  days: number;
  /** What was practised most comes first. */
  subjects: ReportedSubject[];
  /** What goes least well comes first. */
  hardest: HardDrill[];
}

/** A drill that was tried less often says nothing. */
const LEAST_TRIES = 3;
const MOST_HARD = 5;

/** What sessions come to; `dayOf` says which day a moment is on. */
export function reportOf(sessions: readonly Reported[], dayOf: (at: Date) => string): PracticeReport {
  const bySubject = grouped(sessions, ({ passage, figure, title }) => passage ?? (figure ? `move ${figure}` : `gone ${title}`));
  const subjects = [...bySubject.values()].map(subjectOf).sort((a, b) => b.seconds - a.seconds);
  const hardest = [...bySubject.values()]
    .flatMap((own) => drillSums(own).map((drill) => ({ of: titleOf(own), ...drill })))
    .filter(({ tries, clean }) => tries >= LEAST_TRIES && clean < tries)
    // With few tries a share says little: one clean and one other are added to each.
    .sort((a, b) => (a.clean + 1) / (a.tries + 2) - (b.clean + 1) / (b.tries + 2))
    .slice(0, MOST_HARD);
  const played = sessions.filter((session) => playedIn(session) > 0);
  return {
    seconds: subjects.reduce((sum, { seconds }) => sum + seconds, 0),
    days: new Set(played.map(({ startedAt }) => dayOf(new Date(startedAt)))).size,
    subjects,
    hardest,
  };
}

function subjectOf(sessions: readonly Reported[]): ReportedSubject {
  const [{ passage, figure }] = sessions as [Reported];
  const outcomes = sessions.flatMap((session) => session.outcomes);
  const whole = outcomes.filter(({ drill, tries }) => drill.kind === "whole" && tries > 0);
  const takes = takesIn(sessions);
  return {
    passage,
    figure,
    title: titleOf(sessions),
    seconds: sessions.reduce((sum, session) => sum + playedIn(session), 0),
    sessions: sessions.length,
    last: latest(sessions).startedAt,
    tries: sumOf(outcomes, "tries"),
    clean: sumOf(outcomes, "clean"),
    whole: whole.length > 0 ? { reached: highest(whole), goal: whole.at(-1)!.drill.goal } : null,
    takes: takes.length > 0 ? { many: takes.length, first: takes[0]!.wrong, last: takes.at(-1)!.wrong } : null,
  };
}

/** Each drill of one passage or move over all its sessions. */
function drillSums(sessions: readonly Reported[]): Omit<HardDrill, "of">[] {
  const inOrder = [...sessions].sort((a, b) => a.startedAt.localeCompare(b.startedAt)).flatMap(({ outcomes }) => outcomes);
  return [...grouped(inOrder, ({ drill }) => drill.id).values()].map((own) => ({
    title: own.at(-1)!.drill.title,
    goal: own.at(-1)!.drill.goal,
    tries: sumOf(own, "tries"),
    clean: sumOf(own, "clean"),
    reached: highest(own),
  }));
}

function grouped<T>(all: readonly T[], keyOf: (one: T) => string): Map<string, T[]> {
  const found = new Map<string, T[]>();
  for (const one of all) found.set(keyOf(one), [...(found.get(keyOf(one)) ?? []), one]);
  return found;
}

function latest(sessions: readonly Reported[]): Reported {
  return sessions.reduce((last, session) => (session.startedAt > last.startedAt ? session : last));
}

/** As it is called now. */
function titleOf(sessions: readonly Reported[]): string {
  return latest(sessions).title;
}

function sumOf(outcomes: readonly Outcome[], what: "tries" | "clean"): number {
  return outcomes.reduce((sum, outcome) => sum + outcome[what], 0);
}

function highest(outcomes: readonly Outcome[]): number | null {
  const reached = outcomes.flatMap((outcome) => outcome.reached ?? []);
  return reached.length > 0 ? Math.max(...reached) : null;
}
