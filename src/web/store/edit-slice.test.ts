import { configureStore } from "@reduxjs/toolkit";
import { describe, expect, it } from "vitest";
import { parsePassage } from "../../core/passage/parse.ts";
import { presetFor } from "../../core/passage/presets.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { editReducer, movedTo, opened, saved, saveFailed, saving, selectedTo } from "./edit-slice.ts";
import { edit, redo, undo } from "./editing.ts";

function passage(): Passage {
  const parsed = parsePassage({
    format: "rest-hand-passage",
    version: 1,
    title: "t",
    instrument: presetFor(6),
    tempo: 100,
    bars: [
      { meter: [4, 4], strokes: [] },
      { meter: [4, 4], strokes: [] },
    ],
  });
  if (!parsed.ok) throw new Error("bad");
  return parsed.value;
}

function bench() {
  const store = configureStore({ reducer: { edit: editReducer } });
  store.dispatch(opened({ id: "a", passage: passage(), version: 3, past: [], future: [], save: "saved", cursor: { bar: 0, tick: 0, string: 1 } }));
  return store;
}

const fret = (n: number, bar = 0) => edit({ kind: "set-fret", place: { bar, tick: 0 }, string: 5, fret: n, length: 5040 });

describe("editing with undo", () => {
  it("goes back and forth through every change and keeps untouched bars the same objects", () => {
    const store = bench();
    const before = store.getState().edit.passage!;
    for (const n of [3, 5, 7]) store.dispatch(fret(n));
    const after = store.getState().edit.passage!;
    expect(after.bars[1]).toBe(before.bars[1]);
    for (let i = 0; i < 3; i++) store.dispatch(undo());
    expect(store.getState().edit.passage).toEqual(before);
    for (let i = 0; i < 3; i++) store.dispatch(redo());
    expect(store.getState().edit.passage).toEqual(after);
    expect(store.dispatch(redo())).toBe(false);
  });
  it("a new change forgets what was undone", () => {
    const store = bench();
    store.dispatch(fret(3));
    store.dispatch(undo());
    store.dispatch(fret(9));
    expect(store.getState().edit.future).toEqual([]);
  });
  it("cursor and selection stay inside the passage when bars are taken away, by an edit or by undo", () => {
    const store = bench();
    store.dispatch(edit({ kind: "add-bar", after: 1 }));
    store.dispatch(movedTo({ bar: 1, tick: 0, string: 2 }));
    store.dispatch(selectedTo({ cursor: { bar: 2, tick: 5040, string: 2 } }));
    store.dispatch(undo());
    expect(store.getState().edit).toMatchObject({ cursor: { bar: 1, tick: 0, string: 2 }, anchor: { bar: 1, tick: 0 } });
    store.dispatch(edit({ kind: "remove-bar", bar: 0 }));
    expect(store.getState().edit).toMatchObject({ cursor: { bar: 0 }, anchor: { bar: 0 } });
  });
  it("so does the cursor of a draft that was kept when the passage had more bars and strings", () => {
    const store = configureStore({ reducer: { edit: editReducer } });
    store.dispatch(opened({ id: "a", passage: passage(), version: 3, past: [], future: [], save: "saved", cursor: { bar: 9, tick: 77, string: 8 } }));
    expect(store.getState().edit.cursor).toEqual({ bar: 1, tick: 0, string: 6 });
  });
  it("an edit where the cursor is leaves the very cursor, so that what follows it alone is not drawn again", () => {
    const store = bench();
    const { cursor } = store.getState().edit;
    store.dispatch(fret(3));
    expect(store.getState().edit.cursor).toBe(cursor);
    store.dispatch(undo());
    expect(store.getState().edit.cursor).toBe(cursor);
  });
  it("an edit that does nothing leaves no trace", () => {
    const store = bench();
    expect(store.dispatch(edit({ kind: "remove-note", place: { bar: 0, tick: 0 }, string: 2 }))).toBe(false);
    expect(store.getState().edit).toMatchObject({ past: [], save: "saved" });
  });
});

describe("the save state", () => {
  it("is saved only when the newest change is", () => {
    const store = bench();
    store.dispatch(fret(3));
    const { serial } = store.getState().edit;
    store.dispatch(saving());
    store.dispatch(fret(5));
    store.dispatch(saved({ id: "a", version: 4, serial }));
    expect(store.getState().edit).toMatchObject({ save: "unsaved", version: 4 });
    store.dispatch(saved({ id: "a", version: 5, serial: store.getState().edit.serial }));
    expect(store.getState().edit).toMatchObject({ save: "saved", version: 5 });
  });
  it("an answer for another passage changes nothing", () => {
    const store = bench();
    store.dispatch(fret(3));
    store.dispatch(saved({ id: "b", version: 9, serial: store.getState().edit.serial }));
    expect(store.getState().edit).toMatchObject({ save: "unsaved", version: 3 });
  });
  it("a stale passage stays stale while it is edited on", () => {
    const store = bench();
    store.dispatch(fret(3));
    store.dispatch(saveFailed({ id: "a", save: "stale", says: "" }));
    store.dispatch(fret(5));
    expect(store.getState().edit.save).toBe("stale");
  });
});
