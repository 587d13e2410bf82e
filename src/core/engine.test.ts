import { describe, expect, it } from "vitest";
import { planPassage } from "./engine.ts";
import { at, line, parts, passageOf, plan, stroke } from "./test/build.ts";

/*
 * Facts of the trade, string by string. All marked common practice: what rhythm guitarists and
 * bassists do and teach, without a published source.
 */

describe("fretting hand (common practice)", () => {
  it("a laid index silences the treble side of a single note with its underside", () => {
    const p = plan(line(4, ["4/5", "4/5", "4/5", "4/5"]), { gain: "high" });
    for (const string of [1, 2, 3]) expect(parts(at(p, 1, "0", string))).toContain("underside");
  });
  it("a power chord on 5 and 4 keeps string 6 quiet with the fingertip", () => {
    const p = plan([stroke("0", "1/4", "6/8"), stroke("1/4", "1/4", "5/3 4/5"), stroke("1/2", "1/4", "5/6 4/8")], { gain: "high" });
    expect(parts(at(p, 1, "1/4", 6))).toContain("tip");
    expect(p.strays).toEqual([]);
  });
  it("with an arched index nobody lies flat on the treble strings", () => {
    const p = plan(line(4, ["4/5", "4/5", "4/5", "4/5"]), { gain: "high", player: { index: "arched" } });
    for (const step of p.steps) for (const s of step.strings) expect(parts(s)).not.toContain("underside");
    expect(at(p, 1, "0", 1).whyNot).toContainEqual(expect.objectContaining({ part: "underside", code: "school" }));
  });
  it("a finger whose note is over eases and stays on its string", () => {
    const p = plan(line(4, ["5/8~4", "4/5~1", "-", "-"]), { gain: "edge" });
    expect(parts(at(p, 1, "1/4", 5))).toContain("ease");
    expect(at(p, 1, "1/4", 5).causes).toContain("carry-over");
  });
  it("no underside where it would choke a string that should sound", () => {
    const p = plan([stroke("0", "1/2", "4/2~1 2/0")], { gain: "high" });
    expect(parts(at(p, 1, "0", 3))).toBe("underside");
    for (const string of [1, 2]) expect(at(p, 1, "0", string).touchedBy).toEqual([]);
    expect(at(p, 1, "0", 1).whyNot).toContainEqual(expect.objectContaining({ part: "underside", code: "would-choke" }));
  });
  it("a touch nutwards of a pressed fret does nothing to that string: dead side", () => {
    const p = plan([stroke("0", "1/2", "4/5~1 3/7~3")], { gain: "high" });
    expect(at(p, 1, "0", 3).whyNot).toContainEqual(expect.objectContaining({ part: "underside", code: "dead-side" }));
    expect(at(p, 1, "0", 3).state).toBe("ring");
  });
  it("two notes at one fret on neighbouring strings under one finger are rolled", () => {
    const p = plan(line(4, ["5/7~3", "4/7~3", "-", "-"]), { gain: "high" });
    expect(parts(at(p, 1, "1/4", 5))).toContain("roll");
  });
  it("the thumb over the edge only where the player allows it", () => {
    // Strummed so fast that the palm would be in the way right beside the open string.
    const chord = line(16, new Array(16).fill("5/0+4/2~1+3/2~2+2/5~4"));
    const without = planPassage(passageOf(chord, { gain: "high" }), { why: "everything" });
    const allowed = plan(chord, { gain: "high", player: { thumbOver: "yes" } });
    expect(parts(at(without, 1, "0", 6))).toBe("palm");
    expect(at(without, 1, "0", 6).whyNot).toContainEqual(expect.objectContaining({ part: "thumb", code: "school" }));
    expect(parts(at(allowed, 1, "0", 6))).toBe("thumb");
  });
});

