import { useRef } from "react";
import { useDispatch, useStore } from "react-redux";
import { type Edit, neighbourPlace, strokeAt } from "../../core/edit/edit.ts";
import { gripAt, gripEnd, gripFrom } from "../../core/edit/grips.ts";
import { ticksAt } from "../../core/edit/range.ts";
import { barLength } from "../../core/music/beats.ts";
import { fractionOf, TICKS_PER_WHOLE, ticksOf } from "../../core/music/ticks.ts";
import { lastFret } from "../../core/passage/settings.ts";
import { type EditState, movedTo, selectedTo } from "../store/edit-slice.ts";
import { edit, redo, undo } from "../store/editing.ts";
import type { Dispatch, RootState } from "../store/root.ts";
import { BENDS, MUTES, nextWay } from "./note-ways.ts";

/** Grids the cursor can walk on, coarsest first. */
export const GRIDS = [
  { name: "eighths", ticks: TICKS_PER_WHOLE / 8 },
  { name: "sixteenths", ticks: TICKS_PER_WHOLE / 16 },
  { name: "triplets", ticks: TICKS_PER_WHOLE / 24 },
] as const;

/** What notes are written with until it is changed. */
export interface Entry {
  /** Typed frets move the cursor on. */
  writing: boolean;
  tone: "open" | "palm" | "ghost";
  finger: 1 | 2 | 3 | 4 | null;
}

export interface KeyActions {
  entry: Entry;
  setEntry(entry: Entry): void;
  /** Repeats the selection, or the bar, after itself. */
  repeat(): void;
  /** Takes the selection away; false when nothing is selected. */
  clear(): boolean;
  nextStray(): void;
  nextGrid(): void;
  stand(): void;
  passage(): void;
  chord(): void;
  /** Moves the selection, or the bar. */
  move(): void;
  /** Starts or stops the sound; of this step alone if asked. */
  listen(stepOnly: boolean): void;
  /** The arrows follow what is seen. */
  lowestOnTop: boolean;
}

