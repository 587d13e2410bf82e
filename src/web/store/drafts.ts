import equal from "fast-deep-equal";
import { parsePassage } from "../../core/passage/parse.ts";
import type { Passage } from "../../core/passage/schema.ts";
import type { Change, EditState } from "./edit-slice.ts";
import { ownKey } from "./whose.ts";

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

const key = (id: string) => ownKey(`draft:${id}`);
/** Where the cursor went after the draft was written. */
const cursorKey = (id: string) => `${key(id)}:cursor`;

/** A draft is written when no change has followed for so long, and no later than this after the first of them, in ms: it takes the page's time. */
const PAUSE_MS = 250;
const LATEST_MS = 1000;

/** What is to be written; later changes of the same passage go with it. */
let waiting: { state: EditState; onFull: () => void; since: number; timer: ReturnType<typeof setTimeout> } | null = null;

/** What was written last. Where only the cursor has moved since, only the cursor is written. */
let last: EditState | null = null;

/** Keeps a passage in the browser a moment later, and in any case before the page goes; says when the browser has no room for it. */
export function keepDraft(state: EditState, onFull: () => void): void {
  if (!state.id || !state.passage) return;
  if (waiting && waiting.state.id !== state.id) writeWaiting();
  if (waiting) clearTimeout(waiting.timer);
  const now = Date.now();
  const since = waiting?.since ?? now;
  waiting = { state, onFull, since, timer: setTimeout(writeWaiting, Math.max(0, Math.min(PAUSE_MS, since + LATEST_MS - now))) };
}

globalThis.addEventListener?.("pagehide", writeWaiting);
// Another tab wrote or dropped a draft: what this one wrote may be gone, so that the cursor alone would not do.
globalThis.addEventListener?.("storage", () => {
  last = null;
});

function writeWaiting(): void {
  if (!waiting) return;
  const { state, onFull, timer } = waiting;
  clearTimeout(timer);
  waiting = null;
  const draft: Draft = {
    passage: state.passage!,
    version: state.version,
    past: state.past.slice(-200),
    future: state.future.slice(-200),
    cursor: state.cursor,
    unsaved: state.save !== "saved",
  };
  const id = state.id!;
  const onlyMoved = last !== null && saysTheSame(last, state);
  const done = onlyMoved ? written(cursorKey(id), state.cursor) : written(key(id), draft) || written(key(id), { ...draft, past: [], future: [] });
  if (!onlyMoved) localStorage.removeItem(cursorKey(id));
  last = done ? state : null;
  if (!done) onFull();
}

function saysTheSame(a: EditState, b: EditState): boolean {
  return a.id === b.id && a.passage === b.passage && a.version === b.version && a.past === b.past && a.future === b.future && a.save === b.save;
}

function written(at: string, what: object): boolean {
  try {
    localStorage.setItem(at, JSON.stringify(what));
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
    if (parsed.ok) return { ...draft, cursor: movedCursor(id) ?? draft.cursor, passage: parsed.value };
  } catch {
    // Not JSON: put aside below.
  }
  localStorage.setItem(`${key(id)}:unread`, text);
  return null;
}

/** Where the cursor went since; null when it stayed, or when that cannot be read: it is no reason to put a draft aside. */
function movedCursor(id: string): Draft["cursor"] | null {
  try {
    return JSON.parse(localStorage.getItem(cursorKey(id)) ?? "null");
  } catch {
    return null;
  }
}

export function dropDraft(id: string): void {
  if (waiting?.state.id === id) {
    clearTimeout(waiting.timer);
    waiting = null;
  }
  if (last?.id === id) last = null;
  localStorage.removeItem(key(id));
  localStorage.removeItem(cursorKey(id));
}

/** The passages of whoever is here of which this browser keeps something that the library lacks, by their ids. */
export function unsavedIds(): string[] {
  writeWaiting();
  return Object.keys(localStorage)
    .filter((at) => at.startsWith(key("")) && /"unsaved":true/.test(localStorage.getItem(at) ?? ""))
    .map((at) => at.slice(key("").length));
}

/** The library has taken over what was sent of a draft, as a new version; what has gone on meanwhile is based on that. */
export function arrived(id: string, sent: { passage: Passage; basedOn: number }, version: number): void {
  const draft = keptDraft(id);
  if (draft?.unsaved && draft.version === sent.basedOn) written(key(id), { ...draft, version, unsaved: !equal(draft.passage, sent.passage) });
}