describe("palm (common practice)", () => {
  it("covers every palm-muted string and leaves open notes free", () => {
    const p = plan([stroke("0", "1/8", "6/0p"), stroke("1/8", "1/8", "6/0p"), stroke("1/4", "1/4", "5/7 4/9"), stroke("1/2", "1/4", "6/0p")], { tempo: 90 });
    for (const place of ["0", "1/8", "1/2"]) expect(parts(at(p, 1, place, 6))).toContain("palm");
    for (const string of [4, 5]) expect(parts(at(p, 1, "1/4", string))).toBe("");
    expect(p.issues).toEqual([]);
  });
  it("stops one string short of a sounding string, or right at it, by school", () => {
    const music = line(4, ["3/7~3", "3/7~3"]);
    const fingertip = plan(music, { gain: "high" });
    const palm = plan(music, { gain: "high", player: { neighbour: "palm" } });
    expect(parts(at(fingertip, 1, "1/4", 4))).toContain("tip");
    expect(parts(at(fingertip, 1, "1/4", 4))).not.toContain("palm");
    expect(parts(at(fingertip, 1, "1/4", 5))).toBe("palm");
    expect(parts(at(palm, 1, "1/4", 4))).toContain("palm");
  });
  it("cannot mute a treble string while a bass-side string has to ring", () => {
    const p = plan([stroke("0", "1/2", "6/3 4/5p")]);
    expect(p.issues.map((i) => i.code)).toContain("palm-cannot-cover");
    expect(p.cost.harm).toBeGreaterThan(0);
  });
  it("forced off and on faster than the hand can is a bottleneck, not a silent repair", () => {
    const riff = line(16, ["6/0p", "5/2", "6/0p", "5/2", "6/0p", "5/2", "6/0p", "5/2"]);
    const calm = plan(riff, { tempo: 60 });
    const fast = plan(riff, { tempo: 260 });
    expect(calm.bottlenecks).toEqual([]);
    expect(fast.bottlenecks.length).toBeGreaterThan(0);
    for (const b of fast.bottlenecks) expect(b.needMs).toBeGreaterThan(b.haveMs);
  });
});

describe("dead strokes (common practice)", () => {
  const open = "6/3 5/2 4/0 3/0 2/0 1/3";
  const chuck = (at_: string) => stroke(at_, "1/8", open, { as: "chuck", strings: [6, 5, 4, 3, 2, 1] });
  it("a chuck is the flat picking hand, landing 10-40 ms before the pick", () => {
    const p = plan([stroke("0", "1/4", open), chuck("1/4"), stroke("1/2", "1/4", open)], { on: "acoustic" });
    for (let s = 1; s <= 6; s++) {
      const heel = at(p, 1, "1/4", s).touchedBy.find((t) => t.part === "heel");
      expect(heel?.leadMs).toBeGreaterThanOrEqual(10);
      expect(heel?.leadMs).toBeLessThanOrEqual(40);
      expect(at(p, 1, "1/4", s).state).toBe("thud");
    }
  });
  it("an open chord cannot be deadened by release alone: fingers must be laid across", () => {
    const p = plan([stroke("0", "1/4", open), chuck("1/4"), stroke("1/2", "1/4", open)], { on: "acoustic", player: { chuck: "release" } });
    expect(parts(at(p, 1, "1/4", 4))).toMatch(/lay|underside|spare/);
    for (let s = 1; s <= 6; s++) expect(at(p, 1, "1/4", s).touchedBy.every((t) => t.hand === "fretting")).toBe(true);
  });
  it("a closed chord is deadened by release", () => {
    const closed = "4/3~2 3/2~1 2/3~3";
    const p = plan([stroke("0", "1/8", closed), stroke("1/8", "1/8", closed, { as: "ghost", strings: [4, 3, 2] }), stroke("1/4", "1/8", closed)]);
    for (const s of [4, 3, 2]) {
      expect(parts(at(p, 1, "1/8", s))).toContain("ease");
      expect(at(p, 1, "1/8", s).state).toBe("thud");
    }
  });
  it("a ghost is the fretting hand's where it can make it", () => {
    const p = plan([stroke("0", "1/8", "5/3~1 4/5~3"), { at: "1/8", length: "1/8", as: "ghost", strings: [5, 4] }, stroke("1/4", "1/8", "5/3~1 4/5~3")]);
    for (const s of [5, 4]) expect(at(p, 1, "1/8", s).touchedBy.some((t) => t.hand === "fretting")).toBe(true);
  });
});

