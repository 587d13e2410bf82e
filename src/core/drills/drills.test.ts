import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { knownIn } from "../caching/known.ts";
import type { PlanDocument } from "../document/plan.ts";
import { planPassage, planStages, wholePlan } from "../engine.ts";
import { parsePassage } from "../passage/parse.ts";
import type { Passage } from "../passage/schema.ts";
import { atTempo } from "../passage/tempo.ts";
import { Rendering } from "../sound/render.ts";
import { somePassages } from "../test/any-passage.ts";
import { line, passageOf, stroke } from "../test/build.ts";
import { demoPassages } from "../test/demos.ts";
import { drillsOf, partsIn } from "./drills.ts";
import { foundIn } from "./found.ts";
import type { Drill, DrillKind, Try } from "./types.ts";

const DEMOS = demoPassages();
const plans = new Map<Passage, PlanDocument>();
const planOf = (passage: Passage) => knownIn(plans, passage, () => wholePlan(passage, { why: "nothing" }));
const drillsFor = (passage: Passage, minutes = 20, history: readonly Try[] = []) => drillsOf(planOf(passage), passage, history, minutes).drills;
/** Every kind that a passage gives rise to. */
const kindsIn = (passage: Passage): Set<DrillKind> => new Set(partsIn(foundIn(planOf(passage), passage)).map(({ kind }) => kind));

/** Common practice throughout: which drills each kind of music gets. */
const SWEEP = passageOf(
  [...line(16, ["5/7", "4/7", "3/7", "2/7"]).map((s) => ({ ...s, stroke: "down" as const })), stroke("1/4", "1/4", "1/7", { stroke: "down" })],
  {
    tempo: 80,
  },
);
const ghost = (at: string, notes: string) => stroke(at, "1/16", notes, { as: "ghost", strings: [4, 3, 2, 1] });
const FUNK = passageOf(
  ["4/9 3/9 2/8 1/9", "4/7 3/7 2/6 1/7"].map((shape) => [
    stroke("0", "1/16", shape),
    ghost("1/16", shape),
    ghost("1/8", shape),
    stroke("3/16", "1/16", shape),
    ghost("1/4", shape),
    stroke("3/8", "1/16", shape),
    ghost("7/16", shape),
    ghost("1/2", shape),
    stroke("9/16", "1/16", shape),
    ghost("5/8", shape),
  ]),
  { tempo: 90 },
);
const BOOM_BRUSH = passageOf(
  ["6/3 5/2 1/3", "5/3 4/2 2/1"].map((shape) => {
    const bass = shape.split(" ")[0]!;
    const chord = shape.startsWith("6") ? "3/0 2/0 1/3" : "3/0 2/1 1/0";
    return [0, 1, 2, 3].flatMap((k) => [stroke(`${2 * k}/8`, "1/8", bass), stroke(`${2 * k + 1}/8`, "1/8", chord, { stroke: "down" })]);
  }),
  { on: "acoustic", tempo: 100 },
);
const CLASSICAL = passageOf(
  [
    [stroke("0", "1/4", "5/0 3/2 2/1"), stroke("1/2", "1/4", "6/0 3/1 2/0")],
    [stroke("0", "1/8", "5/0 2/1"), stroke("1/4", "1/8", "4/2 1/0"), stroke("1/2", "1/4", "5/0 3/2")],
  ],
  {
    on: "nylon",
    tempo: 80,
  },
);
const SLAP = passageOf(
  [
    [
      stroke("0", "1/8", "4/3", { stroke: "slap" }),
      stroke("1/8", "1/8", "2/5", { stroke: "pop" }),
      stroke("1/4", "1/16", "", { as: "ghost", strings: [4], stroke: "slap" }),
      stroke("3/8", "1/8", "4/3", { stroke: "slap" }),
      stroke("1/2", "1/8", "3/5", { stroke: "slap" }),
      stroke("5/8", "1/8", "2/7", { stroke: "pop" }),
    ],
  ],
  { on: "bass", player: { playsWith: "slap" }, tempo: 100 },
);
const POWER = passageOf([line(8, ["6/0p", "6/0p", "6/3+5/5", "6/0p", "6/0p", "6/5+5/7", "6/0p", "6/0p"])], { gain: "high", tempo: 120 });

