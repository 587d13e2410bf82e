import { createSlice, type PayloadAction } from "@reduxjs/toolkit";
import type { Patch } from "immer";
import type { Place } from "../../core/edit/edit.ts";
import type { Passage } from "../../core/passage/schema.ts";

/** One step of undo: how to get there and back. */
export interface Change {
  patches: Patch[];
  inverse: Patch[];
}

export type SaveState = "saved" | "unsaved" | "saving" | "offline" | "refused" | "stale";

/** The passage on the bench, its history, and how far the library has it. */
export interface EditState {
  id: string | null;
  passage: Passage | null;
  /** Version of the library's copy that this is based on. */
  version: number;
  past: Change[];
  future: Change[];
  /** Counts changes; a save is complete when its serial is still the newest. */
  serial: number;
  save: SaveState;
  saveSays: string;
  /** The newest version that this page has heard of. */
  newest: number;
  cursor: Place & { string: number };
  /** Where a selection began; it goes up to the cursor. */
  anchor: Place | null;
}

const initialState: EditState = {
  id: null,
  passage: null,
  version: 0,
  past: [],
  future: [],
  serial: 0,
  save: "saved",
  saveSays: "",
  newest: 0,
  cursor: { bar: 0, tick: 0, string: 1 },
  anchor: null,
};

export interface Opened {
  id: string;
  passage: Passage;
  version: number;
  past: Change[];
  future: Change[];
  save: SaveState;
  cursor: EditState["cursor"];
}

/** A place that the passage has: where bars were taken away, the beginning of the last one that is left. */
function inside({ bars }: Passage, { bar, tick }: Place): Place {
  return bar < bars.length ? { bar, tick } : { bar: bars.length - 1, tick: 0 };
}

/** The very same cursor where the passage has its place: what follows the cursor alone need not be drawn again. */
function cursorIn(passage: Passage, cursor: EditState["cursor"]): EditState["cursor"] {
  if (cursor.bar < passage.bars.length && cursor.string <= passage.instrument.tuning.length) return cursor;
  return { ...inside(passage, cursor), string: Math.min(cursor.string, passage.instrument.tuning.length) };
}

const slice = createSlice({
  name: "edit",
  initialState,
  reducers: {
    opened(state, { payload }: PayloadAction<Opened>) {
      return { ...initialState, ...payload, cursor: cursorIn(payload.passage, payload.cursor), serial: state.serial + 1 };
    },
    closed: (state) => ({ ...initialState, serial: state.serial }),
    changed(state, { payload }: PayloadAction<{ passage: Passage; past: Change[]; future: Change[] }>) {
      Object.assign(state, payload);
      state.cursor = cursorIn(payload.passage, state.cursor);
      if (state.anchor) state.anchor = inside(payload.passage, state.anchor);
      state.serial++;
      if (state.save !== "stale") state.save = "unsaved";
    },
    movedTo(state, { payload }: PayloadAction<EditState["cursor"]>) {
      state.cursor = payload;
      state.anchor = null;
    },
    /** Moves on with everything in between selected. */
    selectedTo(state, { payload }: PayloadAction<{ cursor: EditState["cursor"]; from?: Place }>) {
      state.anchor = payload.from ?? state.anchor ?? { bar: state.cursor.bar, tick: state.cursor.tick };
      state.cursor = payload.cursor;
    },
    /** Somebody saved it, here or elsewhere. */
    heardOf(state, { payload }: PayloadAction<{ id: string; version: number }>) {
      if (state.id === payload.id) state.newest = Math.max(state.newest, payload.version);
    },
    saving(state) {
      state.save = "saving";
    },
    saved(state, { payload }: PayloadAction<{ id: string; version: number; serial: number }>) {
      if (state.id !== payload.id) return;
      state.version = payload.version;
      state.save = state.serial === payload.serial ? "saved" : "unsaved";
      state.saveSays = "";
    },
    saveFailed(state, { payload }: PayloadAction<{ id: string; save: "offline" | "refused" | "stale"; says: string }>) {
      if (state.id !== payload.id) return;
      state.save = payload.save;
      state.saveSays = payload.says;
    },
  },
});

export const { heardOf, opened, closed, changed, movedTo, selectedTo, saving, saved, saveFailed } = slice.actions;
export const editReducer = slice.reducer;
