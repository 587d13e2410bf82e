import { describe, expect, it } from "vitest";
import type { PlanDocument } from "./document/plan.ts";
import { planPassage, planStages } from "./engine.ts";
import { ticksOf } from "./music/ticks.ts";
import { at, line, parts, passageOf, plan, stroke } from "./test/build.ts";
import { demoPassages } from "./test/demos.ts";
import { randomPassage } from "./test/random-passages.ts";

/*
 * More facts of the trade on made-up passages, one hand or style after the other. All are common
 * practice without a published source.
 */

const touching = (p: PlanDocument, bar: number, place: string, string: number, part: string) =>
  expect(parts(at(p, bar, place, string)).split("+"), `string ${string} at ${place}: ${parts(at(p, bar, place, string))}`).toContain(part);
const silent = (p: PlanDocument, bar: number, place: string, ...strings: number[]) => {
  for (const s of strings) expect(["damped", "still"], `string ${s}: ${at(p, bar, place, s).state}`).toContain(at(p, bar, place, s).state);
};
const dead = (p: PlanDocument, bar: number, place: string, ...strings: number[]) => {
  for (const s of strings) expect(at(p, bar, place, s).state, `string ${s}`).toBe("thud");
};
const all = (unit: number, word: string, n = unit) => line(unit, new Array(n).fill(word));

describe("pick guitar: chords", () => {
  it("a power chord on 6 and 5 has the index flat over the four treble strings", () => {
    const p = plan(all(8, "6/5+5/7"), { gain: "high" });
    for (const s of [1, 2, 3, 4]) touching(p, 1, "0", s, "underside");
  });
  it("on 4 and 3 the fingertip bumps string 5", () => {
    const p = plan(all(4, "4/5+3/7"), { gain: "high" });
    touching(p, 1, "0", 5, "tip");
    silent(p, 1, "0", 1, 2, 5, 6);
  });
  it("an octave on 5 and 3 strikes string 4 in passing, and the index deadens it", () => {
    const p = plan(all(4, "5/3~1+3/5~3"), { gain: "high" });
    expect(at(p, 1, "0", 4).causes).toContain("struck");
    touching(p, 1, "0", 4, "underside");
    touching(p, 1, "0", 6, "tip");
    expect(p.strays).toEqual([]);
  });
  it("an octave on 6 and 4 the same way", () => {
    const p = plan(all(4, "6/3~1+4/5~3"), { gain: "high" });
    touching(p, 1, "0", 5, "underside");
    expect(p.strays).toEqual([]);
  });
  it("with an arched index the octave's inner string is under idle fingers, and nobody flattens the index", () => {
    const p = plan(all(4, "5/3~1+3/5~3"), { gain: "high", player: { index: "arched" } });
    for (const place of ["0", "1/4", "1/2", "3/4"]) {
      touching(p, 1, place, 4, "spare");
      for (const string of [1, 2, 4]) expect(parts(at(p, 1, place, string))).not.toMatch(/underside/);
    }
    expect(p.strays).toEqual([]);
  });
  it("an open chord over all six strings needs nobody", () => {
    const p = plan(all(2, "6/0+5/2+4/2+3/1+2/0+1/0"), { on: "acoustic" });
    for (let s = 1; s <= 6; s++) expect(parts(at(p, 1, "0", s))).toBe("");
    expect(p.strays).toEqual([]);
  });
  it("a full barre is silenced by easing it, all six strings", () => {
    const barre = "6/3~1+5/5~3+4/5~4+3/4~2+2/3~1+1/3~1";
    const p = plan([
      ...line(4, [barre]),
      stroke("1/4", "1/4", barre.replaceAll("+", " "), { as: "ghost", strings: [6, 5, 4, 3, 2, 1] }),
      ...line(4, ["-", "-", barre]),
    ]);
    dead(p, 1, "1/4", 1, 2, 3, 4, 5, 6);
    for (let s = 1; s <= 6; s++) expect(at(p, 1, "1/4", s).touchedBy.every((t) => t.hand === "fretting")).toBe(true);
  });
  it.each([3, 4, 5, 6, 7, 9, 10, 12])("a closed chord released at fret %i is dead under its own fingers and the index, the same way everywhere", (fret) => {
    const chord = `4/${fret}~1 3/${fret}~2 2/${fret}~3`;
    const strokes = [stroke("0", "1/8", chord), stroke("1/8", "1/8", chord, { as: "ghost", strings: [4, 3, 2] }), stroke("1/4", "1/8", chord)];
    const p = plan(strokes, { tempo: 130, player: { chuck: "release" } });
    dead(p, 1, "1/8", 4, 3, 2);
    for (const s of [4, 3, 2]) touching(p, 1, "1/8", s, "ease");
    for (const s of [1, 2, 3]) touching(p, 1, "1/8", s, "underside");
    expect(p.bottlenecks).toEqual([]);
  });
  it("over the octave, where fingers alone chime, an arched player has something else lie there too", () => {
    const chord = "4/12~1 3/12~2 2/12~3";
    const strokes = [stroke("0", "1/8", chord), stroke("1/8", "1/8", chord, { as: "ghost", strings: [4, 3, 2] }), stroke("1/4", "1/8", chord)];
    const p = plan(strokes, { tempo: 100, gain: "high", player: { chuck: "release", index: "arched" } });
    dead(p, 1, "1/8", 4, 3, 2);
    for (const s of [4, 3, 2]) expect(parts(at(p, 1, "1/8", s)), `string ${s}`).not.toBe("ease");
  });
  it("under gain a rest is a full stop: every string that sounded is held", () => {
    const p = plan(line(4, ["6/5+5/7+4/7", "-", "6/5+5/7+4/7", "-"]), { gain: "high" });
    for (const s of [4, 5, 6]) expect(at(p, 1, "1/4", s).state).toBe("damped");
  });
});

