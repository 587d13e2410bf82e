import type { DrillPlan } from "../../core/drills/types.ts";
import type { Session } from "./session.ts";

/** A session that was left before its end, as this browser keeps it: so a reload, a call or a broken string costs nothing. */
export interface KeptSession {
  plan: DrillPlan;
  session: Session;
}

const KEY = (passageId: string) => `rest-hand:session:${passageId}`;

export function keepSession(passageId: string, kept: KeptSession): void {
  try {
    localStorage.setItem(KEY(passageId), JSON.stringify(kept));
  } catch {
    // A full store: the session goes on, and is not kept.
  }
}

export function dropSession(passageId: string): void {
  localStorage.removeItem(KEY(passageId));
}

/** What was left of a session of a passage; null where none was, or what is kept cannot be read. */
export function keptSession(passageId: string): KeptSession | null {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY(passageId)) ?? "null") as Partial<KeptSession> | null;
    const { plan, session } = kept ?? {};
    const fits =
      plan?.format === "rest-hand-drills" &&
      plan.version === 1 &&
      Array.isArray(session?.drills) &&
      session.at < session.drills.length &&
      Array.isArray(session.tries);
    return fits ? (kept as KeptSession) : null;
  } catch {
    return null;
  }
}
