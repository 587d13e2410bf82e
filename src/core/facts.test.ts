import { describe, expect, it } from "vitest";
import type { PlanDocument, PlannedString } from "./document/plan.ts";
import { planPassage, wholePlan } from "./engine.ts";
import { parsePassage } from "./passage/parse.ts";
import { at, line, parts, passageOf, plan, type Setting, type StrokeInput, stroke } from "./test/build.ts";

/*
 * Facts of good hands, each over keys, tempos, instruments and schools, at every step and on every string. All are common
 * practice without a published source. docs/facts.md lists which of them failed at commit e0eb02e.
 */

const heard = (p: PlanDocument) => p.strays.filter((stray) => !("faint" in stray && stray.faint));
const has = (s: PlannedString, hand: "fretting" | "picking", ...among: string[]) =>
  s.touchedBy.some((t) => t.hand === hand && (among.length === 0 ? t.part !== "press" : among.includes(t.part)));
const isPressed = (s: PlannedString) => s.touchedBy.some((t) => t.hand === "fretting" && t.part === "press");
const used = (p: PlanDocument) => new Set(p.steps.flatMap((s) => s.strings.flatMap((x) => x.touchedBy.map((t) => `${t.hand} ${t.part}`))));
/** Every string of every step at which music is played. */
const played = (p: PlanDocument, until = Number.POSITIVE_INFINITY) => p.steps.slice(0, until);
const all = (p: PlanDocument, strings: readonly number[], test: (s: PlannedString) => boolean, why: string, steps = p.steps) => {
  for (const step of steps)
    for (const string of strings)
      expect(test(step.strings[string - 1]!), `${step.bar}:${step.at}, string ${string}, ${why}: ${parts(step.strings[string - 1]!)}`).toBe(true);
};
const clean = (p: PlanDocument) => {
  expect(heard(p)).toEqual([]);
  expect(p.bottlenecks).toEqual([]);
};
/** A chord moved up the neck. */
const moved = (chord: string, by: number) => chord.replace(/\/(\d+)/g, (_, fret) => `/${Number(fret) + by}`);
const shape = "4/5~3 3/4~2 2/3~1";
const sixteenths = (chord: string, hits: readonly number[], count = 16, strings = [4, 3, 2]) =>
  Array.from({ length: count }, (_, i) => stroke(`${i}/16`, "1/16", chord, hits.includes(i) ? {} : { as: "ghost", strings }));
/** What either hand has on every string, step by step. */
const technique = (p: PlanDocument) => p.steps.map((s) => s.strings.map((x) => `${x.state}:${parts(x)}`));

describe("1 chords scratched: the grip is let go, the index lies over the rest, the hand never leaves", () => {
  for (const [tempo, by] of [
    [80, 0],
    [100, 2],
    [120, 5],
  ] as const)
    it(`at ${tempo}, ${by} frets up`, () => {
      const p = plan(sixteenths(moved(shape, by), [0, 6, 12]), { gain: "clean", tempo });
      clean(p);
      const ghosts = p.steps.filter((s) => s.strings[2]!.state === "thud");
      expect(ghosts.length).toBe(13);
      all(p, [2, 3, 4], (s) => has(s, "fretting", "ease", "underside"), "under the hand", ghosts);
      all(p, [1], (s) => has(s, "fretting", "underside"), "under the index");
      expect(used(p)).not.toContain("fretting lay");
      expect(used(p)).not.toContain("picking heel");
      // One posture for every ghost.
      expect(new Set(ghosts.map((s) => s.strings.map(parts).join())).size).toBe(1);
    });
});

describe("2 the same shape at every fret is let go the same way", () => {
  for (const at of [1, 2, 3, 4, 6, 9])
    it(`its index at fret ${3 + at}`, () => {
      const here = technique(plan(sixteenths(moved(shape, at), [0, 6, 12]), { gain: "clean", tempo: 100 }));
      expect(here).toEqual(technique(plan(sixteenths(shape, [0, 6, 12]), { gain: "clean", tempo: 100 })));
    });
});

describe("3 a chord is changed inside a scratch and no open string is heard", () => {
  for (const [gain, tempo] of [
    ["clean", 90],
    ["edge", 100],
    ["high", 110],
  ] as const)
    it(`${gain} at ${tempo}`, () => {
      const other = moved(shape, 2);
      const p = plan([...sixteenths(shape, [0], 8), ...sixteenths(other, [8], 16).slice(8)], { gain, tempo });
      clean(p);
      all(p, [2, 3, 4], (s) => s.state !== "thud" || has(s, "fretting"), "held while it is scratched");
    });
  for (const by of [2, 5])
    it(`over to a chord ${by} frets up by the last dead stroke, where none is written with a shape; not before, and no finger leaves for one note`, () => {
      const scratch = (from: number, to: number) =>
        Array.from({ length: to - from }, (_, i): StrokeInput => ({ at: `${from + i}/16`, length: "1/16", as: "ghost", strings: [4, 3, 2] }));
      const resting = (p: PlanDocument, at: string) => {
        const touches = p.steps.find((s) => s.at === at)!.strings.flatMap((s) => s.touchedBy.map((t) => ({ ...t, string: s.string })));
        return touches.flatMap((t) => (t.hand === "fretting" && t.part === "ease" ? [`${t.string}/${t.fret}~${t.finger}`] : [])).sort();
      };
      const scratched = (then: StrokeInput) =>
        plan([stroke("0", "1/16", shape), ...scratch(1, 8), then], {
          gain: "clean",
          tempo: 100,
        });
      const p = scratched(stroke("1/2", "1/16", moved(shape, by)));
      clean(p);
      all(p, [2, 3, 4], (s) => s.state !== "thud" || has(s, "fretting"), "held while it is scratched");
      expect(resting(p, "3/8")).toEqual(shape.split(" ").sort());
      expect(resting(p, "7/16")).toEqual(moved(shape, by).split(" ").sort());
      expect(resting(scratched(stroke("1/2", "1/16", "3/5~3")), "7/16")).toEqual(shape.split(" ").sort());
    });
});

