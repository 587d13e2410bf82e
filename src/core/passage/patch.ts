import jsonPatch, { type Operation } from "fast-json-patch";
import { produce } from "immer";
import type { Passage } from "./schema.ts";

/** A change to a passage document as RFC 6902 has it, but for moves and copies. */
export type Patch = readonly ({ op: "test" | "add" | "replace"; path: string; value: unknown } | { op: "remove"; path: string })[];

/** Applies a patch in place (hand it a copy or a draft); false, with nothing changed, when it was made for another version. */
export function applyPatchTo(passage: Passage, patch: Patch): boolean {
  try {
    jsonPatch.applyPatch(passage, patch as Operation[]);
    return true;
  } catch (error) {
    // The test comes first, so nothing is changed yet.
    if (error instanceof jsonPatch.JsonPatchError) return false;
    throw error;
  }
}

/** The passage with the patch applied, sharing all that it leaves alone; null when it was made for another version. */
export function patched(passage: Passage, patch: Patch): Passage | null {
  let fits = true;
  const changed = produce(passage, (draft) => {
    fits = applyPatchTo(draft as Passage, patch);
  });
  return fits ? changed : null;
}