/** The bench's keyboard: returns a handler that says whether it used the key. */
export function useKeys(finest: number, actions: KeyActions) {
  const store = useStore<RootState>();
  const dispatch = useDispatch<Dispatch>();
  const typed = useRef<{ digits: string; at: string }>({ digits: "", at: "" });

  const change = (made: Edit) => dispatch(edit(made));
  const move = (cursor: Partial<EditState["cursor"]>) => dispatch(movedTo({ ...store.getState().edit.cursor, ...cursor }));
  const select = (cursor: Partial<EditState["cursor"]>) => dispatch(selectedTo({ cursor: { ...store.getState().edit.cursor, ...cursor } }));
  const ten = useRef(false);

  return (event: React.KeyboardEvent) => {
    const { passage, cursor } = store.getState().edit;
    if (!passage) return;
    const { string } = cursor;
    const place = { bar: cursor.bar, tick: cursor.tick };
    const stroke = strokeAt(passage, place);
    const note = stroke?.notes.find((n) => n.string === string);
    const control = event.ctrlKey || event.metaKey;
    const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    const digit = /^Digit(\d)$/.exec(event.code)?.[1] ?? /^Numpad(\d)$/.exec(event.code)?.[1];
    if (event.altKey) return;

    const used = () => {
      if (control && key === "z") return dispatch(event.shiftKey ? redo() : undo());
      if (control && key === "y") return dispatch(redo());
      if (key === "ArrowRight" || key === "ArrowLeft") {
        const direction = key === "ArrowRight" ? 1 : -1;
        const go = event.shiftKey ? select : move;
        if (control) {
          const bar = cursor.bar + direction;
          if (passage.bars[bar]) go({ bar, tick: 0 });
          return true;
        }
        const next = neighbourPlace(passage, place, direction, finest);
        if (next) go(next);
        return true;
      }
      if (control && key === "a") {
        const bar = passage.bars.length - 1;
        const last = neighbourPlace({ ...passage, bars: [...passage.bars, passage.bars[bar]!] }, { bar: bar + 1, tick: 0 }, -1, finest);
        dispatch(selectedTo({ from: { bar: 0, tick: 0 }, cursor: { ...cursor, ...(last ?? { bar, tick: 0 }) } }));
        return true;
      }
      if (control) return false;
      if (key === "ArrowUp" || key === "ArrowDown") {
        const next = string + ((key === "ArrowDown") === !actions.lowestOnTop ? 1 : -1);
        if (next >= 1 && next <= passage.instrument.tuning.length) move({ string: next });
        return true;
      }
      if (key === "Home") return move({ bar: 0, tick: 0 });
      if (key === "End") return move({ bar: passage.bars.length - 1, tick: 0 });
      if (digit !== undefined && event.shiftKey) {
        const finger = Number(digit);
        if (finger > 4) return true;
        const wanted = finger === 0 ? null : (finger as 1 | 2 | 3 | 4);
        if (actions.entry.writing && !note) actions.setEntry({ ...actions.entry, finger: wanted });
        else change({ kind: "set-finger", place, string, finger: wanted });
        return true;
      }
      if (digit !== undefined) {
        typeFret(digit);
        return true;
      }
      switch (key) {
        case "w":
          actions.setEntry({ writing: !actions.entry.writing, tone: "open", finger: null });
          return true;
        case "t":
          ten.current = actions.entry.writing;
          return actions.entry.writing;
        case "r":
          actions.repeat();
          return true;
        case "Escape":
          return move({});
        case "v":
          return note && note.fret > 0 ? change({ kind: "set-note", place, string, change: nextWay(BENDS, note) }) : true;
        case "p":
          if (event.shiftKey) return note?.tone === "palm" ? change({ kind: "set-note", place, string, change: nextWay(MUTES, note) }) : true;
          if (actions.entry.writing && !note) {
            actions.setEntry({ ...actions.entry, tone: actions.entry.tone === "palm" ? "open" : "palm" });
            return true;
          }
          return change({ kind: "set-tone", place, string, tone: note?.tone === "palm" ? "open" : "palm" });
        case "x":
          if (note) return change({ kind: "set-tone", place, string, tone: note.tone === "ghost" ? "open" : "ghost" });
          return change({ kind: "set-as", place, as: stroke?.as === "ghost" ? "play" : "ghost", length: finest });
        case "c":
          return change({ kind: "set-as", place, as: stroke?.as === "chuck" ? "play" : "chuck", length: finest });
        case "d":
          return change({ kind: "set-stroke", place, stroke: stroke?.stroke === "down" ? null : "down" });
        case "u":
          return change({ kind: "set-stroke", place, stroke: stroke?.stroke === "up" ? null : "up" });
        case "a":
          return change({ kind: "toggle-accent", place });
        case "f":
          return change({ kind: "toggle-click", place, string });
        case "l":
          return change({ kind: "toggle-let-ring", place, string });
        case "[":
        case "]": {
          if (!stroke) return true;
          const length = ticksOf(stroke.length) * (key === "]" ? 2 : 0.5);
          if (Number.isInteger(length) && length <= barLength(passage.bars[place.bar]!.meter)) change({ kind: "set-length", place, length });
          return true;
        }
        case "h":
          return hold(event.shiftKey);
        case "{":
        case "}":
          return stretch(key === "}" ? 1 : -1);
        case "b":
          return change({ kind: "add-bar", after: cursor.bar });
        case " ":
          actions.listen(event.shiftKey);
          return true;
        case "g":
          actions.nextGrid();
          return true;
        case "s":
          actions.stand();
          return true;
        case "i":
          actions.passage();
          return true;
        case "k":
          actions.chord();
          return true;
        case "m":
          actions.move();
          return true;
        case "n":
          actions.nextStray();
          return true;
        case "Delete":
        case "Backspace":
          if (actions.clear()) return true;
          return change({ kind: "remove-note", place, string });
        default:
          return false;
      }
    };

    /** The notes of the stroke are held from here on; what begins here goes; else what the music shows is written down. With `letsGo` the hand lets go here. */
    const hold = (letsGo: boolean) => {
      const begun = gripAt(passage, place);
      if (begun && letsGo === (begun.notes.length === 0)) return change({ kind: "set-grip", place, grip: null });
      const at = fractionOf(place.tick);
      if (letsGo) return change({ kind: "set-grip", place, grip: { at, notes: [] } });
      if (change({ kind: "hold-stroke", place })) return true;
      return change({ kind: "take-over-grips", from: ticksAt(passage, place) }) || actions.chord();
    };

    /** The grip that holds here ends a grid step later or earlier. */
    const stretch = (direction: 1 | -1) => {
      const from = gripFrom(passage, ticksAt(passage, place));
      if (from === null) return true;
      return change({ kind: "end-grip", from, to: gripEnd(passage, from) + direction * finest });
    };

    /** Digits in a row at one place make a two-digit fret as long as the neck has it. */
    const typeFret = (digit: string) => {
      const { entry } = actions;
      if (entry.writing) {
        const fret = Number(digit) + (ten.current ? 10 : 0);
        ten.current = false;
        change({ kind: "set-fret", place, string, fret, length: finest, tone: entry.tone, ...(entry.finger ? { finger: entry.finger } : {}) });
        const { passage: written } = store.getState().edit;
        const next = written && neighbourPlace(written, place, 1, finest);
        if (next) move(next);
        return;
      }
      const at = `${place.bar}/${place.tick}/${string}`;
      const before = typed.current.at === at ? typed.current.digits : "";
      const both = `${before}${digit}`;
      const digits = before !== "" && before !== "0" && Number(both) <= lastFret(passage.instrument) ? both : digit;
      typed.current = { digits: digits.length > 1 ? "" : digits, at };
      change({ kind: "set-fret", place, string, fret: Number(digits), length: finest });
    };

    if (used() !== false) event.preventDefault();
  };
}