describe("4 wide ghosts over all six strings between two compact shapes", () => {
  for (const index of ["laid", "arched"] as const)
    it(`index ${index}`, () => {
      const p = plan(sixteenths(shape, [0, 4], 8, [6, 5, 4, 3, 2, 1]), { gain: "clean", tempo: 90, player: { index } });
      clean(p);
      const ghosts = p.steps.filter((s) => s.strings[5]!.state === "thud");
      expect(ghosts.length).toBe(6);
      all(p, [1, 2, 3, 4, 5, 6], (s) => has(s, "fretting"), "under the fretting hand", ghosts);
    });
});

describe("5 a bar of dead strokes before the first chord", () => {
  for (const strings of [
    [4, 3, 2],
    [5, 4, 3, 2],
  ] as const)
    it(`through ${strings.length} strings`, () => {
      const scratch = Array.from({ length: 16 }, (_, i): StrokeInput => ({ at: `${i}/16`, length: "1/16", as: "ghost", strings: [...strings] }));
      const p = plan([scratch, sixteenths(shape, [0, 8])], { gain: "clean", tempo: 100 });
      clean(p);
      all(p, strings, (s) => s.state === "ring" || has(s, "fretting"), "the hand is where the chord will be", p.steps.slice(0, 16));
    });
});

describe("6 a root on string 6 with the ring finger, arched, strummed through all strings, dead up-strokes between", () => {
  for (const fret of [5, 7, 8])
    it(`at fret ${fret}`, () => {
      const bar = Array.from({ length: 8 }, (_, i) =>
        stroke(`${i}/8`, "1/8", i % 2 === 0 ? `6/${fret}~3` : "", {
          strings: [6, 5, 4, 3, 2, 1],
          ...(i % 2 === 0 ? {} : { as: "ghost", strings: [1, 2, 3, 4, 5, 6] }),
        }),
      );
      const p = plan(bar, { gain: "edge", tempo: 100, player: { index: "arched" } });
      clean(p);
      all(p, [1, 2, 3, 4, 5], (s) => has(s, "fretting", "spare", "flat", "lay"), "under idle fingers", played(p, 8));
      expect(used(p)).not.toContain("fretting underside");
    });
});

describe("7 the same with the index laid", () => {
  for (const fret of [5, 7, 8])
    it(`at fret ${fret}`, () => {
      const bar = Array.from({ length: 8 }, (_, i) => stroke(`${i}/8`, "1/8", `6/${fret}~1`, { strings: [6, 5, 4, 3, 2, 1] }));
      const p = plan(bar, { gain: "edge", tempo: 100 });
      clean(p);
      all(p, [1, 2, 3, 4, 5], (s) => has(s, "fretting", "underside"), "under the index", played(p, 8));
    });
});

describe("8 low string muted, tune on the open neighbour: the palm stays", () => {
  for (const tempo of [80, 120, 160])
    it(`at ${tempo}`, () => {
      const p = plan(line(8, ["6/0p", "6/0p", "5/0", "6/0p", "6/0p", "5/2", "6/0p", "5/0"]), { gain: "high", tempo });
      clean(p);
      all(p, [6], (s) => has(s, "picking", "palm"), "under the palm", played(p, 8));
      expect(p.counts.palmLiftsPerBar).toBe(0);
    });
});

describe("9 a run in sixteenths under gain over four strings: one palm posture", () => {
  for (const by of [0, 3])
    it(`${by} frets up`, () => {
      const words = ["5/5", "5/7", "5/8", "4/5", "4/7", "4/8", "3/5", "3/7", "2/5", "2/8", "3/7", "3/5", "4/8", "4/7", "4/5", "5/8"].map((w) => moved(w, by));
      const p = plan(line(16, words), { gain: "high", tempo: 96 });
      clean(p);
      expect(p.counts.palmLiftsPerBar).toBe(0);
      const picking = [...used(p)].filter((part) => part.startsWith("picking"));
      expect(picking.filter((part) => part !== "picking palm" && part !== "picking thumb-edge")).toEqual([]);
      all(p, [6], (s) => has(s, "picking", "palm") || has(s, "fretting"), "held", played(p, 16));
    });
});

describe("10 a sweep over five strings in sextuplets: the bass side is under the hand at every note", () => {
  for (const tempo of [90, 110])
    it(`at ${tempo}`, () => {
      const frets = ["5/10", "4/9", "3/7", "2/8", "1/7", "2/8", "3/7", "4/9", "5/10", "4/9", "3/7", "2/8"];
      const p = plan(
        frets.map((word, i) => stroke(`${i}/24`, "1/24", word)),
        { gain: "high", tempo },
      );
      clean(p);
      for (const step of played(p, 12)) {
        const sounding = step.strings.find((s) => s.state === "ring")!.string;
        for (let s = sounding + 1; s <= 6; s++) expect(parts(step.strings[s - 1]!), `${step.at}, string ${s}`).not.toBe("");
        for (let s = sounding + 2; s <= 6; s++)
          expect(has(step.strings[s - 1]!, "picking", "palm") || has(step.strings[s - 1]!, "fretting"), `${step.at}, string ${s}`).toBe(true);
      }
    });
});

