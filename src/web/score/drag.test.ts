import { describe, expect, it } from "vitest";
import { applyEdit } from "../../core/edit/edit.ts";
import { TICKS_PER_WHOLE, ticksOf } from "../../core/music/ticks.ts";
import { line, passageOf } from "../../core/test/build.ts";
import { dropOf, type Grab } from "./drag.ts";

const EIGHTH = TICKS_PER_WHOLE / 8;
/** Eighths on the low strings: 6/5, 6/7, then nothing for two, then 5/5 and rests. */
const music = () => passageOf([line(8, ["6/5", "6/7", "-", "-", "5/5"]), line(8, ["6/3"])]);
const held = (kind: Exclude<Grab["kind"], "select">, eighth: number, string: number) => ({ kind, place: { bar: 0, tick: eighth * EIGHTH }, string }) as const;
const at = (eighth: number, string: number) => ({ place: { bar: Math.floor(eighth / 8), tick: (eighth % 8) * EIGHTH }, ticks: eighth * EIGHTH, string });
/** What the first bar is like after the drop; null when nothing can be done. */
const dropped = (drop: ReturnType<typeof dropOf>) => {
  const passage = music();
  return drop.edit && applyEdit(passage, drop.edit) ? passage : null;
};
/** Strokes of a bar as "eighth notes length-in-eighths". */
const notes = (passage: ReturnType<typeof music> | null, bar = 0) =>
  (passage?.bars[bar]?.strokes ?? []).map(
    (s) => `${ticksOf(s.at) / EIGHTH} ${s.notes.map((n) => `${n.string}/${n.fret}${n.tone === "palm" ? "p" : ""}`).join("+")} ${ticksOf(s.length) / EIGHTH}`,
  );

describe("letting go", () => {
  it("of a note along the time moves its stroke, into another bar too", () => {
    const drop = dropOf(music(), held("note", 1, 6), at(3, 6), EIGHTH);
    expect(drop.says).toBe("to 2 &");
    expect(notes(dropped(drop))).toContain("3 6/7 1");
    expect(notes(dropped(dropOf(music(), held("note", 1, 6), at(10, 6), EIGHTH)), 1)).toContain("2 6/7 1");
  });

  it("on a moment where another stroke begins changes nothing", () => {
    expect(dropped(dropOf(music(), held("note", 1, 6), at(4, 6), EIGHTH))).toBeNull();
  });

  it("of a note across the strings keeps its pitch: a fourth up is five frets down (common practice)", () => {
    expect(notes(dropped(dropOf(music(), held("note", 1, 6), at(1, 5), EIGHTH)))).toContain("1 5/2 1");
    // Fret 5 of string 5 is D3; string 3 begins above it.
    expect(dropped(dropOf(music(), held("note", 4, 5), at(4, 3), EIGHTH))).toBeNull();
  });

  it("of the end lengthens up to the bar's end and shortens down to the grid", () => {
    expect(notes(dropped(dropOf(music(), held("end", 4, 5), at(7, 5), EIGHTH)))).toContain("4 5/5 3");
    expect(notes(dropped(dropOf(music(), held("end", 4, 5), at(13, 5), EIGHTH)))).toContain("4 5/5 4");
    expect(notes(dropped(dropOf(music(), held("end", 4, 5), at(0, 5), EIGHTH)))).toContain("4 5/5 1");
  });

  it("of a stroke's sign sets which strings it goes over; its notes always belong", () => {
    const swept = dropped(dropOf(music(), held("sweep", 0, 1), at(0, 4), EIGHTH));
    expect(swept?.bars[0]?.strokes[0]?.strings).toEqual([6, 4, 3, 2, 1]);
  });

  it("on the picking hand's track lays the palm on what begins there, and begun on a palm it takes it off", () => {
    const drop = dropOf(music(), held("palm", 1, 1), at(4, 1), EIGHTH);
    expect(drop.says).toBe("palm on up to 3");
    const painted = dropped(drop);
    expect(notes(painted)).toEqual(["0 6/5 1", "1 6/7p 1", "4 5/5 1"]);
    const back = dropOf(painted!, held("palm", 1, 1), at(16, 1), EIGHTH);
    expect(back.says).toBe("palm off up to the end");
    applyEdit(painted!, back.edit!);
    expect(notes(painted)).toEqual(notes(music()));
  });
});
