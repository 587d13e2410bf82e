import { type PracticeSession, practiceSessionSchema } from "../../core/practice/record.ts";
import { api } from "./api.ts";
import type { Dispatch } from "./root.ts";
import { ownKey } from "./whose.ts";

/*
 * Sessions on their way to the log: written to the browser's storage first, and taken out of it once the server has them, so that
 * neither a reload nor a server that is away costs a try.
 */

const keyOf = (id: string) => ownKey(`practised:${id}`);

/** False where this browser has no room for it. */
export function putOut(session: PracticeSession): boolean {
  try {
    localStorage.setItem(keyOf(session.id), JSON.stringify(session));
    return true;
  } catch {
    return false;
  }
}

/** The sessions that wait, with the texts that they are kept as; what is none is left alone. */
function waiting(): { session: PracticeSession; text: string }[] {
  return Object.keys(localStorage)
    .filter((key) => key.startsWith(keyOf("")))
    .flatMap((key) => {
      const text = localStorage.getItem(key)!;
      try {
        const read = practiceSessionSchema.safeParse(JSON.parse(text));
        return read.success ? [{ session: read.data, text }] : [];
      } catch {
        return [];
      }
    });
}

/** Whether anything waits to be sent. */
export function hasWaiting(): boolean {
  return waiting().length > 0;
}

/** The server has a session; one that has gone on meanwhile stays. */
function arrived({ id }: PracticeSession, text: string): void {
  if (localStorage.getItem(keyOf(id)) === text) localStorage.removeItem(keyOf(id));
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
    const next = waiting().find(({ session }) => !refused.has(session.id));
    if (!next) return;
    const { session, text } = next;
    const { error } = await dispatch(api.endpoints.keepSession.initiate(session, { track: false }));
    if (error) refused.add(session.id);
    else arrived(session, text);
  }
}