describe("11 a bend: the index behind holds the neighbours, the finger that bends does nothing else", () => {
  for (const string of [3, 2, 1])
    it(`on string ${string}`, () => {
      const p = plan([stroke("0", "1/2", "", { notes: [{ string, fret: 7, finger: 3, bend: 2 }] }), stroke("1/2", "1/4", `${string}/5~1`)], { gain: "high" });
      const bent = p.steps[0]!;
      for (const s of bent.strings) for (const t of s.touchedBy) if (t.finger === 3) expect(t.part, `string ${s.string}`).toBe("press");
      expect(heard(p).filter((s) => s.cause === "bend")).toEqual([]);
      for (let s = 1; s < string; s++) expect(has(bent.strings[s - 1]!, "fretting", "underside"), `string ${s}`).toBe(true);
    });
});

describe("12 power chords: the neighbour is always touched", () => {
  for (const [chord, rest] of [
    ["6/5~1+5/7~3", [1, 2, 3, 4]],
    ["5/5~1+4/7~3", [1, 2, 3, 6]],
    ["6/3~1+5/5~3+4/5~4", [1, 2, 3]],
    ["5/3~1+4/5~3+3/5~4", [1, 2, 6]],
  ] as const)
    it(chord, () => {
      const p = plan(line(8, new Array(8).fill(chord)), { gain: "high", tempo: 130 });
      clean(p);
      all(p, rest, (s) => has(s, "fretting"), "touched", played(p, 8));
    });
});

describe("13 chugging on the open low string: the index lies over the others throughout", () => {
  for (const tempo of [100, 140])
    it(`at ${tempo}`, () => {
      const p = plan(line(8, ["6/0p", "6/0p", "6/0p", "6/0p", "6/0p", "6/0p", "6/3~1+5/5~3", "6/2~1+5/4~3"]), { gain: "high", tempo });
      clean(p);
      all(p, [1, 2, 3, 4, 5], (s) => has(s, "fretting"), "under the hand", played(p, 6));
      all(p, [1, 2, 3, 4], (s) => has(s, "fretting", "underside"), "under the index", played(p, 8));
    });
});

describe("14 open chords with backbeat chucks: the chord stays down through the chuck", () => {
  for (const chord of ["6/3~2 5/2~1 4/0 3/0 2/0 1/3~3", "5/3~3 4/2~2 3/0 2/1~1 1/0"])
    it(chord, () => {
      const fretted = chord.split(" ").flatMap((n) => (n.includes("/0") ? [] : [Number(n[0])]));
      const bar = [0, 1, 2, 3].map((q) => stroke(`${q}/4`, "1/4", chord, q % 2 === 0 ? {} : { as: "chuck", strings: [6, 5, 4, 3, 2, 1] }));
      const p = plan(bar, { on: "acoustic", tempo: 92 });
      clean(p);
      for (const place of ["1/4", "3/4"]) {
        for (const string of fretted) expect(isPressed(at(p, 1, place, string)), `string ${string} at ${place}`).toBe(true);
        for (let string = 1; string <= 6; string++) expect(has(at(p, 1, place, string), "picking", "heel")).toBe(true);
        expect(at(p, 1, place, 6).touchedBy.some((t) => t.part === "spare" || t.part === "lay")).toBe(false);
      }
    });
});

it("15 an open chord is let go slower than a closed one, by a quarter or more", () => {
  const limit = (chord: string, strings: number[]) => {
    const bar = Array.from({ length: 16 }, (_, i) => stroke(`${i}/16`, "1/16", chord, i % 2 === 0 ? {} : { as: "chuck", strings }));
    return wholePlan(passageOf(bar, { on: "acoustic", player: { chuck: "release", index: "arched" } })).ceilingTempo ?? 20;
  };
  expect(limit("6/3~2 5/2~1 4/0 3/0 2/0 1/3~3", [6, 5, 4, 3, 2, 1])).toBeLessThanOrEqual(0.75 * limit(shape, [4, 3, 2]));
});

describe("17 one barre shape walked up the neck: one technique", () => {
  for (const by of [1, 2, 4])
    it(`${by} frets at a time`, () => {
      const barre = "6/3~1 5/5~3 4/5~4 3/3~1 2/3~1 1/3~1";
      const p = plan(
        [0, 1, 2, 3].map((q) => [stroke("0", "1/4", moved(barre, q * by)), stroke("1/2", "1/4", moved(barre, q * by))]),
        { gain: "edge" },
      );
      clean(p);
      const bars = [1, 2, 3].map((bar) => p.steps.filter((s) => s.bar === bar).map((s) => s.strings.map((x) => `${x.state}:${parts(x)}`)));
      expect(bars[1]).toEqual(bars[0]);
      expect(bars[2]).toEqual(bars[0]);
    });
});

describe("18 a choked rake into a note is no stray", () => {
  for (const index of ["laid", "arched"] as const)
    it(`index ${index}`, () => {
      const p = plan([{ at: "0", length: "1/16", as: "rake", stroke: "down", strings: [5, 4, 3] }, stroke("1/16", "1/4", "2/8~1")], {
        gain: "edge",
        player: { index },
      });
      clean(p);
      for (const s of [5, 4, 3]) expect(parts(at(p, 1, "0", s)), `string ${s}`).not.toBe("");
    });
});

const pluck = (place: string, length: string, ...notes: [number, number, "p" | "i" | "m" | "a", number?][]) =>
  stroke(place, length, "", {
    notes: notes.map(([string, fret, by, finger]) => ({ string, fret, by, ...(finger ? { finger: finger as 1 | 2 | 3 | 4 } : {}) })),
  });

