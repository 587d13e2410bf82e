import { firstRung, nextRung, type Rung } from "../../core/drills/ladder.ts";
import type { Drill, DrillPlan, Try } from "../../core/drills/types.ts";

/** A session under way: which drill, where on its ladder, what was tried. */
export interface Session {
  drills: readonly Drill[];
  /** The drill that is on; as many as there are when all is done. */
  at: number;
  rung: Rung;
  /** Seconds that the drill was played. */
  played: number;
  tries: readonly Try[];
}

export function begun({ drills }: DrillPlan): Session {
  return { drills, at: 0, rung: rungOf(drills[0]), played: 0, tries: [] };
}

function rungOf(drill: Drill | undefined): Rung {
  return drill ? firstRung(drill.tempo) : { tempo: 0, clean: 0, failed: 0, atGoal: 0 };
}

export function drillOn({ drills, at }: Session): Drill | null {
  return drills[at] ?? null;
}

/** A try was clean, or it was not. */
export function tried(session: Session, clean: boolean, now: number): Session {
  const drill = drillOn(session);
  if (!drill) return session;
  const tries = [...session.tries, { drill: drill.id, tempo: session.rung.tempo, clean, at: now }];
  return { ...session, tries, rung: nextRung(drill.tempo, session.rung, clean) };
}

/** So many seconds more were played. */
export function wentOn(session: Session, seconds: number): Session {
  return { ...session, played: session.played + seconds };
}

/** Why a drill is over; null while it is not. */
export function endOf(session: Session): "goal" | "time" | null {
  const drill = drillOn(session);
  if (!drill) return null;
  if (session.rung.atGoal >= drill.ends.times) return "goal";
  return session.played >= 60 * drill.ends.orMinutes ? "time" : null;
}

export function nextDrill(session: Session): Session {
  const at = Math.min(session.drills.length, session.at + 1);
  return { ...session, at, rung: rungOf(session.drills[at]), played: 0 };
}

/** What came of a drill. */
export interface Outcome {
  drill: Drill;
  tries: number;
  clean: number;
  /** The highest tempo that was clean; null where none was. */
  reached: number | null;
}

export function outcomesOf({ drills, tries }: Session): Outcome[] {
  return drills.map((drill) => {
    const own = tries.filter((one) => one.drill === drill.id);
    const clean = own.filter((one) => one.clean);
    return { drill, tries: own.length, clean: clean.length, reached: clean.length > 0 ? Math.max(...clean.map(({ tempo }) => tempo)) : null };
  });
}

/** What a drill came to, in a sentence. */
export function outcomeWords({ drill, tries, clean, reached }: Outcome): string {
  if (tries === 0) return "not tried";
  const times = `${clean} of ${tries} clean`;
  if (reached === null) return `${times}: slower next time`;
  return reached >= drill.tempo.goal ? `${times}, at the goal of ${drill.tempo.goal}` : `${times}, up to ${reached} of ${drill.tempo.goal}`;
}