describe("pick guitar: lines", () => {
  it("a high note under gain has bass strings under the palm and its neighbour at the fingertip", () => {
    const p = plan(all(4, "1/7"), { gain: "high" });
    touching(p, 1, "1/4", 2, "tip");
    silent(p, 1, "1/4", 2, 3, 4, 5, 6);
    expect([4, 5, 6].some((s) => parts(at(p, 1, "1/4", s)).includes("palm"))).toBe(true);
  });
  it("a note on the lowest string needs the treble side only", () => {
    const p = plan(all(4, "6/5"), { gain: "high" });
    for (const s of [1, 2, 3, 4, 5]) touching(p, 1, "0", s, "underside");
  });
  it("going down to the next bass string leaves the treble one under the index", () => {
    const p = plan(line(4, ["2/5~1", "3/5~1", "3/7~3", "-"]), { gain: "high" });
    expect(parts(at(p, 1, "1/4", 2))).toMatch(/roll|underside/);
    expect(p.strays.filter((s) => s.string === 2)).toEqual([]);
  });
  it("one finger presses at a time: every note of a run ends when the next begins", () => {
    const p = plan(line(8, ["4/5", "4/7", "3/5", "3/7", "2/5", "2/7", "1/5", "1/7"]), { gain: "high", tempo: 80 });
    expect(p.strays).toEqual([]);
    for (const step of p.steps.slice(0, 8)) expect(step.strings.filter((s) => s.state === "ring").length).toBe(1);
  });
  it("a hammer-on is not struck: the pick meets no string", () => {
    const p = plan([stroke("0", "1/8", "4/5~1"), stroke("1/8", "1/8", "", { notes: [{ string: 4, fret: 7, finger: 3, from: "hammer" }] })]);
    expect(at(p, 1, "1/8", 4).state).toBe("ring");
    expect(at(p, 1, "1/8", 3).causes).not.toContain("struck");
  });
  it("a bend on string 3 shoves the strings on its bass side, and lets them sound when it ends", () => {
    const p = plan([stroke("0", "1/4", "", { notes: [{ string: 3, fret: 7, finger: 3, bend: 2 }] }), stroke("1/4", "1/4", "1/5")], { gain: "high" });
    expect(at(p, 1, "1/4", 4).causes).toContain("bend");
    expect(at(p, 1, "1/4", 2).causes).not.toContain("bend");
  });
  it("a bend shoves the side it is bent towards, and lets it sound where it comes back", () => {
    const shoved = (bend: object, next = "1/5") => {
      const p = plan([stroke("0", "1/2", "", { notes: [{ string: 3, fret: 7, finger: 3, bend: { by: 2, ...bend } }] }), stroke("1/2", "1/4", next)], {
        gain: "high",
      });
      const first = p.steps.find((step) => step.strings.some((s) => s.causes.includes("bend")));
      return first?.strings.filter((s) => s.causes.includes("bend")).map((s) => `${first.at} ${s.string}`);
    };
    expect(shoved({})).toEqual(["1/2 4", "1/2 5"]);
    expect(shoved({ towards: "treble" }, "6/5")).toEqual(["1/2 1", "1/2 2"]);
    expect(shoved({ then: "release" })).toEqual(["1/4 4", "1/4 5"]);
    expect(shoved({ from: 2, then: "release" })).toEqual(["1/4 4", "1/4 5"]);
    // Half a tone moves the string too little to reach the second neighbour.
    expect(shoved({ by: 1 })).toEqual(["1/2 4"]);
  });
  it("a bend that the next note takes over bent lets nothing go until that one ends", () => {
    const held = { string: 3, fret: 7, finger: 3 as const };
    const p = plan(
      [
        stroke("0", "1/4", "", { notes: [{ ...held, bend: 2 }] }),
        stroke("1/4", "1/4", "", { notes: [{ ...held, bend: { by: 2, from: 2 } }] }),
        stroke("1/2", "1/4", "1/5"),
      ],
      { gain: "high" },
    );
    expect(at(p, 1, "1/4", 4).causes).not.toContain("bend");
    expect(at(p, 1, "1/2", 4).causes).toContain("bend");
  });
  it("a pulled-off finger plucks the string it leaves: flick louder than lift", () => {
    const music = line(4, ["3/7~3", "4/5~1", "-", "-"]);
    const level = (pullOff: "flick" | "lift") => at(plan(music, { player: { pullOff } }), 1, "1/4", 3).undampedDb!;
    expect(at(plan(music), 1, "1/4", 3).causes).toContain("pull-off");
    expect(level("flick")).toBeGreaterThanOrEqual(level("lift"));
  });
  it("a rake drags through deadened strings into its note", () => {
    const p = plan([{ at: "0", length: "1/16", as: "rake", stroke: "down", strings: [5, 4, 3] }, stroke("1/16", "1/4", "2/8~1")], { gain: "edge" });
    dead(p, 1, "0", 5, 4, 3);
    for (const s of [5, 4, 3]) expect(parts(at(p, 1, "0", s))).not.toBe("");
  });
  it("a full strum for one note works where every other string can be touched", () => {
    const strokes = [stroke("0", "1/4", "5/3~1", { strings: [6, 5, 4, 3, 2, 1] }), stroke("1/4", "1/4", "5/3~1", { strings: [6, 5, 4, 3, 2, 1] })];
    const p = plan(strokes, { gain: "clean", player: { thumbOver: "yes" } });
    for (const s of [1, 2, 3, 4, 6]) expect(at(p, 1, "1/4", s).state, `string ${s}`).not.toBe("ring");
    expect(at(p, 1, "1/4", 5).state).toBe("ring");
    for (const s of [1, 2, 3, 4]) touching(p, 1, "1/4", s, "underside");
  });
  it("where one string cannot be touched the full strum lets it ring: narrow the stroke", () => {
    const wide = plan(
      all(4, "3/5~1").map((s) => ({ ...s, strings: [6, 5, 4, 3, 2, 1] })),
      { gain: "clean" },
    );
    const narrow = plan(all(4, "3/5~1"), { gain: "clean" });
    expect(wide.strays.some((s) => s.string >= 5 && s.cause === "struck")).toBe(true);
    expect(narrow.strays).toEqual([]);
  });
});

