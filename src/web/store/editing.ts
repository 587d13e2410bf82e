import type { UnknownAction } from "@reduxjs/toolkit";
import { applyPatches, enablePatches, produceWithPatches } from "immer";
import { applyEdit, type Edit } from "../../core/edit/edit.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { changed, type EditState } from "./edit-slice.ts";

enablePatches();

const MOST_UNDO = 500;

type Thunk = (dispatch: (action: UnknownAction) => unknown, getState: () => { edit: EditState }) => boolean;

/** Applies an edit with its undo; false when there was nothing to do. Bars it does not touch stay the same objects. */
export function edit(change: Edit): Thunk {
  return (dispatch, getState) => {
    const { passage, past } = getState().edit;
    if (!passage) return false;
    let done = false;
    const [next, patches, inverse] = produceWithPatches(passage, (draft) => {
      done = applyEdit(draft as Passage, change);
    });
    if (!done || patches.length === 0) return false;
    dispatch(changed({ passage: next, past: [...past.slice(-MOST_UNDO + 1), { patches, inverse }], future: [] }));
    return true;
  };
}

export function undo(): Thunk {
  return (dispatch, getState) => {
    const { passage, past, future } = getState().edit;
    const last = past.at(-1);
    if (!passage || !last) return false;
    dispatch(changed({ passage: applyPatches(passage, last.inverse), past: past.slice(0, -1), future: [...future, last] }));
    return true;
  };
}

export function redo(): Thunk {
  return (dispatch, getState) => {
    const { passage, past, future } = getState().edit;
    const next = future.at(-1);
    if (!passage || !next) return false;
    dispatch(changed({ passage: applyPatches(passage, next.patches), past: [...past, next], future: future.slice(0, -1) }));
    return true;
  };
}