describe("what each kind of music is drilled with (common practice)", () => {
  it("a sweep grows string by string, one motion, and is no groove", () => {
    const drills = drillsFor(SWEEP);
    const grown = drills.find(({ kind }) => kind === "string-by-string")!;
    expect(grown.passage.bars.map(({ strokes }) => strokes.length)).toEqual([2, 3, 4, 5]);
    expect(grown.listensFor).toMatch(/^Each note alone/);
    expect(kindsIn(SWEEP).has("dead-groove")).toBe(false);
    expect(kindsIn(SWEEP).has("change-while-scratching")).toBe(false);
  });
  it("a funk part: its dead groove, and its changes inside the scratch, before the whole; ghosts only, no stroke sounds", () => {
    const drills = drillsFor(FUNK);
    const order = drills.map(({ kind }) => kind);
    expect(order.slice(0, 2).sort()).toEqual(["change-while-scratching", "dead-groove"]);
    const scratch = drills.find(({ kind }) => kind === "change-while-scratching")!;
    expect(scratch.passage.bars.flatMap(({ strokes }) => strokes).every(({ as, notes }) => as === "ghost" && notes.length > 1)).toBe(true);
    expect(
      planPassage(scratch.passage)
        .steps.flatMap(({ strings }) => strings)
        .every(({ state }) => state !== "ring"),
    ).toBe(true);
    expect(order.at(-1)).toBe("whole");
  });
  it("a boom-brush: its groove; no sweep, no scratch, no slur", () => {
    const kinds = kindsIn(BOOM_BRUSH);
    expect(kinds.has("dead-groove")).toBe(true);
    for (const kind of ["string-by-string", "change-while-scratching", "one-slur"] as const) expect(kinds.has(kind)).toBe(false);
  });
  it("a classical piece with rests: to each stop, and silence on the beat", () => {
    const drills = drillsFor(CLASSICAL);
    const stop = drills.find(({ kind }) => kind === "to-each-stop")!;
    expect(stop.listensFor).toMatch(/Silence on the beat/);
    expect(kindsIn(CLASSICAL).has("dead-groove")).toBe(false);
  });
  it("a slap line: what keeps its strings, and the groove of its dead notes", () => {
    const kinds = kindsIn(SLAP);
    expect(kinds.has("dead-groove")).toBe(true);
    expect(kinds.has("both-strings") || kinds.has("one-gesture")).toBe(true);
    expect(kinds.has("one-slur")).toBe(false);
  });
  it("a power-chord riff under the palm: strokes over open strings, so that the fretting hand cannot cheat, and each contact alone", () => {
    const drills = drillsFor(POWER);
    const open = drills.find(({ kind }) => kind === "open-strings")!;
    expect(open.hand).toBe("picking");
    expect(open.passage.bars.flatMap(({ strokes }) => strokes.flatMap(({ notes }) => notes)).every(({ fret }) => fret === 0)).toBe(true);
    const [first] = drills;
    expect(first!.kind).toBe("both-strings");
    expect(first!.focus.contact).toMatchObject({ hand: "fretting", part: "underside" });
  });
  it("a slur and a bend each by itself, a bend as what strains", () => {
    const lick = passageOf(
      [
        stroke("0", "1/8", "3/5"),
        stroke("1/8", "1/8", "", { notes: [{ string: 3, fret: 7, from: "hammer" }] }),
        stroke("1/4", "1/2", "", { notes: [{ string: 2, fret: 8, bend: 2 }] }),
      ],
      { gain: "high" },
    );
    const slurs = partsIn(foundIn(wholePlan(lick), lick)).filter(({ kind }) => kind === "one-slur");
    expect(slurs.map(({ id, strain }) => [id, strain])).toEqual([
      ["one-slur hammer", undefined],
      ["one-slur bend", "bend"],
    ]);
  });
});

