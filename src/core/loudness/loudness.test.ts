import { describe, expect, it } from "vitest";
import { loudness, planPassage, planStages } from "../engine.ts";
import { instrument, passageOf, stroke } from "../test/build.ts";
import { demoPassages } from "../test/demos.ts";
import { randomPassage } from "../test/random-passages.ts";
import { sympathyTable } from "./sympathy.ts";

describe("loudness over time", () => {
  it("has the plan document's own figures wherever a string strays or would", () => {
    let compared = 0;
    for (const passage of [...demoPassages(), ...Array.from({ length: 40 }, (_, seed) => randomPassage(seed, 3))]) {
      const { steps } = planPassage(passage, { why: "nothing" });
      for (const [i, strings] of loudness(passage, planStages(passage)).entries())
        for (const [s, { planned, undamped, state }] of strings.entries()) {
          const said = steps[i]!.strings[s]!;
          expect(state).toBe(said.state);
          if (["ring", "muffled", "free"].includes(said.intent)) continue;
          expect(planned?.fromDb ?? null).toBe(said.strayDb);
          expect(undamped?.fromDb ?? null).toBe(said.undampedDb);
          compared++;
        }
    }
    expect(compared).toBeGreaterThan(1000);
  });

  it("falls while nothing strikes, a palm-muted note faster than an open one (law of physics)", () => {
    const of = (text: string) => {
      const passage = passageOf([[stroke("0", "1", text)]]);
      return loudness(passage, planStages(passage))[0]![5]!.planned!;
    };
    const [open, muted] = [of("6/3"), of("6/3p")];
    expect(open.toDb).toBeLessThan(open.fromDb);
    expect(muted.fromDb - muted.toDb).toBeGreaterThan(3 * (open.fromDb - open.toDb));
  });

  it("falls the faster the firmer the palm lies; an accent is under a light one unless written", () => {
    const lost = (more: object, accent = false) => {
      const passage = passageOf([[stroke("0", "1/2", "", { accent, notes: [{ string: 6, fret: 3, tone: "palm", ...more }] })]]);
      const said = loudness(passage, planStages(passage))[0]![5]!.planned!;
      return said.fromDb - said.toDb;
    };
    expect(lost({ mute: "light" })).toBeLessThan(lost({}));
    expect(lost({})).toBeLessThan(lost({ mute: "choked" }));
    expect(lost({ mute: "medium" })).toBe(lost({}));
    expect(lost({}, true)).toBe(lost({ mute: "light" }));
    expect(lost({ mute: "medium" }, true)).toBe(lost({}));
  });

  it("goes on over the steps of one note without a jump", () => {
    // String 6 sounds on under three notes on string 4.
    const passage = passageOf([[stroke("0", "1/4", "6/0 4/2"), ...["1/4", "1/2", "3/4"].map((at) => stroke(at, "1/4", "4/2"))]]);
    for (const note of passage.bars[0]!.strokes[0]!.notes) if (note.string === 6) note.length = "1";
    const steps = loudness(passage, planStages(passage));
    const absolute = steps.map((strings) => strings[5]!.planned!);
    for (let i = 1; i < absolute.length; i++) expect(Math.abs(absolute[i]!.fromDb - absolute[i - 1]!.toDb)).toBeLessThan(6);
  });

  it("what nobody damps is never quieter than the plan", () => {
    for (const passage of demoPassages())
      for (const strings of loudness(passage, planStages(passage)))
        for (const { planned, undamped } of strings) if (planned) expect(undamped!.fromDb).toBeGreaterThanOrEqual(planned.fromDb - 0.1);
  });
});

describe("who sets whom off", () => {
  const table = sympathyTable(instrument("acoustic"), "high");
  const answer = (played: number, fret: number, string: number) => table[played - 1]![fret]!.find((a) => a.string === string)!;

  it("a unison answers most, a semitone beside it hardly at all (common practice)", () => {
    // String 2 at fret 5 is E4, the pitch of string 1.
    expect(answer(2, 5, 1).partials).toEqual([1, 1]);
    expect(answer(2, 5, 1).db).toBeGreaterThan(answer(2, 4, 1).db + 10);
    expect(answer(2, 5, 1).db).toBeGreaterThan(answer(2, 6, 1).db + 10);
  });

  it("octave, twelfth and the fourth below meet in the partials that theory names", () => {
    // String 5 at fret 7 is E3, an octave over string 6; at fret 2 B2, a fifth over it.
    expect(answer(5, 7, 6).partials).toEqual([2, 1]);
    expect(answer(5, 2, 6).partials).toEqual([3, 2]);
    // String 5 open is a fourth over string 6: its third partial meets the fourth of string 6.
    expect(answer(5, 0, 6).partials).toEqual([4, 3]);
    // String 2 open is B3, a twelfth over E2.
    expect(answer(2, 0, 6).partials).toEqual([3, 1]);
  });

  it("the octave answers louder than its neighbours a semitone away", () => {
    expect(answer(5, 7, 6).db).toBeGreaterThan(answer(5, 6, 6).db + 6);
    expect(answer(5, 7, 6).db).toBeGreaterThan(answer(5, 8, 6).db + 6);
  });

  it("under high gain more is heard than clean, and an acoustic, whose bridge moves, answers louder than a solid body", () => {
    const clean = sympathyTable(instrument("acoustic"), "clean");
    expect(clean[1]![5]![0]!.db).toBeLessThan(table[1]![5]![0]!.db);
    expect(sympathyTable(instrument("electric"), "high")[1]![5]![0]!.db).toBeLessThan(table[1]![5]![0]!.db);
  });

  it("follows the tuning: a string let down a tone no longer answers the old unison", () => {
    const down = sympathyTable({ ...instrument("acoustic"), tuning: ["D4", "B3", "G3", "D3", "A2", "E2"] }, "high");
    const at = (fret: number) => down[1]![fret]!.find((a) => a.string === 1)!.db;
    expect(at(3)).toBeGreaterThan(at(5) + 10);
  });
});