describe("palm", () => {
  it("muted roots under an open melody: the palm stays down, nothing flutters", () => {
    const p = plan(line(8, ["6/0p", "6/0p", "3/7", "6/0p", "6/0p", "3/5", "6/0p", "6/0p"]), { gain: "high", tempo: 110 });
    expect(p.counts.palmLiftsPerBar).toBe(0);
    expect(p.issues).toEqual([]);
  });
  it("a palm-muted chord lies under the heel with all its strings", () => {
    const p = plan(all(8, "6/0p+5/2p+4/2p"), { gain: "high" });
    for (const s of [4, 5, 6]) expect(parts(at(p, 1, "0", s))).toBe("palm");
  });
  it("landing with the down-stroke only leaves up-strokes without a mute, and says so", () => {
    const chug = all(8, "6/0p+5/2p");
    expect(plan(chug, { player: { strumPalmMute: "anchored" } }).issues).toEqual([]);
    const percussive = plan(chug, { player: { strumPalmMute: "percussive" } });
    expect(percussive.issues.map((i) => i.code)).toContain("palm-cannot-cover");
    for (const issue of percussive.issues) expect(["1/8", "3/8", "5/8", "7/8"]).toContain(issue.at);
  });
  it("the thumb school rests the thumb on the bass strings instead", () => {
    const p = plan(all(4, "2/7"), { gain: "high", player: { pickHand: "thumb" } });
    const step = p.steps[1]!;
    expect(step.strings.some((s) => s.touchedBy.some((t) => t.hand === "picking" && t.part === "thumb"))).toBe(true);
    for (const string of [3, 4, 5]) expect(parts(step.strings[string - 1]!).split("+")).toContain("thumb");
    // It covers three; the side of the hand has what is left.
    expect(parts(step.strings[5]!)).toBe("palm");
  });
  it("deadens no struck string: a thud needs a contact off the bridge", () => {
    const p = plan([stroke("0", "1/8", "6/0p"), { at: "1/8", length: "1/8", as: "ghost", strings: [6, 5] }, stroke("1/4", "1/8", "6/0p")], { gain: "high" });
    for (const s of [5, 6]) expect(at(p, 1, "1/8", s).touchedBy.some((t) => t.part !== "palm")).toBe(true);
    dead(p, 1, "1/8", 5, 6);
  });
});

