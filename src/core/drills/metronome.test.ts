import { describe, expect, it } from "vitest";
import { ticksOf } from "../music/ticks.ts";
import type { Bar } from "../passage/schema.ts";
import { type Click, Metronome, type MetronomeChoices } from "./metronome.ts";

const bar = (count: number, unit: 4 | 8 = 4): Bar => ({ meter: [count, unit], strokes: [] });
const PLAIN: MetronomeChoices = { click: "beats", heard: 1, silent: 0, countIn: 0 };
const upTo = (seconds: number, metronome: Metronome, wakes: (now: number) => number, ahead = 0.5) => {
  const found: (Click & { given: number })[] = [];
  for (let now = 0; now < seconds; now += wakes(now)) for (const click of metronome.take(now + ahead)) found.push({ ...click, given: now });
  return found.filter(({ at }) => at < seconds);
};

describe("clicks", () => {
  it("fall on every beat for twenty minutes, within a thousandth of a millisecond, however unevenly they are asked for", () => {
    let seed = 7;
    const uneven = () => {
      seed = (seed * 48271) % 2147483647;
      return 0.01 + (0.3 * seed) / 2147483647;
    };
    const clicks = upTo(1200, new Metronome([bar(4), bar(5)], 117, PLAIN, 0), uneven);
    expect(clicks).toHaveLength(1200 / (60 / 117));
    for (const [k, { at }] of clicks.entries()) expect(Math.abs(at - (k * 60) / 117)).toBeLessThan(1e-6);
  });
  it("none is late where the page wakes but once a second, as in a hidden tab, if they are asked for two seconds ahead", () => {
    const clicks = upTo(300, new Metronome([bar(4)], 240, { ...PLAIN, click: "sixteenths" }, 0.2), () => 1.05, 2);
    expect(clicks.length).toBeGreaterThan(4000);
    for (const { at, given } of clicks) expect(given).toBeLessThan(at);
  });
  it("on two and four, once a bar, in eighths, triplets and sixteenths", () => {
    const times = (click: MetronomeChoices["click"], bars = [bar(4)]) =>
      new Metronome(bars, 60, { ...PLAIN, click }, 0).take(4).map(({ at, kind }) => `${Math.round(at * 100) / 100}${kind === "between" ? "" : kind[1]}`);
    expect(times("backbeats")).toEqual(["1e", "3e"]);
    expect(times("bars")).toEqual(["0a"]);
    expect(times("eighths")).toEqual(["0a", "0.5", "1e", "1.5", "2e", "2.5", "3e", "3.5"]);
    expect(times("triplets").slice(0, 4)).toEqual(["0a", "0.33", "0.67", "1e"]);
    expect(times("sixteenths").slice(0, 5)).toEqual(["0a", "0.25", "0.5", "0.75", "1e"]);
    // Six eighths are two beats.
    expect(times("beats", [bar(6, 8)]).slice(0, 3)).toEqual(["0a", "1.5e", "3a"]);
  });
  it("bars fall silent, so many on and so many off, over the rounds", () => {
    const clicks = new Metronome([bar(2), bar(2), bar(2)], 120, { ...PLAIN, heard: 2, silent: 2 }, 0).take(12);
    expect([...new Set(clicks.map(({ at }) => Math.floor(at)))]).toEqual([0, 1, 4, 5, 8, 9]);
  });
  it("the next bar is known, so that something else can begin there without a gap", () => {
    const metronome = new Metronome([bar(2), bar(3)], 60, { ...PLAIN, countIn: 1 }, 10);
    expect([10, 11.5, 12, 12.1, 14.5, 17.2].map((at) => metronome.barAfter(at))).toEqual([12, 12, 12, 14, 17, 19]);
    metronome.position(25);
    expect(metronome.barAfter(25)).toBe(27);
  });
  it("are counted in by beats, and the first round begins behind that", () => {
    const metronome = new Metronome([bar(3)], 60, { ...PLAIN, click: "bars", countIn: 1 }, 10);
    expect(metronome.take(17).map(({ at }) => at)).toEqual([10, 11, 12, 13, 16]);
    expect(metronome.position(11)).toMatchObject({ round: -1 });
    expect(metronome.position(13)).toEqual({ round: 0, tick: 0 });
    expect(metronome.position(14.5).tick).toBeCloseTo(ticksOf("3/8"), 6);
  });
  it("another tempo begins with a round, without a beat between that is too long or too short", () => {
    const metronome = new Metronome([bar(4)], 60, PLAIN, 0);
    const first = metronome.take(1.5);
    metronome.setTempo(120);
    const times = [...first, ...metronome.take(8)].map(({ at }) => at);
    expect(times).toEqual([0, 1, 2, 3, 4, 4.5, 5, 5.5, 6, 6.5, 7, 7.5]);
    expect(metronome.takeRounds(7)).toEqual([
      { round: 0, at: 0, seconds: 4, tempo: 60 },
      { round: 1, at: 4, seconds: 2, tempo: 120 },
      { round: 2, at: 6, seconds: 2, tempo: 120 },
    ]);
    expect(metronome.takeRounds(8.5).map(({ at }) => at)).toEqual([8]);
    // The first round still ends at 4.
    expect(metronome.position(6.2)).toMatchObject({ round: 2 });
  });
});