describe("a session", () => {
  const demos = DEMOS;
  it("has the minutes it was asked for, parts before the whole, the most valuable first", () => {
    for (const passage of demos)
      for (const minutes of [5, 10, 20, 40]) {
        const drills = drillsFor(passage, minutes);
        expect(drills.reduce((sum, drill) => sum + drill.minutes, 0)).toBe(minutes);
        expect(drills.every((drill) => drill.minutes >= 1 && Number.isInteger(drill.minutes))).toBe(true);
        expect(drills.findIndex(({ kind }) => kind === "whole")).toBe(drills.length - 1);
      }
  });
  it("never gives more than a third of its minutes to one straining contact (common practice)", () => {
    const bends = passageOf(
      [0, 1, 2, 3].map((k) => [stroke("0", "1/2", "", { notes: [{ string: 2, fret: 8 + k, bend: 2 }] })]),
      { gain: "high" },
    );
    for (const passage of [...demos, bends])
      for (const minutes of [5, 10, 20, 40])
        for (const strain of ["bend", "barre", "thumb over", "across"] as const) {
          const own = drillsFor(passage, minutes).filter((drill) => drill.strain === strain);
          expect(own.reduce((sum, drill) => sum + drill.minutes, 0)).toBeLessThanOrEqual(minutes / 3);
        }
  });
  it("begins at 50 to 60% of what can be reached, the goal or what the hands keep up with (common practice)", () => {
    for (const passage of demos) {
      const plan = planOf(passage);
      const reach = Math.min(passage.goalTempo ?? passage.tempo, plan.limits.hands?.tempo ?? 20);
      for (const { tempo } of drillsFor(passage)) {
        expect(tempo.start).toBeGreaterThanOrEqual(Math.floor(0.5 * reach));
        expect(tempo.start).toBeLessThanOrEqual(Math.ceil(0.6 * reach));
      }
    }
  });
  it("what went wrong lately comes before what was always clean, and begins where it was left", () => {
    const passage = demos[0]!;
    const [first, second] = drillsFor(passage, 240);
    const tries = (drill: Drill, clean: boolean, tempo: number) => Array.from({ length: 8 }, (_, k): Try => ({ drill: drill.id, tempo, clean, at: k }));
    const now = drillsFor(passage, 240, [...tries(first!, true, 110), ...tries(second!, false, 90)]);
    const order = now.map(({ id }) => id);
    expect(order).toContain(first!.id);
    expect(order.indexOf(second!.id)).toBeLessThan(order.indexOf(first!.id));
    const { start } = now.find(({ id }) => id === first!.id)!.tempo;
    expect(start).toBeLessThan(115);
    expect(start).toBeGreaterThanOrEqual(0.9 * 110);
  });
  it("what is not due yet comes after what is, and not at all where there is no time", () => {
    for (const passage of DEMOS) {
      const [first, second] = drillsFor(passage, 40);
      if (!second || second.kind === "whole") continue;
      const rested = drillsOf(planOf(passage), passage, [], 40, { resting: [first!.id] }).drills;
      expect(rested[0]!.id, passage.title).not.toBe(first!.id);
    }
  });
  it("what a teacher asks for comes first, until it rests", () => {
    for (const passage of DEMOS) {
      const all = drillsFor(passage, 40).filter(({ kind }) => kind !== "whole");
      const asked = all.at(-1);
      if (!asked) continue;
      expect(drillsOf(planOf(passage), passage, [], 10, { asked: [asked.id] }).drills[0]!.id, passage.title).toBe(asked.id);
      if (all.length === 1) continue;
      const rested = drillsOf(planOf(passage), passage, [], 10, { asked: [asked.id], resting: [asked.id] }).drills;
      expect(rested[0]!.id, passage.title).not.toBe(asked.id);
    }
  });
  it("once, cold comes last when the goal is near, and not before", () => {
    const passage = demos[1]!;
    const goal = passage.goalTempo ?? passage.tempo;
    const near = drillsFor(passage, 20, [{ drill: "whole", tempo: goal, clean: true, at: 1 }]);
    expect(near.at(-1)).toMatchObject({ kind: "once", minutes: 1, ends: { times: 1 } });
    expect(drillsFor(passage).some(({ kind }) => kind === "once")).toBe(false);
  });
  it("is the same for the same plan and history", () => {
    for (const passage of demos) expect(drillsFor(passage)).toEqual(drillsFor(passage));
  });
  it("drills name nothing twice, and an empty passage has none", () => {
    for (const passage of demos) {
      const ids = drillsFor(passage, 40).map(({ id }) => id);
      expect(new Set(ids).size).toBe(ids.length);
    }
    expect(drillsFor(passageOf([[]]))).toEqual([]);
  });
});