describe("chucks", () => {
  const chord = "5/3 4/2 3/0 2/1 1/0";
  const bar = (more = {}) => [
    stroke("0", "1/4", chord),
    stroke("1/4", "1/8", chord, { as: "chuck", strings: [6, 5, 4, 3, 2, 1], ...more }),
    stroke("1/2", "1/4", chord),
  ];
  it("flat hand: all strings at once, hand up again in time for the chord", () => {
    const p = plan(bar(), { on: "acoustic", tempo: 100 });
    for (let s = 1; s <= 6; s++) touching(p, 1, "1/4", s, "heel");
    for (let s = 1; s <= 5; s++) expect(parts(at(p, 1, "1/2", s))).toBe("");
    expect(p.bottlenecks).toEqual([]);
  });
  it("edge of the hand: the pick goes through the first strings only", () => {
    const p = plan(bar({ strings: [6, 5, 4] }), { on: "acoustic", player: { chuck: "edge" } });
    dead(p, 1, "1/4", 6, 5, 4);
    for (const s of [6, 5, 4]) touching(p, 1, "1/4", s, "heel");
  });
  it("release: the picking hand stays out of it", () => {
    const p = plan(bar(), { on: "acoustic", player: { chuck: "release" } });
    for (let s = 1; s <= 6; s++) expect(at(p, 1, "1/4", s).touchedBy.every((t) => t.hand === "fretting")).toBe(true);
    expect(at(p, 1, "1/4", 6).whyNot).toContainEqual(expect.objectContaining({ part: "heel", code: "school" }));
  });
});

describe("bass", () => {
  it("a finger comes to rest on the bass-side neighbour, the thumb never on what it plucks", () => {
    const p = plan(all(4, "1/5"), { on: "bass" });
    const resting = p.steps.flatMap((s) => s.strings.filter((x) => x.touchedBy.some((t) => t.part === "rest-stroke")).map((x) => x.string));
    expect(resting).toEqual([2, 2, 2, 2]);
    silent(p, 1, "1/4", 2, 3, 4);
  });
  it("an anchored thumb stays on the lowest string and a finger parks between", () => {
    const p = plan(all(4, "1/5"), { on: "bass", player: { bassThumb: "anchored" } });
    for (const step of p.steps) for (const s of step.strings) if (s.string !== 4) expect(s.touchedBy.every((t) => t.part !== "thumb")).toBe(true);
    const hands = p.steps.flatMap((s) => s.strings.flatMap((x) => x.touchedBy.map((t) => `${t.part}${x.string}`)));
    expect(hands).toContain("thumb4");
  });
  it("on five strings the lowest is always held or played", () => {
    const p = plan(line(4, ["4/3", "3/5", "2/5", "4/5"]), { on: "bass5" });
    for (const step of p.steps.slice(0, 4)) expect(step.strings[4]!.state).toBe("damped");
    expect(p.strays).toEqual([]);
  });
  it("a muffled tone by fingers two to four at full plucking speed: the palm cannot, they can", () => {
    const p = plan(all(8, "3/5p~1"), { on: "bass" });
    expect(parts(at(p, 1, "0", 3))).toBe("spare");
    expect(at(p, 1, "0", 3).state).toBe("muffled");
    expect(p.issues).toEqual([]);
  });
  it("a ghost on bass is the fretting hand's", () => {
    const p = plan([stroke("0", "1/8", "4/3"), { at: "1/8", length: "1/8", as: "ghost", strings: [4] }, stroke("1/4", "1/8", "4/5")], { on: "bass" });
    expect(at(p, 1, "1/8", 4).touchedBy.every((t) => t.hand === "fretting")).toBe(true);
    dead(p, 1, "1/8", 4);
  });
  it("slap: the fretting hand lies over what the thumb and the popping finger leave", () => {
    const p = plan(
      [stroke("0", "1/8", "4/5", { stroke: "slap" }), stroke("1/8", "1/8", "2/7", { stroke: "pop" }), stroke("1/4", "1/8", "4/5", { stroke: "slap" })],
      { on: "bass", player: { playsWith: "slap" } },
    );
    for (const s of [1, 2, 3]) touching(p, 1, "0", s, "underside");
    for (const step of p.steps) for (const s of step.strings) expect(s.touchedBy.every((t) => t.hand !== "picking")).toBe(true);
  });
  it("a slap shakes the other strings far more than a plucked note", () => {
    const level = (kind: "slap" | "i", playsWith: "slap" | "fingers") =>
      at(plan([stroke("0", "1/4", "4/5", { stroke: kind })], { on: "bass", player: { playsWith } }), 1, "0", 1).undampedDb!;
    expect(level("slap", "slap") - level("i", "fingers")).toBeGreaterThan(6);
  });
});