describe("what nobody should damp (common practice)", () => {
  it("the final chord is left to ring", () => {
    const p = plan([stroke("0", "1/4", "5/3 4/2 3/0 2/1 1/0")], { on: "acoustic" });
    for (let s = 1; s <= 5; s++) expect(at(p, 1, "1/4", s).state).toBe("free");
  });
  it("in bloom a chord tone of the next harmony rings on, a clash is damped or reported", () => {
    const chords = [stroke("0", "1/4", "5/3~3 4/2~2 3/0 2/1~1 1/0"), stroke("1/4", "1/2", "4/2~2 3/0 2/0")];
    const bloom = plan(chords, { on: "acoustic", ring: "bloom" });
    const written = plan(chords, { on: "acoustic" });
    // C major, then E G B: the open first string (E) belongs to it, the C on string 5 does not.
    expect(at(bloom, 1, "1/4", 1).state).toBe("free");
    expect(at(bloom, 1, "1/4", 5).intent).toBe("quiet");
    expect(at(written, 1, "1/4", 1).intent).toBe("quiet");
  });
});

describe("bass (common practice)", () => {
  it("a low open string makes all others audible when nothing holds them, and players hold them", () => {
    const p = plan(line(4, ["4/0", "4/0", "4/0", "4/0"]), { on: "bass" });
    for (const s of [1, 2, 3]) {
      expect(at(p, 1, "0", s).undampedDb).toBeGreaterThan(0);
      expect(["damped", "stray"]).toContain(at(p, 1, "0", s).state);
    }
  });
  it("the floating thumb lies on the bass side of the played string with its back on the next", () => {
    const p = plan(line(4, ["2/5", "2/5", "2/7", "2/5"]), { on: "bass" });
    const thumbs = [3, 4].filter((s) => parts(at(p, 1, "1/4", s)).includes("thumb"));
    expect(thumbs.length).toBeGreaterThan(0);
    expect(p.strays).toEqual([]);
  });
  it("a rest on bass is silent: the string that was played is stopped", () => {
    const p = plan([stroke("0", "1/4", "4/3"), stroke("1/2", "1/4", "4/5")], { on: "bass" });
    expect(at(p, 1, "1/4", 4).state).toBe("damped");
  });
});

describe("nylon fingerstyle (common practice)", () => {
  it("the thumb goes back to its bass string where the rest is written", () => {
    const p = plan(
      [
        stroke("0", "1/4", "", {
          notes: [
            { string: 5, fret: 0, by: "p" },
            { string: 1, fret: 0, by: "a" },
          ],
        }),
        stroke("1/4", "1/4", "", { notes: [{ string: 2, fret: 1, by: "m" }] }),
        stroke("1/2", "1/4", "", { notes: [{ string: 6, fret: 0, by: "p" }] }),
      ],
      { on: "nylon" },
    );
    expect(parts(at(p, 1, "1/4", 5))).toBe("thumb-return");
  });
});

describe("what is over has no say", () => {
  /** A riff of 16 bars on the middle strings; the outer ones rest. */
  const riff = () => Array.from({ length: 16 }, (_, b) => line(8, ["5/3", "4/5", "5/5", b % 2 ? "4/3" : "4/7", "5/3", "3/4", "4/5", "-"]));
  const from = (bar: number, document: ReturnType<typeof plan>) => document.steps.filter((step) => step.bar >= bar);

  // Physics: a string that is held or has died away goes on no more; common practice: nobody damps for what was played a minute ago.
  it.each(["clean", "edge", "high"] as const)("one note on a string that else rests changes nothing from where it has died away, %s", (gain) => {
    const without = plan(riff(), { gain });
    for (const string of [1, 2, 6]) {
      const bars = riff();
      bars[1]!.push(stroke("7/8", "1/8", `${string}/3`));
      const played = plan(bars, { gain });
      expect(from(8, played)).toEqual(from(8, without));
      expect(played.strays.filter(({ fromBar }) => fromBar >= 8)).toEqual(without.strays.filter(({ fromBar }) => fromBar >= 8));
    }
  });
  it("and nothing before it either, apart from the bar in which the hands make ready", () => {
    const without = plan(riff());
    const bars = riff();
    bars[8]!.push(stroke("7/8", "1/8", "1/3"));
    const until = (document: ReturnType<typeof plan>) => document.steps.filter((step) => step.bar < 8);
    expect(until(plan(bars))).toEqual(until(without));
  });
});