describe("the passages of drills", () => {
  it("are documents, planned without an issue; a contact that is drilled is really made there, and all but what one hand leaves is clean", () => {
    for (const passage of DEMOS) {
      const own = planPassage(passage, { why: "nothing" });
      for (const drill of drillsFor(passage, 40)) {
        const parsed = parsePassage(JSON.parse(JSON.stringify(drill.passage)));
        if (!parsed.ok) expect.fail(`${passage.title}, ${drill.title}: ${parsed.faults[0]!.place} ${parsed.faults[0]!.says}`);
        const plan = planPassage(parsed.value);
        expect(plan.issues, `${passage.title}, ${drill.title}`).toEqual([]);
        expect(plan.pins?.every(({ met }) => met) ?? true, drill.title).toBe(true);
        const heard = plan.strays.filter(({ faint }) => !faint);
        const isClean = own.strays.every(({ faint }) => faint);
        if (["both-strings", "dead-groove", "change-while-scratching"].includes(drill.kind)) expect(heard, `${passage.title}, ${drill.title}`).toEqual([]);
        if (drill.kind === "whole" && isClean) expect(heard).toEqual([]);
      }
    }
  });
  it("over any passage: valid documents, whole minutes", () => {
    for (const passage of somePassages(41, 40)) {
      const drills = drillsOf(planPassage(passage, { why: "nothing" }), passage, [], 10).drills;
      for (const drill of drills) {
        const parsed = parsePassage(JSON.parse(JSON.stringify(drill.passage)));
        expect(parsed.ok ? [] : [drill.title, parsed.faults]).toEqual([]);
      }
      if (drills.length > 0) expect(drills.reduce((sum, drill) => sum + drill.minutes, 0)).toBe(10);
    }
  });
});

describe("what it sounds like when a contact fails", () => {
  /** Power of some of a rendering, one string heard. */
  const powerOf = (passage: Passage, without: Drill["focus"]["contact"], string: number, fromMs = 0, toMs = 2000) => {
    const sound = new Rendering(passage, planStages(passage), { damping: "planned", without, string, fromMs, toMs, sampleRate: 22_050 });
    let sum = 0;
    for (let piece = sound.take(4096); piece; piece = sound.take(4096)) for (const sample of piece) sum += sample * sample;
    return sum;
  };
  it("where only it keeps a string still that would ring, that string is heard without it, at least 6 dB louder", () => {
    let compared = 0;
    for (const passage of DEMOS)
      for (const drill of drillsFor(passage, 40).filter(({ kind }) => kind === "both-strings")) {
        const contact = drill.focus.contact!;
        const alone = planPassage(passage, { why: "nothing" }).steps.flatMap((step) =>
          step.strings.flatMap(({ string, state, touchedBy, undampedDb }) => {
            const [only] = touchedBy;
            const isIt = touchedBy.length === 1 && only!.hand === contact.hand && only!.part === contact.part && only!.finger === contact.finger;
            return isIt && state === "damped" && (undampedDb ?? 0) > 20 ? [{ step, string, db: undampedDb! }] : [];
          }),
        );
        const loudest = alone.sort((a, b) => b.db - a.db)[0];
        if (!loudest) continue;
        compared++;
        const { step, string } = loudest;
        const over = [step.ms + 20, step.ms + step.lengthMs] as const;
        const [fails, right] = [powerOf(passage, contact, string, ...over), powerOf(passage, undefined, string, ...over)];
        expect(fails, `${passage.title}, ${drill.title}, bar ${step.bar} ${step.at}`).toBeGreaterThan(4 * right);
      }
    expect(compared).toBeGreaterThan(4);
  });
  it("of every drill that is played, failing sounds otherwise than right", () => {
    const samplesOf = ({ passage, tempo }: Drill, { damping = "planned", without }: Drill["sounds"]["right"]) => {
      const slow = atTempo(passage, tempo.start);
      return [...(new Rendering(slow, planStages(slow), { damping, without, toMs: 6000, sampleRate: 8000 }).take(48_000) ?? [])];
    };
    for (const passage of DEMOS)
      for (const drill of drillsFor(passage, 40).filter(({ strokes }) => strokes === "play"))
        expect(samplesOf(drill, drill.sounds.fails), `${passage.title}, ${drill.title}`).not.toEqual(samplesOf(drill, drill.sounds.right));
  });
  it("a contact that the plan has not changes nothing", () => {
    const passage = DEMOS[2]!;
    expect(powerOf(passage, { hand: "fretting", part: "thumb" }, 4)).toBe(powerOf(passage, undefined, 4));
  });
});

it("a drill ends when its goal is clean, or its minutes are over", () => {
  fc.assert(
    fc.property(fc.constantFrom(...DEMOS), fc.constantFrom(5, 10, 20, 40), (passage, minutes) => {
      for (const { ends, tempo, minutes: own } of drillsFor(passage, minutes)) {
        expect(ends).toMatchObject({ cleanAt: tempo.goal, orMinutes: own });
        expect(tempo.start).toBeLessThanOrEqual(Math.max(tempo.goal, 20));
      }
    }),
    { numRuns: 6 },
  );
});