it("18 as well while a note goes on: what no finger is at lies under the palm", () => {
  const p = plan([stroke("0", "3/8", "2/8~1"), { at: "1/4", length: "1/8", as: "rake", stroke: "down", strings: [5, 4, 3] }, stroke("3/8", "1/4", "1/8~1")], {
    gain: "edge",
    tempo: 100,
  });
  clean(p);
  for (const s of [5, 4]) expect(parts(at(p, 1, "1/4", s)), `string ${s}`).toBe("palm");
});

describe("19 pinch and click: the fingers come back to their strings, the bass rings on and the chord stays down", () => {
  for (const tempo of [60, 90])
    it(`at ${tempo}`, () => {
      const p = plan(
        [
          stroke("0", "1/8", "", {
            notes: [
              { string: 5, fret: 3, finger: 3, by: "p", length: "1/4" },
              { string: 3, fret: 0, by: "i" },
              { string: 2, fret: 1, finger: 1, by: "m" },
            ],
          }),
          { at: "1/8", length: "1/8", as: "click", strings: [3, 2] },
          pluck("1/4", "1/4", [5, 3, "p", 3], [2, 1, "m", 1]),
        ],
        { on: "nylon", tempo },
      );
      clean(p);
      expect(at(p, 1, "1/8", 5).state).toBe("ring");
      for (const s of [2, 3]) expect(has(at(p, 1, "1/8", s), "picking", "plant"), `string ${s}`).toBe(true);
      for (const s of [2, 5]) expect(isPressed(at(p, 1, "1/8", s)), `string ${s}`).toBe(true);
    });
});

describe("20 more strings at once than thumb and fingers can pluck", () => {
  const six = (player: NonNullable<Setting["player"]>) =>
    plan([stroke("0", "1/2", "6/3 5/2 4/0 3/0 2/0 1/3")], { on: "nylon", player }).issues.map((i) => i.code);
  it("is said of a player who plucks", () => expect(six({ playsWith: "fingers" })).toContain("too-many-plucked"));
  it("not of one who strums", () => expect(six({ playsWith: "pick" })).toEqual([]));
});

describe("21 thumb-swing: the nails click while the thumb plays, and the string it comes to rest on is held", () => {
  const swing = (tempo: number, chord: string, bass: readonly number[]) =>
    plan(
      bass.map((string, i) => ({
        at: `${i}/4`,
        length: "1/4",
        stroke: "p",
        notes: stroke("0", "1/4", chord).notes!.filter((note) => note.string === string),
        ...(i % 2 === 1 ? { click: [3, 2, 1] } : {}),
      })),
      { on: "nylon", tempo, player: { playsWith: "thumb" } },
    );
  for (const [tempo, chord, bass] of [
    [90, "6/3~2 5/2~1 1/3~3", [6, 5, 6, 5]],
    [132, "6/3~2 5/2~1 1/3~3", [6, 5, 6, 5]],
    [100, "5/3~3 4/2~2 2/1~1", [5, 4, 5, 4]],
  ] as const)
    it(`${chord} at ${tempo}`, () => {
      const p = swing(tempo, chord, bass);
      clean(p);
      for (const place of ["1/4", "3/4"]) {
        for (const s of [1, 2, 3]) {
          expect(at(p, 1, place, s).state, `string ${s} at ${place}`).toBe("thud");
          expect(has(at(p, 1, place, s), "picking", "plant"), `string ${s} at ${place}`).toBe(true);
        }
        const next = at(p, 1, place, bass[1] - 1);
        expect(at(p, 1, place, bass[1]).state).toBe("ring");
        // The thumb's, unless the index lies over it.
        expect(has(next, "picking", "rest-stroke", "plant") || has(next, "fretting", "underside"), `beside string ${bass[1]}: ${parts(next)}`).toBe(true);
      }
    });
  it("a click is refused where a note sounds, on a dead stroke and beyond the strings", () => {
    const faults = (extra: object) => {
      const passage = passageOf([stroke("0", "1/4", "5/3 4/2")]);
      const [bar] = passage.bars;
      const parsed = parsePassage({ ...passage, bars: [{ ...bar, strokes: [{ ...bar!.strokes[0], ...extra }] }] });
      return parsed.ok ? [] : parsed.faults.map((fault) => fault.place);
    };
    expect(faults({ click: [3, 2] })).toEqual([]);
    expect(faults({ click: [4] })).toEqual([expect.stringContaining("/click/0")]);
    expect(faults({ click: [3], as: "chuck" })).toEqual([expect.stringContaining("/click")]);
    expect(faults({ click: [7] })).toEqual([expect.stringContaining("/click/0")]);
  });
});

describe("22 classical rests: the thumb goes back to its string, and never plucks and lies on another in one step", () => {
  for (const bass of [6, 5, 4] as const)
    it(`on string ${bass}`, () => {
      const p = plan(
        [pluck("0", "1/8", [bass, 0, "p"]), pluck("1/8", "1/8", [1, 3, "a"]), pluck("1/4", "1/8", [bass, 0, "p"]), pluck("3/8", "1/8", [1, 2, "a"])],
        {
          on: "nylon",
          tempo: 72,
          player: { index: "arched" },
        },
      );
      for (const place of ["1/8", "3/8"]) expect(["damped", "still"]).toContain(at(p, 1, place, bass).state);
      for (const step of p.steps) {
        const plucks = step.strings.some((s) => s.state === "ring" && s.string > 3);
        for (const s of step.strings)
          if (plucks)
            expect(
              s.touchedBy.some((t) => t.part === "thumb-return"),
              `${step.at}, string ${s.string}`,
            ).toBe(false);
      }
      expect(has(at(p, 1, "1/8", bass), "picking", "thumb-return")).toBe(true);
    });
  it("a thumb that has come to rest on the next string lies on no other one", () => {
    const notes = ["5/0", "4/2", "5/3", "6/3", "4/0", "5/2", "6/0", "5/0"];
    for (const gain of ["clean", "edge"] as const)
      for (const ring of ["written", "bloom"] as const) {
        const p = plan(
          notes.map((note, k) => stroke(`${k}/8`, "1/8", note, { stroke: "p" })),
          { on: "nylon", tempo: 72, gain, ring },
        );
        for (const { at: place, strings } of p.steps) {
          const thumb = strings.flatMap(({ string, touchedBy }) => touchedBy.filter((t) => t.finger === "p").map(({ part }) => ({ string, part })));
          if (thumb.some(({ part }) => part === "rest-stroke")) expect(thumb, place).toHaveLength(1);
        }
      }
  });
});

