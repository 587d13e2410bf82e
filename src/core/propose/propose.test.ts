import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { finished, planStages, proposals } from "../engine.ts";
import { backbeats, barLength } from "../music/beats.ts";
import { ticksOf } from "../music/ticks.ts";
import { parsePassage } from "../passage/parse.ts";
import type { Passage, Stroke } from "../passage/schema.ts";
import { settingsOf } from "../passage/settings.ts";
import { atTempo } from "../passage/tempo.ts";
import { passageOf, stroke } from "../test/build.ts";
import { strokeDirections } from "../timeline/strokes.ts";
import { issuesOf } from "../verdict/findings.ts";
import { treated } from "../writer/treated.ts";
import { NO_WISHES, type Proposal, type Wishes } from "./types.ts";

const SHAPES = [
  ["G", "6/3 5/2 4/0 3/0 2/0 1/3"],
  ["C", "5/3 4/2 3/0 2/1 1/0"],
  ["Am", "5/0 4/2 3/2 2/1 1/0"],
  ["F", "6/1 5/3 4/3 3/2 2/1 1/1"],
  ["D", "4/0 3/2 2/3 1/2"],
] as const;

type Setting = NonNullable<Parameters<typeof passageOf>[1]>;
const chords = (which: readonly number[], { meter = [4, 4], ...options }: Setting = {}) =>
  passageOf(
    which.map((k) => [{ ...stroke("0", `${meter[0]}/${meter[1]}`, SHAPES[k]![1]), chord: SHAPES[k]![0] }]),
    { on: "acoustic", tempo: 100, meter, ...options },
  );
const proposed = (passage: Passage, wishes: Partial<Wishes> = {}) => finished(proposals(passage, { ...NO_WISHES, ...wishes }));
const music = (passage: Passage, { rules }: Pick<Proposal, "rules">) => treated(passage, { rules, overrides: {} }).passage;
const isDead = ({ as }: Stroke) => as !== undefined && as !== "play";
const isOpen = (s: Stroke) => !isDead(s) && s.notes.every((note) => (note.tone ?? "open") === "open");
const at = (bar: Passage["bars"][number], tick: number) => bar.strokes.find((s) => ticksOf(s.at) === tick);
const mean = (all: readonly number[]) => all.reduce((sum, x) => sum + x, 0) / all.length;

/** Sounding, dead or muted, and which way, by place. Written once more, since the search has its own. */
function strokesOf(passage: Passage): Map<string, string> {
  const settings = settingsOf(passage);
  return new Map(
    passage.bars.flatMap((bar, b) => {
      const ways = strokeDirections(bar, settings, passage.instrument.tuning.length);
      return bar.strokes.map((s, i): [string, string] => [`${b} ${s.at}`, `${isDead(s) ? "dead" : isOpen(s) ? "sounds" : "muted"} ${ways[i]}`]);
    }),
  );
}

describe("patterns that are proposed (common practice)", () => {
  const passage = chords([0, 1]);
  const alone = proposed(passage);

  it("a player alone is offered chucks on 2 and 4 of eighths; beside a drummer nobody doubles the snare", () => {
    const chucks = alone.map((one) => music(passage, one).bars.map((bar) => bar.strokes.filter(({ as }) => as === "chuck").map((s) => s.at)));
    expect(chucks).toContainEqual([
      ["1/4", "3/4"],
      ["1/4", "3/4"],
    ]);
    for (const one of proposed(passage, { drummer: true }))
      for (const bar of music(passage, one).bars)
        for (const tick of backbeats(bar.meter)) expect(at(bar, tick)?.as ?? "play", one.name).not.toMatch(/chuck|click/);
  });

  it("sixteenths have ghosts on every place between the hits, where the tempo allows sixteenths", () => {
    const slow = chords([0, 1], { tempo: 84 });
    const funk = proposed(slow, { drummer: true }).find(({ name }) => name.startsWith("Ghosts between"));
    const bars = music(slow, funk!).bars;
    for (const bar of bars) expect(bar.strokes).toHaveLength(16);
    expect(bars.every((bar) => bar.strokes.some(isOpen) && bar.strokes.some(({ as }) => as === "ghost"))).toBe(true);
    const fast = chords([0, 1], { tempo: 160 });
    for (const one of proposed(fast))
      for (const bar of music(fast, one).bars) for (const s of bar.strokes) expect(ticksOf(s.at) % ticksOf("1/8"), one.name).toBe(0);
  });

  it("swung eighths may limp: a dead up-stroke just before each down-stroke", () => {
    const swung: Passage = { ...passage, feel: { swing: "eighth", ratio: 2 } };
    const limp = proposed(swung).find(({ name }) => name.startsWith("Limping"))!;
    const { bars } = music(swung, limp);
    for (const bar of bars) {
      const ups = bar.strokes.filter((s) => ticksOf(s.at) % ticksOf("1/4") !== 0);
      expect(ups.map((s) => s.as)).toEqual(["ghost", "ghost", "ghost", "ghost"]);
    }
  });

  it("a waltz has its bass on one and its brush on two and three", () => {
    const waltz = chords([0, 1], { meter: [3, 4] });
    const boom = proposed(waltz).find(({ name }) => name.startsWith("Boom"))!;
    const [bar] = music(waltz, boom).bars;
    expect([0, 1, 2].map((beat) => at(bar!, beat * ticksOf("1/4"))?.notes.length)).toEqual([1, 5, 5]);
  });

  it("fingers are never asked to strum", () => {
    const nylon = chords([1, 2], { on: "nylon" });
    const all = proposed(nylon);
    expect(all.length).toBeGreaterThan(2);
    for (const one of all)
      for (const bar of music(nylon, one).bars) for (const s of bar.strokes.filter((x) => !isDead(x))) expect(s.notes.length, one.name).toBeLessThan(5);
  });

  it("accents are where the mute is not: what must be heard sounds openly in all of them", () => {
    const heard = [
      { bar: 0, tick: 0 },
      { bar: 0, tick: ticksOf("5/8") },
      { bar: 1, tick: ticksOf("3/16") },
    ];
    const all = proposed(passage, { heard });
    expect(all.length).toBeGreaterThan(2);
    for (const one of all)
      for (const { bar, tick } of heard) {
        const s = at(music(passage, one).bars[bar]!, tick);
        expect(s && isOpen(s) && s.accent, `${one.name}, bar ${bar}`).toBe(true);
      }
  });

  it("busier, calmer, more backbeat and fewer lifts do what they say", () => {
    const busy = (by: number) => mean(proposed(passage, { busy: by }).map(({ figures }) => figures.strokes));
    expect(busy(1)).toBeGreaterThan(busy(0));
    expect(busy(0)).toBeGreaterThan(busy(-1));
    const backbeat = (by: number) => proposed(passage, { backbeat: by })[0]!.figures.backbeat;
    expect(backbeat(1)).toBe(1);
    expect(backbeat(-1)).toBe(0);
    const [lifts, fewer] = [0, 2].map((steady) => mean(proposed(passage, { steady }).map(({ figures }) => figures.palmLifts + figures.gestures)));
    expect(fewer).toBeLessThan(lifts!);
  });

  it("nothing is proposed where there are no chords", () => {
    expect(proposed(passageOf([[stroke("0", "1/4", "6/3")]]))).toEqual([]);
  });

  it("the same input gives the same", () => {
    expect(proposed(passage)).toEqual(alone);
  });
});

