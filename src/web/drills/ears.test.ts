import { describe, expect, it, vi } from "vitest";
import { drillsOf } from "../../core/drills/drills.ts";
import { planStages, wholePlan } from "../../core/engine.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { atTempo } from "../../core/passage/tempo.ts";
import { NO_MISTAKES } from "../../core/perform/mistakes.ts";
import { perform } from "../../core/perform/perform.ts";
import { type Judgement, judgedRound } from "../../core/take/rounds.ts";
import { demoPassages } from "../../core/test/demos.ts";
import type { OnPiece } from "../microphone/microphone.ts";
import { canBeHeard, Ears, type HeardRound, type Hearing } from "./ears.ts";

const RATE = 44_100;
const DELAY_MS = 60;
/** When on the context's clock the sound of a player begins to come in, in seconds. */
const OPENED_S = 3;
const PIECE = 2048;

const passage = demoPassages().find(({ title }) => title === "Tarpaulin")!;
const { drills } = drillsOf(wholePlan(passage, { why: "nothing" }), passage, [], 40);
const drill = drills.find(({ kind }) => kind === "to-each-stop")!;

/** A stage on which somebody plays to a click, as samples come out of a microphone. */
function stage() {
  let send: OnPiece = () => {};
  let gone = () => {};
  let isOpen = true;
  const heard: HeardRound[] = [];
  const trouble: string[] = [];
  const hearing: Hearing = {
    sampleRate: RATE,
    async open(onPiece, onGone) {
      [send, gone] = [onPiece, onGone];
      const stop = () => {
        isOpen = false;
      };
      return { device: "one", stop };
    },
    delayMs: (device) => (device === "one" ? DELAY_MS : 0),
    judge: async (samples, clock, of) => judgedRound({ samples, clock }, RATE, of, planStages(of)),
    close: () => {},
  };
  const ears = new Ears(
    hearing,
    (round) => heard.push(round),
    (says) => trouble.push(says),
  );
  const play = async (samples: Float32Array) => {
    for (let at = 0; at < samples.length; at += PIECE) send(samples.subarray(at, at + PIECE), OPENED_S * RATE + at);
    await new Promise(setImmediate);
  };
  return { ears, hearing, heard, trouble, play, gone: () => gone(), isOpen: () => isOpen };
}

/** Two times through at a tempo, the first beat 300 ms after the beginning, heard late by the delay. */
function twice(tempo: number, stray: number): { samples: Float32Array; seconds: number } {
  const one = atTempo(drill.passage, tempo);
  const many: Passage = { ...one, bars: [...one.bars, ...one.bars.map(({ id: _id, ...bar }) => bar)] as Passage["bars"] };
  const { samples } = perform(many, planStages(many), { ...NO_MISTAKES, stray, jitter: 5 }, 3, RATE);
  const late = new Float32Array(samples.length + Math.round((DELAY_MS * RATE) / 1000));
  late.set(samples, Math.round((DELAY_MS * RATE) / 1000));
  return { samples: late, seconds: planStages(one).timeline.endMs / 1000 };
}

describe("a trainer that listens", () => {
  it("judges each time through where the click put it, whatever the device's delay, at the tempo at which it was played", async () => {
    const tempo = drill.tempo.start;
    for (const stray of [0, 2]) {
      const { ears, heard, trouble, play } = stage();
      await vi.waitFor(() => expect(trouble).toEqual([]));
      const { samples, seconds } = twice(tempo, stray);
      for (const round of [0, 1]) ears.expect(drill, { round, at: OPENED_S + 0.3 + round * seconds, seconds, tempo });
      await play(samples);
      await vi.waitFor(() => expect(heard).toHaveLength(2));
      expect(heard.map((one) => [one.drill, one.tempo])).toEqual([
        [drill, tempo],
        [drill, tempo],
      ]);
      const kinds = heard.map(({ judgement }): Judgement["kind"] => judgement.kind);
      if (stray === 0) expect(kinds).toEqual(["clean", "clean"]);
      else expect(kinds).toContain("wrong");
      ears.close();
    }
  });

  it("says nothing of a drill that was left, nor after it was closed; a microphone that goes away, or never comes, is said", async () => {
    const { ears, heard, trouble, play, gone, isOpen } = stage();
    const { samples, seconds } = twice(drill.tempo.start, 0);
    ears.expect(drill, { round: 0, at: OPENED_S + 0.3, seconds, tempo: drill.tempo.start });
    ears.forget();
    await play(samples);
    expect(heard).toEqual([]);
    gone();
    expect(trouble).toEqual(["The microphone went away: say yourself whether it was clean."]);
    ears.close();
    expect(isOpen()).toBe(false);

    const said: string[] = [];
    const denied: Hearing = { ...stage().hearing, open: () => Promise.reject(new Error("there is no microphone")) };
    new Ears(
      denied,
      () => {},
      (says) => said.push(says),
    );
    await vi.waitFor(() => expect(said).toEqual(["Nothing is heard: there is no microphone. Say yourself whether it was clean."]));
  });

  it("one that is allowed only after it was closed is let go", async () => {
    let stopped = 0;
    let allow: () => void = () => {};
    const late: Hearing = {
      ...stage().hearing,
      open: () => new Promise((done) => (allow = () => done({ device: "", stop: () => stopped++ }))),
    };
    const ears = new Ears(
      late,
      () => {},
      () => {},
    );
    ears.close();
    allow();
    await vi.waitFor(() => expect(stopped).toBe(1));
  });

  it("leaves drills without strokes, and with one hand's damping, to the player", () => {
    for (const one of drills) expect(canBeHeard(one), one.kind).toBe(!["silent-hand", "open-strings"].includes(one.kind));
  });
});