describe("23 a bass line on the top string: the thumb lies on all lower strings, set once, nothing loud", () => {
  for (const on of ["bass", "bass5"] as const)
    for (const tempo of [80, 140])
      it(`${on} at ${tempo}`, () => {
        const p = plan(line(8, ["1/5", "1/7", "1/5", "1/4", "1/5", "1/7", "1/9", "1/7"]), { on, tempo });
        clean(p);
        const count = on === "bass" ? 4 : 5;
        const lower = Array.from({ length: count - 1 }, (_, i) => i + 2);
        all(p, lower, (s) => parts(s) !== "", "held", played(p, 8));
        const thumbs = played(p, 8).map((step) => step.strings.filter((s) => has(s, "picking", "thumb")).map((s) => s.string));
        expect(thumbs[0]!.length).toBeGreaterThanOrEqual(2);
        for (const thumb of thumbs) expect(thumb).toEqual(thumbs[0]);
      });
});

describe("24 five strings, thumb anchored: ring and little finger park, each on its own string", () => {
  for (const tempo of [80, 120])
    it(`at ${tempo}`, () => {
      const p = plan(line(8, ["1/5", "1/7", "1/5", "1/4"]), { on: "bass5", tempo, player: { bassThumb: "anchored" } });
      clean(p);
      for (const step of played(p, 4)) {
        const parked = step.strings.flatMap((s) => s.touchedBy.filter((t) => t.part === "park").map((t) => `${t.finger}${s.string}`));
        expect(parked.sort()).toEqual(["a3", "c4"]);
        expect(has(step.strings[4]!, "picking", "thumb")).toBe(true);
      }
    });
});

describe("25 bass: dead notes in sixteenths under lying fingers", () => {
  for (const tempo of [80, 100])
    it(`at ${tempo}`, () => {
      const bar = Array.from({ length: 8 }, (_, i) => stroke(`${i}/16`, "1/16", i % 2 === 0 ? "3/5~1" : "3/5x~1"));
      const p = plan(bar, { on: "bass", tempo });
      clean(p);
      for (const step of played(p, 8)) if (step.strings[2]!.state === "thud") expect(has(step.strings[2]!, "fretting"), step.at).toBe(true);
      expect(used(p)).not.toContain("picking heel");
    });
});

describe("25 bass: the finger whose note is just over rests where it is through a dead note on another string", () => {
  for (const [tempo, index] of [
    [96, "laid"],
    [112, "arched"],
  ] as const)
    it(`at ${tempo}, ${index}`, () => {
      const dead = (place: string) => stroke(place, "1/16", "", { as: "ghost", strings: [4] });
      const bar = [
        stroke("0", "1/16", "3/3~1"),
        dead("1/16"),
        stroke("1/8", "1/16", "1/5~4"),
        dead("3/16"),
        stroke("1/4", "1/16", "3/3~1"),
        dead("5/16"),
        stroke("3/8", "1/16", "1/5~4"),
        dead("7/16"),
      ];
      const p = plan(bar, { on: "bass", tempo, player: { index } });
      expect(heard(p).filter(({ string }) => string === 1)).toEqual([]);
      for (const place of ["3/16", "7/16"]) expect(parts(at(p, 1, place, 1)), place).toContain("ease");
    });
});

describe("26 slap with ghosts: the fretting hand deadens, the slapping hand damps nothing", () => {
  for (const tempo of [90, 110])
    it(`at ${tempo}`, () => {
      const bar = Array.from({ length: 8 }, (_, i) =>
        i % 2 === 0 ? stroke(`${i}/16`, "1/16", "4/5~1", { stroke: "slap" }) : stroke(`${i}/16`, "1/16", "", { as: "ghost", stroke: "slap", strings: [4] }),
      );
      const p = plan(bar, { on: "bass", tempo, player: { playsWith: "slap" } });
      clean(p);
      expect([...used(p)].filter((part) => part.startsWith("picking"))).toEqual([]);
      all(p, [4], (s) => s.state !== "thud" || has(s, "fretting"), "under the fretting hand", played(p, 8));
    });
});

describe("27 bass: palm with the thumb over rests", () => {
  it("every muted note is under the palm and the rests are silent", () => {
    const p = plan(
      ["4/3p", "-", "4/3p", "-", "4/5p", "-", "3/3p", "-"].flatMap((word, i) => (word === "-" ? [] : [stroke(`${i}/8`, "1/8", word, { stroke: "p" })])),
      { on: "bass", tempo: 90 },
    );
    clean(p);
    expect(p.issues).toEqual([]);
    for (const step of p.steps) for (const s of step.strings) if (s.state === "muffled") expect(has(s, "picking", "palm")).toBe(true);
    // Nobody lifts it for a rest.
    all(p, [2, 3, 4], (s) => has(s, "picking", "palm"), "under the palm", played(p, 7));
  });
});

