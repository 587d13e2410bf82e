import { api } from "./api.ts";
import { arrived, keptDraft, unsavedIds } from "./drafts.ts";
import type { Dispatch, RootState } from "./root.ts";

/*
 * Changes that were left before they had reached the library: the passage was closed too soon, or the server was away. They are sent
 * when the passage is closed, and when the server is back. A passage that is open saves itself, in this tab and in others.
 */

/** Browsers have locks on safe addresses alone. Without them two tabs may both send: nothing is lost, but one of them may ask. */
const locksHere = () => globalThis.navigator?.locks;
const lockOf = (id: string) => `rest-hand:open:${id}`;

/** Says to all tabs that a passage is open in this one, until the function that it returns is called. */
export function holdOpen(id: string): () => void {
  let letGo = () => {};
  const held = new Promise<void>((resolve) => {
    letGo = resolve;
  });
  void locksHere()?.request(lockOf(id), { mode: "shared" }, () => held);
  return letGo;
}

const underWay = new Map<string, Promise<void>>();

/** When what is being sent of a passage has arrived or not; null where nothing is. */
export function sendingOf(id: string): Promise<void> | null {
  return underWay.get(id) ?? null;
}

/** Sends what the library lacks of passages that are open nowhere. What it does not take is asked about when the passage is opened. */
export function sendDrafts() {
  return async (dispatch: Dispatch, getState: () => RootState): Promise<void> => {
    for (const id of unsavedIds()) if (getState().edit.id !== id && !underWay.has(id)) await dispatch(sendDraft(id));
  };
}

function sendDraft(id: string) {
  return (dispatch: Dispatch): Promise<void> => {
    const send = async () => {
      const draft = keptDraft(id);
      if (!draft?.unsaved) return;
      const sent = { basedOn: draft.version, passage: draft.passage };
      const { data } = await dispatch(api.endpoints.save.initiate({ id, ...sent }, { track: false }));
      if (data) arrived(id, sent, data.version);
    };
    const locks = locksHere();
    const done = locks ? Promise.resolve(locks.request(lockOf(id), { ifAvailable: true }, (lock) => (lock ? send() : undefined))) : send();
    const sent = done.finally(() => underWay.delete(id));
    underWay.set(id, sent);
    return sent;
  };
}
