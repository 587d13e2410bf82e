import { type PracticeSession, practiceSessionSchema } from "../../core/practice/record.ts";
import { api } from "./api.ts";
import type { Dispatch } from "./root.ts";

/*
 * Sessions on their way to the log: written to the browser's storage first, and taken out of it once the server has them, so that
 * neither a reload nor a server that is away costs a try.
 */

const START = "rest-hand:practised:";

/** False where this browser has no room for it. */
export function putOut(session: PracticeSession): boolean {
  try {
    localStorage.setItem(START + session.id, JSON.stringify(session));
    return true;
  } catch {
    return false;
  }
}

/** The sessions that wait; what is none is left alone. */
export function waitingSessions(): PracticeSession[] {
  return Object.keys(localStorage)
    .filter((key) => key.startsWith(START))
    .flatMap((key) => {
      try {
        const read = practiceSessionSchema.safeParse(JSON.parse(localStorage.getItem(key)!));
        return read.success ? [read.data] : [];
      } catch {
        return [];
      }
    });
}

/** The server has a session; one that has gone on meanwhile stays. */
export function arrived(session: PracticeSession): void {
  if (localStorage.getItem(START + session.id) === JSON.stringify(session)) localStorage.removeItem(START + session.id);
}

/** Sends what waits, one after the other; once at a time, whoever asks. */
export function sendWaiting(): (dispatch: Dispatch) => Promise<void> {
  return (dispatch) => {
    sending ??= sendAll(dispatch).finally(() => {
      sending = null;
    });
    return sending;
  };
}

let sending: Promise<void> | null = null;

async function sendAll(dispatch: Dispatch): Promise<void> {
  const refused = new Set<string>();
  for (;;) {
    // What has gone on meanwhile waits again.
    const session = waitingSessions().find(({ id }) => !refused.has(id));
    if (!session) return;
    const { error } = await dispatch(api.endpoints.keepSession.initiate(session, { track: false }));
    if (error) refused.add(session.id);
    else arrived(session);
  }
}