describe("28 a wrap under open strings that are to sound", () => {
  it("is said, and left off", () => {
    const p = plan(line(4, ["4/0", "4/2"]), { player: { fretWrap: "on" } });
    expect(p.issues.map((i) => i.code)).toContain("wrap-under-open-string");
    expect(used(p)).not.toContain("aid fret-wrap");
  });
  it("lies there where every note is fretted", () => expect(used(plan(line(4, ["4/5", "4/2"]), { player: { fretWrap: "on" } }))).toContain("aid fret-wrap"));
});

it("29 a tapped note is the picking hand's press, and that hand damps nothing meanwhile", () => {
  const p = planPassage(passageOf([stroke("0", "1/8", "2/5~1"), stroke("1/8", "1/8", "", { notes: [{ string: 2, fret: 12, from: "tap" }] })]), {
    why: "nothing",
  });
  const tapped = p.steps.find((s) => s.at === "1/8")!;
  expect(tapped.strings[1]!.touchedBy).toContainEqual(expect.objectContaining({ hand: "picking", part: "press" }));
  for (const s of tapped.strings) expect(has(s, "picking")).toBe(false);
});

describe("a finger that had to leave its string does not roll off it", () => {
  for (const [on, tempo] of [
    ["bass", 66],
    ["electric", 100],
  ] as const)
    it(`${on} at ${tempo}`, () => {
      const rolls = (words: string[]) =>
        plan(line(4, words), { on, tempo }).steps.flatMap((s) => s.strings.flatMap((x) => x.touchedBy.filter((t) => t.part === "roll")));
      expect(rolls(["3/3~4", "4/3~4"]).length, "straight from string to string").toBeGreaterThan(0);
      expect(rolls(["3/3~4", "3/0", "4/3~4"]), "the string rang open between").toEqual([]);
    });
});

describe("29 tapping figures", () => {
  const slur = (string: number, fret: number, from: "tap" | "pull" | "hammer", finger?: 1 | 4) => ({
    notes: [{ string, fret, from, ...(finger ? { finger } : {}) }],
  });
  const places = [
    ["electric", 2, 5, 100],
    ["electric", 4, 7, 140],
    ["bass", 1, 5, 80],
  ] as const;
  it.each(places)("%s, string %i: the finger is down that the tapped note is pulled off to", (on, string, fret, tempo) => {
    const figure = [0, 3, 6, 9].flatMap((k) => [
      stroke(`${k}/16`, "1/16", "", slur(string, fret + 7, "tap")),
      stroke(`${k + 1}/16`, "1/16", "", slur(string, fret, "pull", 1)),
      stroke(`${k + 2}/16`, "1/16", "", slur(string, fret + 3, "hammer", 4)),
    ]);
    const p = plan(figure, { on, tempo });
    for (const k of ["0", "3/16", "3/8", "9/16"])
      expect(at(p, 1, k, string).touchedBy, k).toContainEqual(expect.objectContaining({ hand: "fretting", part: "press", finger: 1, fret }));
    // Up to the last tap the other hand stays at the neck, and so does nothing but tap.
    for (const { strings } of played(p, 10)) for (const s of strings) expect(has(s, "picking")).toBe(false);
  });
  it.each(places)("%s, string %i: a finger on the bridge side of the tap gets out of its way, one behind it stays", (on, string, fret, tempo) => {
    const isDown = (tapped: number) => {
      const p = plan([stroke("0", "1/8", `${string}/${fret}~1`), stroke("1/8", "1/8", "", slur(string, tapped, "tap"))], { on, tempo });
      return isPressed(at(p, 1, "1/8", string));
    };
    expect(isDown(fret + 7)).toBe(true);
    expect(isDown(fret - 2)).toBe(false);
  });
  it.each(places)("%s, string %i: for a stroke between two taps, or a long rest, the hand goes back", (on, string, fret) => {
    const tap = (k: string) => stroke(k, "1/8", "", slur(string, fret + 7, "tap"));
    /** In the rest after the first tap. */
    const isAtNeck = (between: ReturnType<typeof stroke>[], tempo: number) => {
      const rest = at(plan([tap("0"), ...between, tap("7/8")], { on, tempo, gain: "high" }), 1, "1/8", string);
      return rest.whyNot!.some(({ part, code }) => part === "palm" && code === "finger-busy");
    };
    expect(isAtNeck([], 240), "a rest of less than a second").toBe(true);
    expect(isAtNeck([stroke("3/8", "1/8", `${string}/${fret}~1`)], 240), "a stroke").toBe(false);
    expect(isAtNeck([], 40), "a rest of four seconds").toBe(false);
  });
});

describe("30 two frets of one string in sixteenths: the hands follow", () => {
  for (const [low, high] of [
    ["3/5~1", "3/7~3"],
    ["6/3~1", "6/5~3"],
    ["1/7~1", "1/8~2"],
  ] as const)
    it(`${low} and ${high} at 150`, () => {
      const p = plan(
        line(
          16,
          Array.from({ length: 16 }, (_, i) => (i % 2 === 0 ? low : high)),
        ),
        { gain: "high", tempo: 150 },
      );
      clean(p);
      // The lower finger stays down; only the upper one is put back, eight times but for the first.
      expect(p.cost.changes).toBeLessThanOrEqual(8);
    });
});

describe("besides: an index that stays where it pressed lies flat from there, under the notes of other fingers", () => {
  for (const on of ["bass", "bass5"] as const)
    for (const tempo of [80, 120])
      it(`${on} at ${tempo}`, () => {
        const low = on === "bass" ? 4 : 5;
        const p = plan(line(8, [`${low}/3~1`, `${low - 2}/5~4`, `${low - 3}/5~4`, `${low}/3~1`]), { on, tempo });
        clean(p);
        const others = p.steps.slice(1, 3);
        for (const step of others)
          for (const s of step.strings) if (s.state !== "ring") expect(has(s, "fretting", "ease", "underside", "roll"), `${step.at} ${s.string}`).toBe(true);
        expect(used(p)).not.toContain("fretting flat");
        expect(used(p)).not.toContain("picking thumb");
      });
});