describe("nylon fingerstyle", () => {
  const pluck = (place: string, length: string, ...notes: [number, number, "p" | "i" | "m" | "a"][]) =>
    stroke(place, length, "", { notes: notes.map(([string, fret, by]) => ({ string, fret, by })) });
  it.each([
    ["an open tune", 0, {}],
    ["a fretted tune, whose index would hold the others", 1, { damps: "picking" }],
  ] as const)("fingers not plucking lie on their own strings between pinches: %s", (_, fret, player) => {
    const p = plan([pluck("0", "1/4", [5, 0, "p"], [1, 0, "a"]), pluck("1/2", "1/4", [5, 0, "p"], [2, fret, "m"])], { on: "nylon", gain: "edge", player });
    const planted = p.steps.flatMap((s) => s.strings.flatMap((x) => x.touchedBy.filter((t) => t.part === "plant").map((t) => `${t.finger}${x.string}`)));
    expect(planted.length).toBeGreaterThan(0);
    for (const word of planted) expect(["i3", "m2", "a1"]).toContain(word);
  });
  it("one thumb stops two bass strings, tip on one and back on the next", () => {
    const p = plan([pluck("0", "1/4", [6, 0, "p"], [5, 0, "p"]), pluck("1/4", "1/4", [1, 3, "a"])], { on: "nylon" });
    const thumb = [5, 6].filter((s) => parts(at(p, 1, "1/4", s)).includes("thumb-return"));
    expect(thumb).toEqual([5, 6]);
  });
  it("a plucking thumb stops nothing with its tip, only the next bass string with its back", () => {
    const music = [pluck("0", "1/4", [6, 3, "p"]), pluck("1/4", "1/4", [5, 2, "p"]), pluck("1/2", "1/4", [4, 0, "p"])];
    // Asked for, its back can lie on the next string while it plucks, and its tip on no other.
    for (const [from, to, played] of [
      ["1/4", "1/2", 5],
      ["1/2", "3/4", 4],
    ] as const) {
      const unmet = (part: "thumb" | "thumb-return", string: number) => {
        const contact = { hand: "picking", part } as const;
        const pin = { want: "demand", string, from: { bar: 1, at: from }, to: { bar: 1, at: to }, contact } as const;
        return planPassage({ ...passageOf(music, { on: "nylon" }), pins: [pin] }).pins!.map(({ met }) => !met)[0];
      };
      expect(unmet("thumb", played + 1), `back, playing ${played}`).toBe(false);
      for (const other of [4, 5, 6]) expect(unmet("thumb-return", other), `tip on ${other}, playing ${played}`).toBe(true);
    }
  });
  it("clicks: the fingers come back onto the strings, which is the sound", () => {
    const p = plan(
      [pluck("0", "1/4", [5, 0, "p"], [3, 2, "i"]), { at: "1/4", length: "1/8", as: "click", strings: [3, 2, 1] }, pluck("1/2", "1/4", [5, 0, "p"])],
      { on: "nylon" },
    );
    dead(p, 1, "1/4", 3, 2, 1);
    for (const s of [3, 2, 1]) expect(parts(at(p, 1, "1/4", s))).not.toBe("");
  });
  it("is clean by default: what gain would show is still", () => {
    const music = [pluck("0", "1/4", [2, 1, "m"]), pluck("1/4", "1/4", [2, 3, "m"])];
    const quiet = plan(music, { on: "nylon" });
    const loud = plan(music, { on: "nylon", gain: "high" });
    const threats = (p: PlanDocument) => p.steps.flatMap((s) => s.strings).filter((s) => s.undampedDb !== null && s.undampedDb > 0).length;
    expect(threats(quiet)).toBeLessThan(threats(loud));
  });
});

describe("thumb and percussive guitar", () => {
  it("the thumb strikes the low string and comes to rest on the next one", () => {
    const passage = passageOf(
      all(4, "6/0").map((s) => ({ ...s, stroke: "down" as const })),
      { on: "acoustic", gain: "high", player: { playsWith: "thumb" } },
    );
    const contact = { hand: "picking", part: "rest-stroke" } as const;
    const rests = (string: number) =>
      planPassage({ ...passage, pins: [{ want: "demand", string, from: { bar: 1, at: "0" }, to: { bar: 1, at: "1" }, contact }] }).pins![0]!.met;
    expect([1, 2, 3, 4, 5, 6].filter(rests)).toEqual([5]);
  });
  it("the fretting hand slaps across all strings: a sound and a mute in one", () => {
    const p = plan(
      [stroke("0", "1/4", "6/0"), { at: "1/4", length: "1/8", as: "click", stroke: "none", strings: [6, 5, 4, 3, 2, 1] }, stroke("1/2", "1/4", "6/0")],
      { on: "acoustic", player: { playsWith: "thumb" } },
    );
    for (let s = 1; s <= 6; s++) expect(parts(at(p, 1, "1/4", s))).toContain("slap");
    dead(p, 1, "1/4", 1, 2, 3, 4, 5, 6);
  });
});

