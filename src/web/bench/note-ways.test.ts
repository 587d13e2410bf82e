import { expect, it } from "vitest";
import { applyEdit } from "../../core/edit/edit.ts";
import type { Note } from "../../core/passage/schema.ts";
import { passageOf, stroke } from "../../core/test/build.ts";
import { BENDS, MUTES, NOTE_WAYS, nextWay } from "./note-ways.ts";

const passageWith = (note: Partial<Note>) => passageOf([stroke("0", "1/4", "", { notes: [{ string: 3, fret: 7, ...note }] })]);
const place = { bar: 0, tick: 0 };

it("every way is on once it is given, alone in its group, and off again", () => {
  for (const { ways } of NOTE_WAYS)
    for (const way of ways) {
      const passage = passageWith({ tone: "palm" });
      const note = () => passage.bars[0]!.strokes[0]!.notes[0]!;
      expect(applyEdit(passage, { kind: "set-note", place, string: 3, change: way.on }), way.says).toBe(true);
      expect(
        ways.filter((other) => other.isOn(note())).map(({ says }) => says),
        way.says,
      ).toContain(way.says);
      expect(applyEdit(passage, { kind: "set-note", place, string: 3, change: way.off })).toBe(true);
      expect(note()).toEqual({ string: 3, fret: 7, tone: "palm" });
    }
});

it("a key goes through the bends, and after the last the string is straight", () => {
  const passage = passageWith({});
  const note = () => passage.bars[0]!.strokes[0]!.notes[0]!;
  for (const { says, isOn } of BENDS) {
    applyEdit(passage, { kind: "set-note", place, string: 3, change: nextWay(BENDS, note()) });
    expect(isOn(note()), says).toBe(true);
  }
  applyEdit(passage, { kind: "set-note", place, string: 3, change: nextWay(BENDS, note()) });
  expect(note()).toEqual({ string: 3, fret: 7 });
});

it("a palm that is taken away takes its firmness with it, and none can be given without one", () => {
  const passage = passageWith({ tone: "palm", mute: "light" });
  applyEdit(passage, { kind: "set-tone", place, string: 3, tone: "open" });
  expect(passage.bars[0]!.strokes[0]!.notes[0]).toEqual({ string: 3, fret: 7 });
  expect(applyEdit(passage, { kind: "set-note", place, string: 3, change: MUTES[0]!.on })).toBe(false);
});
