import { firstRung, nextRung, type Rung } from "../../core/drills/ladder.ts";
import type { Drill, DrillPlan } from "../../core/drills/types.ts";
import { type Outcome, outcomesOf } from "../../core/practice/outcomes.ts";
import type { Discomfort, PracticeSession, PracticeTry, SorePlace } from "../../core/practice/record.ts";

/** What is practised: a passage of the library, or a move without one. */
export type Practised = Pick<PracticeSession, "passage" | "figure" | "title">;

/** A session under way: which drill, where on its ladder, what was tried. */
export interface Session {
  id: string;
  of: Practised;
  /** ISO 8601 in UTC. */
  startedAt: string;
  /** Minutes that were planned. */
  minutes: number;
  drills: readonly Drill[];
  /** The drill that is on; as many as there are when all is done. */
  at: number;
  rung: Rung;
  /** Seconds that each drill was played. */
  seconds: readonly number[];
  tries: readonly PracticeTry[];
  discomforts: readonly Discomfort[];
  note: string;
}

export function begun({ drills, minutes }: DrillPlan, of: Practised, id: string, now: Date): Session {
  const nothing = { tries: [], discomforts: [], note: "", seconds: drills.map(() => 0) };
  return { id, of, startedAt: now.toISOString(), minutes, drills, at: 0, rung: rungOf(drills[0]), ...nothing };
}

function rungOf(drill: Drill | undefined): Rung {
  return drill ? firstRung(drill.tempo) : { tempo: 0, clean: 0, failed: 0, atGoal: 0 };
}

export function drillOn({ drills, at }: Session): Drill | null {
  return drills[at] ?? null;
}

/** A try was clean, or it was not. */
export function tried(session: Session, clean: boolean, now: Date, by: PracticeTry["by"] = "player"): Session {
  const drill = drillOn(session);
  if (!drill) return session;
  const made: PracticeTry = { drill: drill.id, tempo: session.rung.tempo, clean, at: now.toISOString(), by };
  return { ...session, tries: [...session.tries, made], rung: nextRung(drill.tempo, session.rung, clean) };
}

/** The last try the other way round, as the player has it; on the ladder it is as if it had been so at once. */
export function overruled(session: Session, rung: Rung): Session {
  const [drill, last] = [drillOn(session), session.tries.at(-1)];
  if (!drill || last?.drill !== drill.id) return session;
  const made: PracticeTry = { ...last, clean: !last.clean, by: "player" };
  return { ...session, tries: [...session.tries.slice(0, -1), made], rung: nextRung(drill.tempo, rung, made.clean) };
}

/** So many seconds more were played. */
export function wentOn(session: Session, seconds: number): Session {
  return { ...session, seconds: session.seconds.map((own, i) => (i === session.at ? own + seconds : own)) };
}

/** Seconds that the drill that is on was played. */
export function playedOf({ seconds, at }: Session): number {
  return seconds[at] ?? 0;
}

/** Why a drill is over; null while it is not. */
export function endOf(session: Session): "goal" | "time" | null {
  const drill = drillOn(session);
  if (!drill) return null;
  if (session.rung.atGoal >= drill.ends.times) return "goal";
  return playedOf(session) >= 60 * drill.ends.orMinutes ? "time" : null;
}

export function nextDrill(session: Session): Session {
  const at = Math.min(session.drills.length, session.at + 1);
  return { ...session, at, rung: rungOf(session.drills[at]) };
}

/** Something hurts: noted at once, where is said later or never. */
export function hurt(session: Session, now: Date): Session {
  const drill = drillOn(session);
  const noted: Discomfort = { at: now.toISOString(), where: null, drill: drill?.id ?? null, contact: drill?.focus.contact ?? null };
  return { ...session, discomforts: [...session.discomforts, noted] };
}

/** Where it hurt, of what was noted last. */
export function hurtAt(session: Session, where: SorePlace): Session {
  const last = session.discomforts.at(-1);
  return last ? { ...session, discomforts: [...session.discomforts.slice(0, -1), { ...last, where }] } : session;
}

/** The session as the log keeps it. */
export function recordOf({ id, of, startedAt, minutes, drills, seconds, tries, discomforts, note }: Session, now: Date): PracticeSession {
  return {
    id,
    ...of,
    startedAt,
    endedAt: now.toISOString(),
    minutes,
    note,
    drills: drills.map(({ id: drill, kind, title, tempo }, i) => ({ id: drill, kind, title, start: tempo.start, goal: tempo.goal, seconds: seconds[i]! })),
    tries: [...tries],
    discomforts: [...discomforts],
    takes: [],
  };
}

/** Whether there is anything to keep of a session. */
export function isWorthKeeping({ tries, discomforts, note, seconds }: Session): boolean {
  return tries.length > 0 || discomforts.length > 0 || note !== "" || seconds.some((played) => played >= 60);
}

/** What came of every drill. */
export function cameOf(session: Session): Outcome[] {
  return outcomesOf(recordOf(session, new Date(session.startedAt)));
}