describe("aids and other instruments", () => {
  it("a fret wrap helps against what answers by itself, not against what is struck", () => {
    // Tapping: the picking hand is at the neck and cannot damp; string 1 is the octave of string 3 at fret 9.
    const tapped = all(4, "3/9").map((s) => ({ ...s, notes: s.notes!.map((note) => ({ ...note, from: "tap" as const })) }));
    const answering = (fretWrap: "never" | "on") =>
      plan(tapped, { gain: "high", player: { fretWrap, damps: "picking" } }).strays.filter((s) => s.cause === "sympathy");
    expect(answering("never").map((s) => s.string)).toContain(1);
    expect(answering("on")).toEqual([]);
    // A string that the stroke goes through and nobody else can hold rings under the wrap as well.
    const chord = all(4, "3/9~1");
    const wide = chord.map((s) => ({ ...s, strings: [6, 5, 4, 3, 2, 1] }));
    const strings = (fretWrap: "never" | "on") => plan(wide, { gain: "high", player: { fretWrap } }).strays.filter((s) => s.cause === "struck");
    expect(strings("never").length).toBeGreaterThan(0);
    expect(strings("on").map((s) => [s.string, s.db])).toEqual(strings("never").map((s) => [s.string, s.db]));
  });
  it("a fret wrap lies there from the first step to the last, is said once, and never under an open string that sounds", () => {
    const fretted = plan(all(4, "4/5"), { player: { fretWrap: "on" } });
    for (const step of fretted.steps) expect(parts(step.strings[0]!)).toContain("fret-wrap");
    expect(fretted.steps.filter((step) => step.fretting.includes("fret wrap"))).toHaveLength(1);
    expect(fretted.steps[0]!.fretting).toContain("fret wrap over 1 to 6");
    const open = plan(line(4, ["4/5", "5/0", "4/5", "5/0p"]), { player: { fretWrap: "on" } });
    expect(open.issues).toEqual([
      expect.objectContaining({
        code: "wrap-under-open-string",
        bar: 1,
        at: "1/4",
        path: "/bars/0/strokes/1/notes/0",
        says: expect.stringContaining("1 more"),
      }),
    ]);
    for (const step of open.steps) for (const string of step.strings) expect(parts(string)).not.toContain("fret-wrap");
    expect(open.steps[0]!.fretting).not.toContain("wrap");
  });
  it("seven strings: the lowest one is under the palm while the riff is on the sixth", () => {
    const p = plan(all(8, "6/3"), { on: "seven", gain: "high" });
    silent(p, 1, "1/8", 1, 2, 3, 4, 5, 7);
    expect(p.strays).toEqual([]);
  });
  it("a capo shortens the strings and changes no habit", () => {
    const music = all(4, "5/3+4/5");
    const passage = passageOf(music, { gain: "high" });
    passage.instrument = { ...passage.instrument, capo: 2 };
    const capo = planPassage(passage);
    expect(capo.strays).toEqual([]);
    for (const step of capo.steps) for (const s of [1, 2, 3]) expect(parts(step.strings[s - 1]!)).toContain("underside");
    touching(capo, 1, "0", 6, "tip");
  });
});

describe("more gain, more to hold", () => {
  it("what is audible only grows from clean over edge to high gain", () => {
    const threats = (gain: "clean" | "edge" | "high") =>
      plan(all(4, "3/5"), { gain })
        .steps.flatMap((s) => s.strings)
        .filter((s) => (s.undampedDb ?? -99) > 0).length;
    expect(threats("clean")).toBeLessThanOrEqual(threats("edge"));
    expect(threats("edge")).toBeLessThan(threats("high"));
  });
  it("a rest takes its measure from the last sound: a stray there is judged as it would be heard", () => {
    const p = plan(line(4, ["6/0", "-", "-", "-"]).concat(line(4, ["-", "-", "-", "6/0"])), { gain: "edge" });
    expect(at(p, 1, "1/4", 6).undampedDb).toBeGreaterThan(20);
  });
});

describe("music nobody can play is reported", () => {
  it("a stretch beyond reach", () => {
    const p = plan([stroke("0", "1/4", "6/1~1 5/8~4")]);
    expect(p.issues.map((i) => i.code)).toContain("span-too-wide");
  });
  it("a finger in two places", () => {
    const p = plan([stroke("0", "1/4", "6/3~2 5/5~2")]);
    expect(p.issues.map((i) => i.code)).toContain("finger-in-two-places");
  });
  it("fingers crossed", () => {
    expect(plan([stroke("0", "1/4", "6/5~1 5/3~3")]).issues.map((i) => i.code)).toContain("fingers-crossed");
  });
  it("a longer reach reaches further", () => {
    const wide = [stroke("0", "1/4", "6/1~1 5/5~4")];
    expect(plan(wide, { player: { reachMm: 80 } }).issues.map((i) => i.code)).toContain("span-too-wide");
    expect(plan(wide, { player: { reachMm: 130 } }).issues).toEqual([]);
  });
});

