import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { RoundStart } from "../../core/drills/metronome.ts";
import { type ClickContext, type Clicked, ClickTrack } from "./click-track.ts";

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

interface Sound {
  kind: "click" | "backing";
  at: number;
  /** Where in a backing it begins, in seconds. */
  from: number;
  end: number;
  /** What the clock said when it was put on it. */
  given: number;
}

/** A sound output whose clock is the test's, and that keeps what sounds when. */
function recorder() {
  const sounds: Sound[] = [];
  const param = {
    value: 1,
    setValueAtTime: () => {},
    exponentialRampToValueAtTime: () => {},
    linearRampToValueAtTime: () => {},
    cancelScheduledValues: () => {},
  };
  const node = { connect: (to: unknown) => to, disconnect: () => {} };
  const source = (kind: Sound["kind"]) => {
    let own: Sound | null = null;
    return {
      ...node,
      frequency: { value: 0 },
      buffer: null,
      start: (at: number, from = 0) => {
        own = { kind, at, from, end: Number.POSITIVE_INFINITY, given: context.currentTime };
        sounds.push(own);
      },
      stop: (end = context.currentTime) => {
        if (own) own.end = end;
      },
    };
  };
  const context = {
    currentTime: 0,
    destination: {},
    createGain: () => ({ ...node, gain: { ...param } }),
    createOscillator: () => source("click"),
    createBufferSource: () => source("backing"),
  };
  return { sounds, context: context as unknown as ClickContext & { currentTime: number } };
}

const PLAIN = { click: "beats", heard: 1, silent: 0, countIn: 0 } as const;
const clicked = (tempo: number, backing: Clicked["backing"] = () => null, beats = 4): Clicked => ({
  bars: [{ meter: [beats, 4], strokes: [] }],
  tempo,
  backing,
});
/** The clock goes on, and one timer gets through. */
const goTo = (context: { currentTime: number }, seconds: number) => {
  context.currentTime = seconds;
  vi.advanceTimersByTime(100);
};
/** What is heard: what ends before it begins is not. */
const heard = (sounds: readonly Sound[], kind: Sound["kind"] = "click") =>
  sounds.filter((one) => one.kind === kind && one.end > one.at).sort((a, b) => a.at - b.at);

describe("clicks on the audio clock", () => {
  it("are scheduled to the millisecond for twenty minutes, none late, while the page wakes but once a second", () => {
    const { sounds, context } = recorder();
    const track = new ClickTrack(context, clicked(97), PLAIN, 1, 1);
    for (let second = 1; second <= 1200; second++) goTo(context, second);
    track.stop();
    const clicks = sounds.filter(({ kind }) => kind === "click");
    const first = clicks[0]!.at;
    for (const [k, { at, given }] of clicks.entries()) {
      expect(Math.abs(at - first - (k * 60) / 97)).toBeLessThan(0.001);
      expect(given).toBeLessThan(at);
    }
    expect(clicks.length).toBeGreaterThan((1200 * 97) / 60 - 2);
  });
  it("are silent at once when they are stopped, and no more are scheduled", () => {
    const { sounds, context } = recorder();
    const track = new ClickTrack(context, clicked(120), { ...PLAIN, countIn: 1 }, 1, 1);
    const scheduled = sounds.length;
    track.stop();
    goTo(context, 60);
    expect(sounds.length).toBe(scheduled);
  });
  it("another drill begins with the next bar, counted in at its own tempo: no beat is missing, none comes twice", () => {
    const { sounds, context } = recorder();
    const track = new ClickTrack(context, clicked(60), { ...PLAIN, countIn: 1 }, 1, 1);
    goTo(context, 6);
    // Bars of four seconds since 0.15: the next one begins at 8.15.
    track.follow(clicked(120, undefined, 3));
    expect(track.position().round).toBe(-1);
    goTo(context, 8);
    goTo(context, 10);
    const times = heard(sounds).map(({ at }) => Math.round(1000 * (at - 0.15)) / 1000);
    expect(times.slice(0, 16)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 8.5, 9, 9.5, 10, 10.5, 11, 11.5]);
  });
});

describe("what lies under the clicks", () => {
  const buffer = {} as AudioBuffer;
  it("begins with its round to the sample, lasts as long, and is asked for each round by its tempo", () => {
    const { sounds, context } = recorder();
    const asked: RoundStart[] = [];
    const track = new ClickTrack(
      context,
      clicked(120, (round) => {
        asked.push(round);
        return buffer;
      }),
      { ...PLAIN, countIn: 1 },
      1,
      1,
    );
    for (let half = 1; half <= 12; half++) goTo(context, half / 2);
    track.setTempo(60);
    for (let half = 13; half <= 24; half++) goTo(context, half / 2);
    const backings = heard(sounds, "backing");
    for (const [k, { at, seconds }] of asked.entries()) expect(backings[k]).toMatchObject({ at, from: 0, end: at + seconds });
    expect(new Set(asked.map(({ tempo }) => tempo))).toEqual(new Set([120, 60]));
    for (const [k, one] of backings.slice(1).entries()) expect(one.at).toBeCloseTo(backings[k]!.end, 9);
  });
  it("what is made late comes in late, in its place; the clicks do not wait", () => {
    const { sounds, context } = recorder();
    let made: AudioBuffer | null = null;
    new ClickTrack(
      context,
      clicked(60, () => made),
      PLAIN,
      1,
      1,
    );
    goTo(context, 1);
    made = buffer;
    goTo(context, 2);
    const [late] = heard(sounds, "backing");
    expect(late!.at).toBeGreaterThan(2);
    expect(late!.at - late!.from).toBeCloseTo(0.15, 9);
    expect(heard(sounds)[0]!.at).toBeCloseTo(0.15, 9);
  });
  it("of a drill that is left it ends where the next one begins", () => {
    const { sounds, context } = recorder();
    const track = new ClickTrack(
      context,
      clicked(60, () => buffer),
      PLAIN,
      1,
      1,
    );
    goTo(context, 3);
    track.follow(clicked(60));
    expect(heard(sounds, "backing").map(({ end }) => Math.round(1000 * end) / 1000)).toEqual([4.15]);
  });
});
