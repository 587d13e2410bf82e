import { describe, expect, it } from "vitest";
import { heardStrays, type Stray } from "../document/plan.ts";
import { ceilingTempo, finished, planPassage, planStages, remedies } from "../engine.ts";
import { ticksOf } from "../music/ticks.ts";
import { parsePassage } from "../passage/parse.ts";
import { patched } from "../passage/patch.ts";
import type { Passage } from "../passage/schema.ts";
import { settingsOf } from "../passage/settings.ts";
import { line, passageOf, stroke } from "../test/build.ts";
import { demoPassages } from "../test/demos.ts";
import { randomPassage } from "../test/random-passages.ts";
import { candidatesFor } from "./candidates.ts";
import { fallDb } from "./remedies.ts";

const DEMOS = demoPassages();
const remediesOf = (passage: Passage, ceiling: number | null = null) => finished(remedies(passage, planStages(passage), ceiling));

describe("every remedy", () => {
  it("applies cleanly, leaves a valid document, and does what it says when that is planned afresh", () => {
    let judged = 0;
    for (const passage of [...DEMOS, ...Array.from({ length: 50 }, (_, i) => randomPassage(5000 + i, 5))]) {
      const before = planPassage(passage);
      for (const { patch, says, ringRemovedDb, removes } of remediesOf(passage)) {
        judged++;
        expect(patch[0]!.op, says).toBe("test");
        const changed = patched(passage, patch)!;
        const parsed = parsePassage(JSON.parse(JSON.stringify(changed)));
        if (!parsed.ok) expect.fail(`${passage.title}: ${says} ${parsed.faults[0]!.place} ${parsed.faults[0]!.says}`);
        const after = planPassage(parsed.value);
        expect(fallDb(heardStrays(before), heardStrays(after)), says).toBe(ringRemovedDb);
        expect(ringRemovedDb, says).toBeGreaterThan(0);
        expect([after.cost.harm <= before.cost.harm, after.cost.rushed <= before.cost.rushed, after.issues.length <= before.issues.length], says).toEqual([
          true,
          true,
          true,
        ]);
        const left = heardStrays(after).map((s) => `${s.string} ${s.fromBar} ${s.fromAt}`);
        for (const gone of removes) expect(left, says).not.toContain(`${gone.string} ${gone.fromBar} ${gone.fromAt}`);
        if (heardStrays(after).length === 0) expect(says).toMatch(/nothing rings astray/);
        const strings = [...new Set(heardStrays(after).map(({ string }) => string))];
        if (strings.length > 2) expect(says).toContain(`${strings.length} strings still ring`);
        else for (const string of strings) expect(says).toMatch(new RegExp(`string ${string} \\((faintly|clearly|as loud as the note)\\).* still ring`));
      }
    }
    expect(judged).toBeGreaterThan(40);
  });
  it("made for one version of a passage does not touch another", () => {
    const passage = DEMOS.find(({ title }) => title === "Bilge Pump")!;
    const [first] = remediesOf(passage);
    const once = patched(passage, first!.patch)!;
    expect(patched(once, first!.patch)).toBeNull();
  });
  it("stands in the order in which a player would try them, five at most, none said twice (common practice)", () => {
    const order = ["school", "finger", "barre", "place", "stroke", "shorten", "tempo", "palm-mute", "fret-wrap"];
    let several = 0;
    for (const passage of [...DEMOS, ...Array.from({ length: 50 }, (_, i) => randomPassage(5000 + i, 5))]) {
      const found = remediesOf(passage);
      const ranks = found.map(({ kind }) => order.indexOf(kind));
      expect(ranks).toEqual([...ranks].sort((a, b) => a - b));
      expect(found.length).toBeLessThanOrEqual(5);
      expect(new Set(found.map(({ says }) => says)).size).toBe(found.length);
      if (new Set(ranks).size > 1) several++;
    }
    expect(several).toBeGreaterThan(3);
  });
  it("that helps alike at several places is one, for all of them; choices that come to the same are one line", () => {
    const bar = Array.from({ length: 8 }, (_, i) => stroke(`${i}/8`, "1/8", i % 2 === 0 ? "4/3~1" : "2/3~1", { stroke: i % 2 === 0 ? "slap" : "pop" }));
    const found = remediesOf(passageOf(bar, { on: "bass", tempo: 250, player: { playsWith: "slap" } }));
    const places = found.find(({ says }) => says.includes("3 places more"))!;
    expect(new Set(places.patch.filter(({ op }) => op === "test").map(({ path }) => path)).size).toBe(4);
    expect(places.says).toMatch(/then nothing rings astray/);
    expect(found.map(({ says }) => says).join(" ")).toMatch(/Take the middle or ring finger/);
  });
  it("comes best first, worth what it gives up, and none is said where nothing rings", () => {
    expect(remediesOf(passageOf(line(4, ["6/5+5/7"]), { gain: "high" }))).toEqual([]);
  });
});

