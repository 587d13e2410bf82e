import equal from "fast-deep-equal";
import type { StoredPassage } from "../../api/wire.ts";
import type { Draft } from "./drafts.ts";
import type { Opened } from "./edit-slice.ts";

const START = { bar: 0, tick: 0, string: 1 };

/** What the library answered: a passage, that there is none, or nothing at all. */
export type Answer = { kind: "there"; stored: Pick<StoredPassage, "passage" | "version"> } | { kind: "gone" } | { kind: "away" };

/**
 * How a passage is opened: from the library, or from what this browser kept where that has what the library lacks, or where the
 * library cannot be asked. Null where there is nothing to open.
 */
export function openingOf(id: string, answer: Answer, draft: Draft | null): Opened | null {
  if (answer.kind === "gone") return null;
  if (answer.kind === "away") return draft && openedFrom(id, draft, draft.unsaved ? "unsaved" : "saved");
  const { passage, version } = answer.stored;
  if (draft?.unsaved && !equal(draft.passage, passage)) return openedFrom(id, draft, draft.version === version ? "unsaved" : "stale");
  // Its history holds for the very version that it was made in.
  const same = draft && draft.version === version ? draft : null;
  return { id, passage, version, past: same?.past ?? [], future: same?.future ?? [], cursor: same?.cursor ?? START, save: "saved" };
}

function openedFrom(id: string, { passage, version, past, future, cursor }: Draft, save: Opened["save"]): Opened {
  return { id, passage, version, past, future, cursor, save };
}
