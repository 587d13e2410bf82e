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

/** Writes a draft; false when the browser has no room for it. */
export function keepDraft(state: EditState): boolean {
  if (!state.id || !state.passage) return true;
  const draft: Draft = {
    passage: state.passage,
    version: state.version,
    past: state.past.slice(-200),
    future: state.future.slice(-200),
    cursor: state.cursor,
    unsaved: state.save !== "saved",
  };
  try {
    localStorage.setItem(key(state.id), JSON.stringify(draft));
    return true;
  } catch {
    try {
      localStorage.setItem(key(state.id), JSON.stringify({ ...draft, past: [], future: [] }));
      return true;
    } catch {
      return false;
    }
  }
}

/** A kept draft; null when there is none or it cannot be read any more: then its text is put aside, not lost. */
export function keptDraft(id: string): Draft | null {
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
  localStorage.removeItem(key(id));
}