describe("harmonics and tapping", () => {
  const harmonic = (fret: number) => plan([stroke("0", "1/2", "", { notes: [{ string: 3, fret, harmonic: true }] })], { gain: "high" });
  it("a natural harmonic rings on its open string: nothing presses it, and nothing touches it while it sounds", () => {
    for (const fret of [12, 7, 5, 4, 9, 16, 19]) {
      const p = harmonic(fret);
      expect(p.issues).toEqual([]);
      expect(at(p, 1, "0", 3)).toMatchObject({ state: "ring", touchedBy: [] });
      silent(p, 1, "0", 2, 4);
    }
  });
  it("no harmonic speaks over frets away from every node", () => {
    for (const fret of [1, 6, 8, 11]) expect(harmonic(fret).issues.map((i) => i.code)).toEqual(["no-harmonic-here"]);
  });
  it("a tapping finger holds its string, and its hand is at the neck: no palm, no thumb", () => {
    const p = plan(
      [stroke("0", "1/8", "3/5~1"), stroke("1/8", "1/8", "", { stroke: "none", notes: [{ string: 3, fret: 12, from: "tap" }] }), stroke("1/4", "1/4", "3/5~1")],
      { gain: "high" },
    );
    expect(at(p, 1, "1/8", 3).touchedBy).toContainEqual({ hand: "picking", part: "press", finger: "m", fret: 12 });
    for (let s = 1; s <= 6; s++) expect(at(p, 1, "1/8", s).touchedBy.filter((t) => t.hand === "picking" && t.part !== "press")).toEqual([]);
    expect(at(p, 1, "1/8", 6).whyNot!.some((w) => w.part === "palm" && w.code === "finger-busy")).toBe(true);
  });
  it("a finger nutwards of the tapped note does nothing to its string", () => {
    const p = plan([stroke("0", "1/4", "", { stroke: "none", notes: [{ string: 3, fret: 12, from: "tap" }] })], { gain: "high" });
    expect(at(p, 1, "0", 3).touchedBy.every((t) => t.part === "press")).toBe(true);
  });
});

describe("bloom", () => {
  it("a fretted note rings on as long as its finger stays, an open one until it leaves the harmony", () => {
    const music = (then: string) => [stroke("0", "1/8", "5/3~3 4/2~2 3/0"), stroke("1/8", "1/8", "2/1~1"), stroke("1/4", "1/4", then)];
    const stays = plan(music("1/0"), { on: "acoustic", ring: "bloom" });
    for (const s of [5, 4, 3]) expect(at(stays, 1, "1/8", s).intent).toBe("free");
    const leaves = plan(music("1/3~3"), { on: "acoustic", ring: "bloom" });
    expect(at(leaves, 1, "1/4", 5).intent).toBe("quiet");
    expect(at(leaves, 1, "1/4", 5).causes).toContain("pull-off");
    expect(at(leaves, 1, "1/4", 3).intent).toBe("free");
  });
});

