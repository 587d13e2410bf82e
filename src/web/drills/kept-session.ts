import { ownKey } from "../store/whose.ts";
import type { Session } from "./session.ts";

/*
 * A session that was left before its end, as this browser keeps it: a reload, a call or a broken string costs nothing.
 */

/** What is kept says which version of a session it is: another one is not read. */
const FORMAT = "rest-hand-session/2";

const KEY = (passageId: string) => ownKey(`session:${passageId}`);

/** False where this browser has no room for it. */
export function keepSession(passageId: string, session: Session): boolean {
  try {
    localStorage.setItem(KEY(passageId), JSON.stringify({ format: FORMAT, session }));
    return true;
  } catch {
    return false;
  }
}

export function dropSession(passageId: string): void {
  localStorage.removeItem(KEY(passageId));
}

/** What was left of a session of a passage; null where none was, or what is kept is another version's. */
export function keptSession(passageId: string): Session | null {
  let kept: { format?: unknown; session?: Session } | null;
  try {
    kept = JSON.parse(localStorage.getItem(KEY(passageId)) ?? "null");
  } catch {
    return null;
  }
  return kept?.format === FORMAT && kept.session && kept.session.at < kept.session.drills.length ? kept.session : null;
}
