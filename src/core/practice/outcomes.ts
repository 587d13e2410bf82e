import type { PracticeSession, PracticeTry, PractisedDrill } from "./record.ts";

/** What came of a drill in a session. */
export interface Outcome {
  drill: Pick<PractisedDrill, "id" | "kind" | "title" | "goal">;
  tries: number;
  clean: number;
  /** The highest tempo that was clean; null where none was. */
  reached: number | null;
  seconds: number;
}

/** What came of every drill of a session, in its order. */
export function outcomesOf({ drills, tries }: Pick<PracticeSession, "drills" | "tries">): Outcome[] {
  return drills.map(({ id, kind, title, goal, seconds }) => ({
    drill: { id, kind, title, goal },
    ...countsOf(tries.filter(({ drill }) => drill === id)),
    seconds,
  }));
}

function countsOf(tries: readonly Pick<PracticeTry, "clean" | "tempo">[]): Pick<Outcome, "tries" | "clean" | "reached"> {
  const clean = tries.filter((one) => one.clean);
  return { tries: tries.length, clean: clean.length, reached: clean.length > 0 ? Math.max(...clean.map(({ tempo }) => tempo)) : null };
}

/** What a drill came to, in a sentence. */
export function outcomeWords({ drill, tries, clean, reached }: Pick<Outcome, "tries" | "clean" | "reached"> & { drill: { goal: number } }): string {
  if (tries === 0) return "not tried";
  const times = `${clean} of ${tries} clean`;
  if (reached === null) return `${times}: slower next time`;
  return reached >= drill.goal ? `${times}, at the goal of ${drill.goal}` : `${times}, up to ${reached} of ${drill.goal}`;
}