describe("besides: with an arched index idle fingers lie beyond those that rest, so that no picking finger has to", () => {
  for (const gain of ["edge", "high"] as const)
    it(gain, () => {
      const run = ["3/5~1", "3/7~3", "2/5~1", "2/8~4", "3/7~3", "3/5~1", "4/8~4", "4/7~3"];
      const p = plan(line(16, run), { gain, tempo: 96, player: { index: "arched" } });
      clean(p);
      all(p, [1, 2], (s) => s.state === "ring" || has(s, "fretting"), "under a finger of the fretting hand", p.steps.slice(5, 8));
      expect(used(p)).not.toContain("picking spare");
    });
});

describe("besides: nobody damps a final chord, and a dead stroke after it makes it no final one", () => {
  for (const ghosts of [0, 2])
    it(`${ghosts} dead strokes after the last note`, () => {
      const dead = Array.from({ length: ghosts }, (_, i): StrokeInput => ({ at: `${2 + i}/8`, length: "1/8", as: "ghost", strings: [6] }));
      const p = plan([stroke("0", "1/8", "2/5~1"), stroke("1/8", "1/8", "2/7~3"), ...dead], { tempo: 100 });
      const after = p.steps.filter((s) => s.at !== "0" && s.at !== "1/8").map((s) => s.strings[1]!.state);
      expect(after.length).toBeGreaterThan(0);
      expect(new Set(after)).toEqual(new Set([ghosts === 0 ? "free" : "damped"]));
    });
});

/** Which strings fingers press, step by step. */
const down = (p: PlanDocument) => p.steps.map((s) => s.strings.flatMap((x) => (isPressed(x) ? [x.string] : [])));

describe("besides: a tune goes over a chord that is held, one finger at a time", () => {
  const tune = ["5/3+1/0", "3/0", "4/2", "2/1", "5/3", "3/0", "4/2+1/3", "2/1"];
  for (const [on, by, tempo] of [
    ["nylon", 0, 72],
    ["acoustic", 0, 100],
    ["acoustic", 4, 120],
  ] as const)
    it(`on ${on}, capo ${by}, at ${tempo}`, () => {
      const passage = passageOf([line(8, tune)], { on, tempo, player: { playsWith: "fingers" } });
      passage.instrument.capo = by;
      const p = planPassage(passage);
      clean(p);
      for (const strings of down(p)) expect(strings).toEqual(expect.arrayContaining([2, 4, 5]));
      expect(p.steps.slice(1).flatMap((s) => s.actions.filter(({ does }) => does === "down" || does === "let-go"))).toHaveLength(2);
    });
  it("a barre lies under it, put down once", () => {
    const bars = line(8, ["6/5+1/8", "3/5", "2/6", "1/5", "5/7+1/5", "3/5", "2/5", "1/8"]);
    const p = planPassage(passageOf([bars], { on: "nylon", tempo: 72 }));
    clean(p);
    for (const strings of down(p)) expect(strings).toEqual(expect.arrayContaining([3, 6]));
    const index = p.steps
      .slice(2)
      .flatMap((s) => s.actions.filter(({ does, by, places = [] }) => does !== "lean" && (by === 1 || places.some((x) => x.finger === 1))));
    expect(index).toEqual([]);
  });
  it("bass and chord strings that alternate are held together, also with the thumb's nail between", () => {
    const chuck: Partial<StrokeInput> = { as: "chuck", strings: [4, 3, 2] };
    const groove = ["5/3", "2/1", "", "2/1", "5/3", "2/1", "", "2/1"].map((what, i) => stroke(`${i}/8`, "1/8", what, what === "" ? chuck : {}));
    const p = plan(groove, { on: "acoustic", tempo: 84, player: { playsWith: "thumb" } });
    for (const strings of down(p)) expect(strings).toEqual([2, 5]);
  });
  it("of a strummed chord the one finger that changes it moves alone", () => {
    const suspended = ["4/0+3/2+2/3+1/2", "4/0+3/2+2/3+1/3", "4/0+3/2+2/3+1/2", "4/0+3/2+2/3+1/0"];
    const p = plan(line(4, suspended), { on: "acoustic", tempo: 96 });
    for (const strings of down(p)) expect(strings).toEqual(expect.arrayContaining([2, 3]));
    const others = p.steps.slice(1).flatMap((s) => s.actions.flatMap(({ places = [] }) => places.map((x) => x.string)));
    expect(new Set(others)).toEqual(new Set([1]));
  });
  it("a run that fingers pluck is none, nor are two chords that share places", () => {
    const run = plan(line(8, ["4/5", "4/7", "3/5", "3/7", "2/5", "2/8", "1/5", "1/7"]), { on: "nylon", tempo: 80 });
    for (const strings of down(run)) expect(strings.length).toBe(1);
    const four = plan(line(8, ["4/5", "4/7", "3/5", "2/5"]), { on: "nylon", tempo: 80 });
    for (const strings of down(four)) expect(strings.length).toBe(1);
    const chords = ["5/3+4/2+3/0+2/1+1/0", "5/3+4/2+3/0+2/1+1/0", "5/0+4/2+3/2+2/1+1/0", "5/0+4/2+3/2+2/1+1/0"];
    for (const ring of ["written", "bloom"] as const) {
      const two = plan(line(4, chords), { on: "acoustic", ring });
      const third = two.steps.map((s) => s.strings.find((x) => x.touchedBy.some((t) => t.part === "press" && t.finger === 3))?.string);
      expect(third.slice(0, 4), ring).toEqual([5, 5, 3, 3]);
    }
  });
});

