import { parsePassage } from "../../core/passage/parse.ts";
import type { Passage } from "../../core/passage/schema.ts";
import type { Change, EditState } from "./edit-slice.ts";

/** What the browser keeps of a passage on the bench, so that nothing is lost by a reload or a server that is away. */
export interface Draft {
  passage: Passage;
  version: number;
  past: Change[];
  future: Change[];
  cursor: EditState["cursor"];
  /** Whether the library lacks some of it. */
  unsaved: boolean;
}

const key = (id: string) => `rest-hand:draft:${id}`;

/** A draft is written so long after a change, in ms: the page draws the change first. */
const WRITTEN_AFTER_MS = 60;

/** What is to be written; later changes of the same passage go with it. */
let waiting: { state: EditState; onFull: () => void } | null = null;

/** Keeps a passage in the browser a moment later, and in any case before the page goes; tells when the browser has no room for it. */
export function keepDraft(state: EditState, onFull: () => void): void {
  if (!state.id || !state.passage) return;
  if (waiting && waiting.state.id !== state.id) writeWaiting();
  if (!waiting) setTimeout(writeWaiting, WRITTEN_AFTER_MS);
  waiting = { state, onFull };
}

globalThis.addEventListener?.("pagehide", writeWaiting);

function writeWaiting(): void {
  if (!waiting) return;
  const { state, onFull } = waiting;
  waiting = null;
  const draft: Draft = {
    passage: state.passage!,
    version: state.version,
    past: state.past.slice(-200),
    future: state.future.slice(-200),
    cursor: state.cursor,
    unsaved: state.save !== "saved",
  };
  if (!written(key(state.id!), draft) && !written(key(state.id!), { ...draft, past: [], future: [] })) onFull();
}

function written(at: string, draft: Draft): boolean {
  try {
    localStorage.setItem(at, JSON.stringify(draft));
    return true;
  } catch {
    return false;
  }
}

/** A kept draft; null when there is none or it cannot be read any more: then its text is put aside, not lost. */
export function keptDraft(id: string): Draft | null {
  writeWaiting();
  const text = localStorage.getItem(key(id));
  if (!text) return null;
  try {
    const draft = JSON.parse(text) as Draft;
    const parsed = parsePassage(draft.passage);
    if (parsed.ok) return { ...draft, passage: parsed.value };
  } catch {
    // Not JSON: put aside below.
  }
  localStorage.setItem(`${key(id)}:unread`, text);
  return null;
}

export function dropDraft(id: string): void {
  if (waiting?.state.id === id) waiting = null;
  localStorage.removeItem(key(id));
}
