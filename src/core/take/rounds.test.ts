import { describe, expect, it } from "vitest";
import { drillsOf } from "../drills/drills.ts";
import type { Drill } from "../drills/types.ts";
import { wholePlan } from "../engine.ts";
import { atTempo } from "../passage/tempo.ts";
import { seededRandom } from "../perform/random.ts";
import { demoPassages } from "../test/demos.ts";
import { playedOver, ROUND_RATE } from "../test/played-over.ts";
import { judgedRound, type RoundSound, Rounds } from "./rounds.ts";
import { takeOf } from "./take.ts";

const RATE = ROUND_RATE;
const TIMES = 4;

/** What comes of it in pieces of any length. */
function streamed({ samples, dues }: Pick<ReturnType<typeof playedOver>, "samples" | "dues">, seed: number): RoundSound[] {
  const random = seededRandom(seed);
  const rounds = new Rounds(RATE);
  const found: RoundSound[] = [];
  const left = [...dues];
  for (let at = 0; at < samples.length; ) {
    // As a trainer's clock does: each is announced a moment before it begins.
    while (left[0] && (1000 * at) / RATE > left[0].fromMs - 2000) rounds.expect(left.shift()!);
    const piece = samples.subarray(at, at + 1 + Math.floor(12_000 * random()));
    found.push(...rounds.push(piece));
    at += piece.length;
  }
  return found;
}

const drillOf = (title: string, kind: Drill["kind"]) => {
  const passage = demoPassages().find((one) => one.title === title)!;
  const drill = drillsOf(wholePlan(passage, { why: "nothing" }), passage, [], 40).drills.find((one) => one.kind === kind)!;
  return atTempo(drill.passage, drill.tempo.start);
};

describe("somebody who plays over and over", () => {
  it("is heard piece by piece as in one go: the same sound, and the same findings", () => {
    const played = playedOver(drillOf("Tarpaulin", "to-each-stop"), TIMES, { stray: 2, jitter: 6 });
    const whole = (({ samples, dues }) => {
      const rounds = new Rounds(RATE);
      for (const due of dues) rounds.expect(due);
      return rounds.push(samples);
    })(played);
    for (const seed of [1, 2, 3]) {
      const pieces = streamed(played, seed);
      expect(pieces).toEqual(whole);
    }
    const judged = ({ samples, clock }: RoundSound) => takeOf(samples, RATE, played.passage, played.planned, clock);
    expect(judged(streamed(played, 4)[1]!)).toEqual(judged(whole[1]!));
    // What is lost on the way leaves a hole, and what comes after it stays in its place.
    const rounds = new Rounds(RATE);
    rounds.expect({ fromMs: 500, toMs: 700 });
    rounds.push(played.samples.subarray(0, 10_000));
    const [gapped] = rounds.push(played.samples.subarray(20_000, 60_000), 20_000);
    // It begins 200 ms before.
    const from = 0.3 * RATE;
    expect(gapped!.samples.subarray(0, 20_000 - from).every((sample) => sample === 0)).toBe(true);
    expect(gapped!.samples.subarray(20_000 - from)).toEqual(played.samples.subarray(20_000, 0.95 * RATE));
  });

  it.each([
    ["Tarpaulin", "to-each-stop"],
    ["Galley Steam", "dead-groove"],
    ["Galley Steam", "both-strings"],
    ["Ballast Tanks", "one-gesture"],
    ["Windlass", "one-gesture"],
  ] as const)("%s, %s: what was played as planned is clean, every time", (title, kind) => {
    const played = playedOver(drillOf(title, kind), TIMES, { jitter: 8 });
    const judged = streamed(played, 1).map((heard) => judgedRound(heard, RATE, played.passage, played.planned));
    expect(judged).toEqual(Array.from({ length: TIMES }, () => ({ kind: "clean" })));
  });

  it("a string that rings is named that time, and no other time is blamed for it", () => {
    const played = playedOver(drillOf("Tarpaulin", "to-each-stop"), TIMES, { stray: 1, jitter: 6 });
    const [label] = played.labels;
    const at = played.dues.findIndex(({ toMs }) => label!.fromMs < toMs - 20);
    const judged = streamed(played, 1).map((heard) => judgedRound(heard, RATE, played.passage, played.planned));
    for (const [k, judgement] of judged.entries())
      if (k === at) expect(judgement).toMatchObject({ kind: "wrong", says: [expect.stringContaining(`String ${label!.string} rang`)] });
      else expect(judgement).toEqual({ kind: "clean" });
  });

  it("nobody who plays, and somebody who plays something else, are no try", () => {
    const { passage, planned, samples, dues } = playedOver(drillOf("Ballast Tanks", "one-gesture"), TIMES, {});
    const silence = streamed({ samples: new Float32Array(samples.length), dues }, 1);
    for (const heard of silence) expect(judgedRound(heard, RATE, passage, planned)).toEqual({ kind: "unclear", says: "Nothing was heard." });
    const other = playedOver(drillOf("Tarpaulin", "whole"), TIMES, {}).samples;
    const heard = streamed({ samples: other, dues: dues.slice(0, 2) }, 1);
    expect(heard.map((one) => judgedRound(one, RATE, passage, planned).kind)).toEqual(["unclear", "unclear"]);
  });
});