/* Common practice: what helps, and what is not given up for it. */
describe("remedies of each kind", () => {
  const kinds = (passage: Passage, ceiling?: number | null) => new Set(remediesOf(passage, ceiling).map(({ kind }) => kind));
  /** An open string between two that ring, struck in passing: no finger of the grip is beside it. */
  const bilge = DEMOS.find(({ title }) => title === "Bilge Pump")!;

  it("another finger or another place: for the string struck in passing in Bilge Pump, and nothing else takes it away", () => {
    expect([...kinds(bilge)].sort()).toEqual(["finger", "place"]);
  });
  it("a school is offered only where the player has not decided", () => {
    let offered = 0;
    for (const passage of [8048, 8322].map((seed) => randomPassage(seed, 5)))
      for (const { patch, kind } of remediesOf(passage)) {
        if (kind !== "school") continue;
        offered++;
        const key = patch.at(-1)!.path.split("/").at(-1)! as "chuck";
        const decided = { ...passage, player: { ...passage.player, [key]: settingsOf(passage)[key] } } as Passage;
        expect(remediesOf(decided).filter((r) => r.patch.at(-1)!.path.endsWith(`/${key}`))).toEqual([]);
      }
    expect(offered).toBeGreaterThan(0);
  });
  it("a stroke that runs on past its chord is narrowed", () => {
    const wide = passageOf(
      line(4, ["3/5~1"]).map((s) => ({ ...s, strings: [6, 5, 4, 3, 2, 1] })),
      { gain: "clean" },
    );
    expect(kinds(wide)).toContain("stroke");
  });
  it("one finger laid across where two press at one fret sets a finger free; a fret wrap where no open string is wanted", () => {
    const found = new Set(Array.from({ length: 48 }, (_, i) => randomPassage(5000 + i, 5)).flatMap((p) => [...kinds(p)]));
    for (const kind of ["barre", "fret-wrap", "shorten", "stroke"]) expect(found).toContain(kind);
  });
  it("a place is proposed only where the hand can go and the neck has one: within a hand's reach and a half, and with a capo that many frets fewer", () => {
    const places = (passage: Passage, string: number) => {
      const ring: Stray = { string: 6, fromBar: 1, fromAt: "1/4", toBar: 1, toAt: "1/2", cause: "carry-over", db: 20 };
      const all = candidatesFor(passage, planStages(passage), ring).filter((c) => c.kind === "place" && c.what.includes(`of string ${string},`));
      return [...new Set(all.map((c) => Number(/^string (\d)/.exec(c.choice!)![1])))];
    };
    // E at fret 12 of string 1 lies at 17, 21 of the next two strings; from 12 to 21 are 131 mm of 648, to fret 2 of string 4 it has no way down.
    expect(places(passageOf(line(4, ["1/12", "1/12"])), 1)).toEqual([2, 3]);
    // A at fret 5 of string 1 at 10 and 14: 121 and 196 mm away. Half a reach more than 105 mm is 157.
    expect(places(passageOf(line(4, ["1/5", "1/5"])), 1)).toEqual([2]);
    expect(places(passageOf(line(4, ["1/5", "1/5"]), { player: { reachMm: 140 } }), 1)).toEqual([2, 3]);
    const capo = passageOf(line(4, ["1/12", "1/12"]));
    capo.instrument.capo = 3;
    expect(places(capo, 1)).toEqual([2]);
  });
  it("a slower tempo, down to the ceiling and never above", () => {
    // Too fast for the thumb to come over onto the root's string after a popped one.
    const bar = Array.from({ length: 8 }, (_, i) => stroke(`${i}/8`, "1/8", i % 2 === 0 ? "4/3~1" : "2/3~1", { stroke: i % 2 === 0 ? "slap" : "pop" }));
    const fast = passageOf(bar, { on: "bass", tempo: 250, player: { playsWith: "slap" } });
    const ceiling = finished(ceilingTempo(fast))!;
    expect(ceiling).toBeLessThan(250);
    const slower = remediesOf(fast, ceiling).filter((r) => r.kind === "tempo");
    expect(slower).toHaveLength(1);
    expect(slower[0]!.patch.at(-1)).toEqual({ op: "replace", path: "/tempo", value: ceiling });
    expect(heardStrays(planPassage(patched(fast, slower[0]!.patch)!))).toEqual([]);
    expect(remediesOf(fast, 280).filter((r) => r.kind === "tempo")).toEqual([]);
  });
  it("a groove's direction and an open string's sound are not given up for a few dB", () => {
    for (const passage of [...DEMOS, ...Array.from({ length: 40 }, (_, i) => randomPassage(7000 + i, 5))])
      for (const { kind, patch, ringRemovedDb, says } of remediesOf(passage)) {
        if (kind === "stroke" && patch.some((op) => op.path.endsWith("/stroke"))) expect(ringRemovedDb, says).toBeGreaterThan(9);
        if (kind === "place" && /open/.test(says)) expect(ringRemovedDb, says).toBeGreaterThan(12);
        if (kind === "shorten") expect(ringRemovedDb, says).toBeGreaterThan(3);
      }
  });
  it("a note ended early leaves at least half of it", () => {
    const shortened = Array.from({ length: 30 }, (_, i) => randomPassage(5045 + i, 5)).flatMap((p) => remediesOf(p).filter((r) => r.kind === "shorten"));
    expect(shortened.length).toBeGreaterThan(0);
    for (const { patch } of shortened) {
      const written = (patch[0] as { value: { length?: string } }).value;
      const now = (patch[1] as unknown as { value: string }).value;
      if (written.length) expect(ticksOf(now) * 2).toBeGreaterThanOrEqual(ticksOf(written.length));
      expect(ticksOf(now)).toBeGreaterThan(0);
    }
  });
});