describe("over any chords, meters, tempos, hands and wishes", () => {
  const inputs = fc.record({
    which: fc.array(fc.nat({ max: SHAPES.length - 1 }), { minLength: 1, maxLength: 2 }),
    meter: fc.constantFrom<NonNullable<Setting["meter"]>>([4, 4], [3, 4], [6, 8], [5, 4], [7, 8], [2, 2]),
    tempo: fc.integer({ min: 50, max: 200 }),
    on: fc.constantFrom("acoustic" as const, "electric" as const, "nylon" as const),
    player: fc.constantFrom<Passage["player"]>(
      {},
      { strumPalmMute: "percussive" },
      { chuck: "edge" },
      { chuck: "release" },
      { pickHand: "thumb" },
      { playsWith: "thumb" },
    ),
    swung: fc.boolean(),
    drummer: fc.boolean(),
    heard: fc.array(fc.nat({ max: 15 }), { maxLength: 2 }),
    lean: fc.constantFrom(-1, 0, 1),
  });

  it("six at most, of which any two differ in a quarter of their strokes; the hands keep up at the goal, the pendulum swings, the palm reaches what it mutes", () => {
    fc.assert(
      fc.property(inputs, ({ which, meter, tempo, on, player, swung, drummer, heard, lean }) => {
        const passage: Passage = {
          ...chords(which, { meter, on, tempo: 80, player }),
          goalTempo: tempo,
          feel: swung ? { swing: "eighth", ratio: 2 } : "straight",
        };
        const places = heard.map((k) => ({ bar: 0, tick: k * ticksOf("1/16") })).filter(({ tick }) => tick < barLength(meter));
        const all = proposed(passage, { drummer, heard: places, busy: lean });
        expect(all.length).toBeLessThanOrEqual(6);
        const strokes = all.map((one) => strokesOf(music(passage, one)));
        for (const [i, a] of strokes.entries())
          for (const b of strokes.slice(0, i)) {
            const differing = [...new Set([...a.keys(), ...b.keys()])].filter((place) => a.get(place) !== b.get(place)).length;
            expect(differing).toBeGreaterThanOrEqual(Math.max(a.size, b.size) / 4);
          }
        for (const one of all) {
          const { passage: made, clashes } = treated(passage, { rules: one.rules, overrides: {} });
          expect(clashes, one.name).toEqual([]);
          expect(parsePassage(JSON.parse(JSON.stringify(made))).ok).toBe(true);
          const planned = planStages(atTempo(made, tempo));
          expect(planned.path.cost, one.name).toMatchObject({ harm: 0, rushed: 0 });
          expect(issuesOf(made, planned), one.name).toEqual([]);
          const settings = settingsOf(made);
          if (settings.playsWith === "pick")
            for (const bar of made.bars) {
              const open = { ...bar, strokes: bar.strokes.map(({ stroke: _, ...rest }) => rest as Stroke) };
              const swing = strokeDirections(open, { ...settings, strokes: "pendulum" }, made.instrument.tuning.length);
              expect(strokeDirections(bar, settings, made.instrument.tuning.length), one.name).toEqual(swing);
              // Down on the numbers, whatever else is struck.
              const ways = bar.strokes.flatMap((s, i) => (meter[1] === 4 && ticksOf(s.at) % ticksOf("1/4") === 0 ? [swing[i]] : []));
              expect(new Set(ways), one.name).toEqual(new Set(ways.length > 0 ? ["down"] : []));
            }
        }
      }),
      { seed: 17, numRuns: 200 },
    );
  });
});
