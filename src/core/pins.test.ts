import { describe, expect, it } from "vitest";
import { planPassage } from "./engine.ts";
import type { Pin } from "./passage/schema.ts";
import { at, line, parts, passageOf } from "./test/build.ts";

const music = line(4, ["4/5~1", "4/5~1", "4/7~3", "4/5~1"]);
const pinned = (pins: Pin[]) => planPassage({ ...passageOf(music, { gain: "high" }), pins }, { why: "everything" });
const everywhere = { from: { bar: 1, at: "0" }, to: { bar: 2, at: "0" } };

describe("pins and bans", () => {
  it("a ban is honoured, the plan works around it, and the reason is reported", () => {
    const p = pinned([{ want: "ban", string: 1, ...everywhere, contact: { hand: "fretting", part: "underside" } }]);
    for (const step of p.steps) expect(parts(step.strings[0]!)).not.toContain("underside");
    expect(at(p, 1, "0", 1).whyNot).toContainEqual(expect.objectContaining({ part: "underside", code: "banned" }));
    expect(p.pins).toHaveLength(1);
    expect(p.pins![0]!.met).toBe(true);
    const { price } = p.pins![0]!;
    expect(price.stray > 0 || (price.stray === 0 && price.effort >= 0)).toBe(true);
  });
  it("a demand is honoured from and to its places only", () => {
    const p = pinned([{ want: "demand", string: 6, from: { bar: 1, at: "1/4" }, to: { bar: 1, at: "1/2" }, contact: { hand: "picking", part: "palm" } }]);
    expect(parts(at(p, 1, "1/4", 6))).toContain("palm");
    expect(p.pins![0]!.met).toBe(true);
  });
  it("a demand nobody can meet is reported, with its path, and the rest is planned", () => {
    const p = pinned([{ want: "demand", string: 4, ...everywhere, contact: { hand: "picking", part: "palm" } }]);
    expect(p.issues).toContainEqual(expect.objectContaining({ code: "pin-unmet", path: "/pins/0" }));
    expect(p.pins![0]!.met).toBe(false);
    expect(p.steps.length).toBeGreaterThan(3);
  });
  it("a wrap that is ruled out on one string is off: it is one thing over all of them", () => {
    const passage = passageOf(music, { gain: "high", player: { fretWrap: "on" } });
    expect(planPassage(passage).steps.some((s) => s.strings.some((x) => parts(x).includes("fret-wrap")))).toBe(true);
    const contact = { hand: "aid", part: "fret-wrap" } as const;
    const p = planPassage({ ...passage, pins: [{ want: "ban", string: 3, ...everywhere, contact }] });
    for (const step of p.steps) for (const string of step.strings) expect(parts(string)).not.toContain("fret-wrap");
    expect(p.pins![0]!.met).toBe(true);
    expect(p.issues).toEqual([]);
  });
  it("a ban that no shape can honour is reported as unmet", () => {
    // A palm-muted note has its palm, whatever is ruled out.
    const passage = passageOf(line(4, ["6/3p", "6/3p"]), { gain: "high" });
    const p = planPassage({ ...passage, pins: [{ want: "ban", string: 6, ...everywhere, contact: { hand: "picking", part: "palm" } }] });
    expect(p.pins![0]!.met).toBe(false);
    expect(p.issues).toContainEqual(expect.objectContaining({ code: "pin-unmet", path: "/pins/0", says: expect.stringContaining("ruled out") }));
  });
  it("what a pin costs is the difference it makes", () => {
    const free = planPassage(passageOf(music, { gain: "high" }));
    const p = pinned([{ want: "ban", string: 5, ...everywhere, contact: { hand: "fretting", part: "tip" } }]);
    for (const step of p.steps) expect(parts(step.strings[4]!)).not.toContain("tip");
    expect(p.pins![0]!.met).toBe(true);
    expect(p.pins![0]!.price.stray).toBe(p.cost.stray - free.cost.stray);
    expect(p.pins![0]!.says.length).toBeGreaterThan(5);
  });
});