describe("what may ring on, and what nobody minds", () => {
  it("in bloom a string rings on while its note belongs to the harmony, and is stopped by a chord without it", () => {
    const low = "6/0+5/2+4/2+3/0";
    const under = (chord: string) => at(plan(line(2, [low, chord]), { on: "acoustic", ring: "bloom" }), 1, "1/2", 6).intent;
    // E is in A major, not in D major, and rubs against neither.
    expect(under("3/2+2/2+1/0")).toBe("free");
    expect(under("3/2+2/3+1/2")).toBe("quiet");
  });
  it("a note marked to ring on is left alone after its written end", () => {
    const onceOver = (letRing: boolean) =>
      at(plan([stroke("0", "1/4", "", { notes: [{ string: 5, fret: 0, letRing }] }), stroke("1/2", "1/4", "3/2")], { on: "electric" }), 1, "1/4", 5);
    expect(onceOver(true).intent).toBe("free");
    expect(onceOver(true).touchedBy).toEqual([]);
    expect(onceOver(false).intent).toBe("quiet");
    expect(onceOver(false).touchedBy).not.toEqual([]);
  });
  it("a string at the unison answers on an acoustic; one a semitone off hardly does", () => {
    const answer = (fret: number) => at(plan(all(2, `6/${fret}`), { on: "acoustic" }), 1, "0", 5);
    expect(answer(5).causes).toContain("sympathy");
    expect(answer(6).causes).not.toContain("sympathy");
  });
  it("a hole of 60 ms in front of a string's own next note is nobody's work, one of 125 ms is", () => {
    const hole = (length: string) => {
      const { timeline, problem } = planStages(passageOf([stroke("0", length, "3/0"), stroke("1/4", "1/2", "3/0")], { tempo: 120 }));
      const step = timeline.steps.findIndex((s) => s.atTicks === ticksOf(length));
      return Math.max(...problem.stakes[step]![2]!.cost, ...problem.stakes[step]![2]!.faint);
    };
    expect(hole("7/32")).toBe(0);
    expect(hole("3/16")).toBeGreaterThan(0);
  });
  it("an answer that fuses with the chord is faint, not a stray", () => {
    const p = planPassage(demoPassages().find(({ title }) => title === "Anchor Watch")!);
    expect(p.strays.length).toBeGreaterThan(0);
    for (const stray of p.strays) expect(stray).toMatchObject({ faint: true, cause: "sympathy" });
  });
  it("what only answers or is shaken, less than 10 dB over what is heard and on bass less than 6, fuses with what is meant to sound; in a rest it is heard", () => {
    const heard = { fused: 0, inRests: 0 };
    for (let seed = 0; seed < 60; seed++) {
      const passage = randomPassage(seed, 6);
      const fusesTo = passage.instrument.kind === "electric-bass" ? 6 : 10;
      const { hazards, problem, intent } = planStages(passage);
      for (const [i, { strings }] of hazards.entries()) {
        const isMeant = intent[i]!.some((what) => what === "ring" || what === "free" || what === "muffled");
        for (const [s, { undampedDb, causes }] of strings.entries()) {
          if (undampedDb === null || undampedDb < 3.1 || undampedDb > fusesTo - 0.1) continue;
          if (!causes.every((cause) => cause === "jolt" || cause === "sympathy")) continue;
          const { cost, faint } = problem.stakes[i]![s]!;
          if (isMeant) expect(Math.max(...cost), `${passage.title}, step ${i}, string ${s + 1}`).toBe(0);
          if (isMeant && Math.max(...faint) > 0) heard.fused++;
          if (!isMeant && Math.max(...cost) > 0) heard.inRests++;
        }
      }
    }
    expect(heard.fused).toBeGreaterThan(0);
    expect(heard.inRests).toBeGreaterThan(0);
  });
  it("whatever rings less than 3 dB over what is heard is faint at most", () => {
    let faint = 0;
    for (let seed = 0; seed < 60; seed++) {
      const { hazards, problem } = planStages(randomPassage(seed, 6));
      for (const [i, { strings }] of hazards.entries())
        for (const [s, { undampedDb, causes }] of strings.entries()) {
          if (undampedDb === null || undampedDb <= 0 || undampedDb >= 3) continue;
          const stakes = problem.stakes[i]![s]!;
          expect(Math.max(...stakes.cost)).toBe(0);
          if (causes.some((cause) => cause !== "jolt" && cause !== "sympathy") && Math.max(...stakes.faint) > 0) faint++;
        }
    }
    expect(faint).toBeGreaterThan(0);
  });
  it("a jolt less than 3 dB over the threshold is nobody's work", () => {
    const p = plan([stroke("0", "1/2", "1/12", { stroke: "pop" })], { on: "electric", gain: "clean", player: { playsWith: "slap", index: "arched" } });
    const soft = [2, 3, 4, 5, 6].map((s) => at(p, 1, "0", s)).filter((s) => s.undampedDb !== null && s.undampedDb > 0 && s.undampedDb < 3);
    expect(soft.length).toBeGreaterThan(0);
    for (const s of soft) expect(s.state).toBe("still");
  });
  it("what a hand is at home in costs nothing to keep; what players avoid costs more the longer it is held", () => {
    const effort = (tempo: number, music: string, player = {}) => plan(all(1, music), { gain: "high", tempo, player }).cost.effort;
    expect(effort(30, "6/5+5/7")).toBe(0);
    const thumb = { thumbOver: "yes", pickHand: "palm", damps: "fretting" };
    expect(effort(30, "5/5", thumb)).toBeGreaterThanOrEqual(effort(60, "5/5", thumb));
    expect(effort(30, "4/2~1+2/0")).toBeGreaterThan(effort(60, "4/2~1+2/0"));
  });
});

describe("moves that take several steps", () => {
  it("a hand that holds nothing sets out early enough to lie across the strings for a ghost", () => {
    const music = [...line(16, ["6/0", "6/0", "6/0", "6/0"]), { at: "1/4", length: "1/16", as: "ghost" as const, strings: [6, 5, 4] }];
    const p = plan(music, { tempo: 150, player: { chuck: "release" } });
    for (const s of [6, 5, 4]) expect(parts(at(p, 1, "1/4", s))).toMatch(/lay|spare/);
    dead(p, 1, "1/4", 6, 5, 4);
    expect(p.bottlenecks).toEqual([]);
  });
  it("over seven strings the idle fingers are not enough: the hand is laid across", () => {
    const open = "7/0 6/0 5/0 4/0 3/0 2/0 1/0";
    const strings = [7, 6, 5, 4, 3, 2, 1];
    const p = plan([stroke("0", "1/4", open), { at: "1/4", length: "1/4", as: "ghost", strings }, stroke("1/2", "1/4", open)], { on: "seven", tempo: 80 });
    for (const s of strings) touching(p, 1, "1/4", s, "lay");
    dead(p, 1, "1/4", ...strings);
  });
  it("and to slap them", () => {
    const slap = (word: string) => {
      const music = [
        ...line(16, [word, word, word, word]),
        { at: "1/4", length: "1/16", as: "ghost" as const, stroke: "none" as const, strings: [6, 5, 4, 3, 2, 1] },
      ];
      return plan(music, { tempo: 200 }).bottlenecks.map((b) => b.move);
    };
    expect(slap("6/0")).toEqual([]);
    expect(slap("6/3")).toContain("laying the hand across");
  });
  it("a hand that has just pressed has no time for it", () => {
    const music = [...line(16, ["6/3", "6/3", "6/3", "6/3"]), { at: "1/4", length: "1/16", as: "ghost" as const, strings: [6, 5, 4] }];
    const p = plan(music, { tempo: 150, player: { chuck: "release" } });
    expect(parts(at(p, 1, "1/4", 5))).not.toContain("lay");
  });
});