describe("besides: where chords bloom, a rest inside one is nothing to the hands", () => {
  const strum = (chord: string, few: string) => [
    stroke("0", "1/4", chord),
    stroke("1/4", "1/8", few, { stroke: "up" }),
    stroke("1/2", "1/8", few, { stroke: "up" }),
    stroke("5/8", "1/8", chord, { stroke: "down" }),
  ];
  for (const [name, chord, few] of [
    ["G", "6/3 5/2 4/0 3/0 2/0 1/3", "3/0 2/0 1/3"],
    ["C", "5/3 4/2 3/0 2/1 1/0", "3/0 2/1 1/0"],
    ["E minor", "6/0 5/2 4/2 3/0 2/0 1/0", "3/0 2/0 1/0"],
    ["F", "6/1 5/3 4/3 3/2 2/1 1/1", "3/2 2/1 1/1"],
  ] as const)
    for (const tempo of [76, 120])
      it(`${name} at ${tempo}`, () => {
        const p = plan(strum(chord, few), { on: "acoustic", tempo, ring: "bloom" });
        const first = down(p)[0];
        for (const strings of down(p)) expect(strings).toEqual(first);
        expect(p.steps.slice(1).map((s) => s.fretting)).toEqual(p.steps.slice(1).map(() => ""));
      });
});

it("besides: so after a note of a tune over it", () => {
  const tune = ["5/3+1/0", "3/0", "4/2", "2/1", "5/3", "1/3", "-", "2/1"];
  const p = plan(line(8, tune), { on: "acoustic", ring: "bloom", player: { playsWith: "fingers" } });
  for (const strings of down(p)) expect(strings).toEqual(expect.arrayContaining([2, 4, 5]));
  expect(isPressed(at(p, 1, "3/4", 1))).toBe(false);
});

describe("besides: between a chuck and the next stroke of its chord both hands stay", () => {
  const chord = "6/0 5/2 4/2 3/0 2/0 1/0";
  const chuck = stroke("1/4", "1/8", chord, { as: "chuck", strings: [6, 5, 4, 3, 2, 1] });
  for (const ring of ["written", "bloom"] as const)
    it(`where the chord is ${ring}`, () => {
      const p = plan([stroke("0", "1/4", chord), chuck, stroke("1/2", "1/2", chord)], { on: "acoustic", tempo: 92, ring });
      const rest = at(p, 1, "3/8", 1);
      for (const strings of down(p)) expect(strings).toEqual([4, 5]);
      expect(has(rest, "picking", "heel")).toBe(true);
    });
  it("before another chord the hand lets go", () => {
    const p = plan([stroke("0", "1/4", chord), chuck, stroke("1/2", "1/2", "5/3 4/2 3/0 2/1 1/0")], { on: "acoustic", tempo: 92 });
    expect(down(p)[2]).toEqual([]);
  });
});

describe("besides: what is left ringing at the end is held; what is written short ends as ever", () => {
  for (const [length, held] of [
    ["1/4", true],
    ["1/8", true],
    ["1/16", false],
  ] as const)
    it(`a last chord of ${length}`, () => {
      const p = plan([stroke("0", "1/4", "4/5 3/4 2/3"), stroke("1/4", length, "4/7 3/6 2/5")], { gain: "clean", tempo: 96 });
      const last = p.steps.at(-1)!;
      expect(last.strings.some(isPressed)).toBe(held);
      expect(last.fretting).toBe(held ? "" : "Let go.");
    });
});

describe("besides: an index that rests reaches the string beside it, so that no thumb has to", () => {
  for (const [on, low] of [
    ["bass", 4],
    ["bass5", 5],
  ] as const)
    it(on, () => {
      const music = [
        stroke("0", "1/8", `${low - 1}/5~1`, { stroke: "slap" }),
        stroke("1/4", "1/8", `${low - 2}/7~3`, { stroke: "pop" }),
        stroke("1/2", "1/8", `${low - 1}/5~1`, { stroke: "slap" }),
      ];
      const p = plan(music, { on, tempo: 96, player: { playsWith: "slap" } });
      clean(p);
      expect(has(at(p, 1, "1/4", low), "fretting", "underside")).toBe(true);
      expect(used(p)).not.toContain("fretting thumb");
    });
});

describe("besides: in a rest a bassist's thumb stays below the string played last", () => {
  for (const on of ["bass", "bass5"] as const)
    for (const last of [2, 3])
      it(`${on}, string ${last}`, () => {
        const p = plan(line(8, [`${last}/0`, "-", "-", `${last}/0`, "-", `${last}/2`]), { on, tempo: 100, player: { damps: "picking" } });
        const thumbs = p.steps.flatMap((s) => s.strings.flatMap((x) => (has(x, "picking", "thumb") ? [x.string] : [])));
        expect(thumbs.length).toBeGreaterThan(0);
        for (const string of thumbs) expect(string).toBeGreaterThan(last);
      });
});

it("besides: two fingers never lie at one place", () => {
  const music = ["6/0", "6/3~3", "6/0", "5/2~1+4/2~2", "6/0", "6/3~2", "6/0", "5/0+4/2~1"];
  const p = plan(line(8, music), { gain: "high", tempo: 118 });
  for (const step of p.steps)
    for (const { string, touchedBy } of step.strings) {
      const places = touchedBy.filter(({ hand, part }) => hand === "fretting" && (part === "press" || part === "ease")).map(({ fret }) => fret);
      expect(new Set(places).size, `${step.at}, string ${string}`).toBe(places.length);
    }
});
