import { createListenerMiddleware } from "@reduxjs/toolkit";
import type { Passage } from "../../core/passage/schema.ts";
import { api, troubleOf } from "./api.ts";
import { arrived, keepDraft } from "./drafts.ts";
import { holdOpen, sendDrafts } from "./drafts-outbox.ts";
import { changed, closed, movedTo, opened, saved, saveFailed, saving } from "./edit-slice.ts";
import { notify } from "./notices-slice.ts";
import type { Dispatch, RootState } from "./root.ts";

const SAVE_AFTER_MS = 500;
const RETRY_AFTER_MS = 3000;

/** Keeps every change in the browser at once and in the library a moment later. */
export const autosave = createListenerMiddleware();
const listen = autosave.startListening.withTypes<RootState, Dispatch>();

listen({
  predicate: (action) => [changed, saved, saveFailed, opened, movedTo].some((a) => a.match(action)),
  effect: (_action, { getState, dispatch }) =>
    keepDraft(getState().edit, () => dispatch(notify({ says: "The browser has no room left to keep unsaved work." }))),
});

listen({
  predicate: (action) => changed.match(action) || opened.match(action) || saveFailed.match(action),
  effect: async (action, { getState, dispatch, delay, cancelActiveListeners, signal }) => {
    cancelActiveListeners();
    const before = getState().edit;
    if (before.save === "saved" || before.save === "stale" || before.save === "refused") return;
    await delay(saveFailed.match(action) ? RETRY_AFTER_MS : SAVE_AFTER_MS);
    await saveNow(getState, dispatch, signal);
  },
});

/** Saves until the library has the newest change; one request at a time. */
async function saveNow(getState: () => RootState, dispatch: Dispatch, signal: AbortSignal): Promise<void> {
  while (!signal.aborted) {
    const { id, passage, version, serial, save } = getState().edit;
    if (!id || !passage || save === "saved" || save === "stale") return;
    if (running) {
      await running;
      continue;
    }
    dispatch(saving());
    running = send(id, passage, version, serial, dispatch, getState).finally(() => {
      running = null;
    });
    await running;
    if (getState().edit.save !== "unsaved") return;
  }
}

let running: Promise<void> | null = null;

async function send(id: string, passage: Passage, basedOn: number, serial: number, dispatch: Dispatch, getState: () => RootState): Promise<void> {
  const result = await dispatch(api.endpoints.save.initiate({ id, basedOn, passage }, { track: false }));
  if (result.data) {
    dispatch(saved({ id, version: result.data.version, serial }));
    if (getState().edit.id !== id) arrived(id, { passage, basedOn }, result.data.version);
    return;
  }
  const trouble = troubleOf(result.error);
  const stale = trouble.status === 412 || trouble.status === 404;
  // Who has to sign in again, and who asks too often, is taken later.
  const refused = trouble.status !== null && trouble.status < 500 && !stale && trouble.status !== 401 && trouble.status !== 429;
  dispatch(saveFailed({ id, save: stale ? "stale" : refused ? "refused" : "offline", says: trouble.says ?? trouble.title }));
}

/** While a passage is open it saves itself; what is left of it then is sent at once. */
let letGo = () => {};
listen({
  predicate: (action) => opened.match(action) || closed.match(action),
  effect: (action, { getState, dispatch }) => {
    letGo();
    const { id } = getState().edit;
    letGo = id ? holdOpen(id) : () => {};
    if (!closed.match(action)) return;
    // What it was sending itself has its answer first.
    void (running ?? Promise.resolve()).then(() => dispatch(sendDrafts()));
  },
});
