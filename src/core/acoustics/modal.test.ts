import { describe, expect, it } from "vitest";
import { FINGER_TIP, HEEL_CHUCK } from "../hands/contact-areas.ts";
import { frequencyOf } from "../music/pitch.ts";
import { instrument } from "../test/build.ts";
import { type LiveString, StringSet, struckLoudnessDb, type Touch, touchDecay } from "./modal.ts";
import { answerAmplitude } from "./sympathy.ts";
import { dbOf } from "./weighting.ts";

const set = (name: string) => new StringSet(instrument(name));
const nearBridge = (live: LiveString, area: { rate: number; fromBridgeMm: number; toBridgeMm: number }): Touch => {
  const bridge = live.fromNutMm + live.lengthMm;
  return { fromMm: bridge - area.toBridgeMm, toMm: bridge - area.fromBridgeMm, rate: area.rate };
};

describe("the stiff string", () => {
  it("has Fletcher's partials (1964): f_n = n f0 √(1 + B n²)", () => {
    const { frequencies } = set("electric").live(6, 0);
    const f0 = frequencyOf(40);
    // B from the first two partials predicts all the others.
    const b = ((frequencies[1]! / frequencies[0]! / 2) ** 2 - 1) / (4 - (frequencies[1]! / frequencies[0]! / 2) ** 2);
    for (let n = 1; n <= frequencies.length; n++) expect(frequencies[n - 1]! / (n * f0 * Math.sqrt(1 + b * n * n))).toBeCloseTo(1, 6);
  });
  it("obeys Mersenne's law: pitch halves with twice the length, mass follows from tension", () => {
    const strings = set("bass");
    const open = strings.live(4, 0);
    const octave = strings.live(4, 12);
    expect(octave.lengthMm / open.lengthMm).toBeCloseTo(0.5, 9);
    expect(octave.frequencies[0]! / open.frequencies[0]!).toBeCloseTo(2, 3);
    const tension = open.massKgPerM * (2 * (open.lengthMm / 1000) * frequencyOf(28)) ** 2;
    expect(tension).toBeCloseTo(strings.rig.tensionN, 6);
  });
  it("loses no partial to a touch on the dead side of a pressed fret", () => {
    const live = set("electric").live(3, 7);
    for (let n = 1; n <= 8; n++) expect(touchDecay(live, { fromMm: 100, toMm: 112, rate: 3000 }, n)).toBe(0);
  });
  it("a wider touch damps more, a heavy string less", () => {
    const strings = set("electric");
    const touch = (widthMm: number): Touch => ({ fromMm: 230, toMm: 230 + widthMm, rate: FINGER_TIP.rate });
    for (let n = 1; n <= 6; n++) {
      expect(touchDecay(strings.live(4, 0), touch(14), n)).toBeGreaterThan(touchDecay(strings.live(4, 0), touch(9), n));
      expect(touchDecay(strings.live(6, 0), touch(10), n)).toBeLessThan(touchDecay(strings.live(4, 0), touch(10), n));
    }
  });
  it("the palm at the bridge takes the high partials first, and deeper in takes more", () => {
    const live = set("electric").live(6, 0);
    const shallow = { rate: 5000, fromBridgeMm: 4, toBridgeMm: 20 };
    const deep = { rate: 5000, fromBridgeMm: 8, toBridgeMm: 45 };
    for (let n = 2; n <= 6; n++) expect(touchDecay(live, nearBridge(live, shallow), n)).toBeGreaterThan(touchDecay(live, nearBridge(live, shallow), n - 1));
    for (let n = 1; n <= 6; n++) expect(touchDecay(live, nearBridge(live, deep), n)).toBeGreaterThan(touchDecay(live, nearBridge(live, shallow), n));
  });
});

/* Common practice: T60 in seconds as players report it, open, fretted and palm-muted. */
const T60 = {
  electric: { open: [5, 20], fretted: [3, 12], palm: [0.15, 0.8] },
  acoustic: { open: [2, 10], fretted: [1.5, 6], palm: [0.15, 0.5] },
  nylon: { open: [1, 6], fretted: [0.7, 4], palm: [0.1, 0.4] },
  bass: { open: [8, 25], fretted: [4, 15], palm: [0.2, 0.8] },
} as const;

describe.each(Object.entries(T60))("decay of %s strings", (name, { open, fretted, palm }) => {
  const strings = set(name);
  const t60 = (live: LiveString, touches: Touch[], over: number) =>
    (60 * over) / 1000 / (struckLoudnessDb(live, touches, 0) - struckLoudnessDb(live, touches, over));
  it("open and fretted lie in the range players report", () => {
    for (let s = 1; s <= strings.count; s++) {
      const own = t60(strings.live(s, 0), [], 1000);
      expect(own, `open ${s}`).toBeGreaterThanOrEqual(open[0]);
      expect(own, `open ${s}`).toBeLessThanOrEqual(open[1]);
      const high = t60(strings.live(s, 9), [], 1000);
      expect(high, `fretted ${s}`).toBeGreaterThanOrEqual(fretted[0]);
      expect(high, `fretted ${s}`).toBeLessThanOrEqual(fretted[1]);
      expect(high).toBeLessThanOrEqual(own);
    }
  });
  it("a muted tone dies as fast as players report, a firm palm faster still, a chuck hand at once", () => {
    for (let s = 1; s <= strings.count; s++) {
      const live = strings.live(s, 0);
      const own = t60(live, [], 200);
      const tone = t60(live, [nearBridge(live, strings.rig.palm.medium)], 200);
      const firm = t60(live, [nearBridge(live, strings.rig.palm.choked)], 200);
      const heel = t60(live, [nearBridge(live, HEEL_CHUCK)], 200);
      expect(tone).toBeLessThan(own / 2);
      expect(tone, `muted ${s}`).toBeGreaterThanOrEqual(palm[0]);
      expect(tone, `muted ${s}`).toBeLessThanOrEqual(palm[1]);
      expect(firm).toBeLessThan(tone);
      expect(heel).toBeLessThan(tone);
      expect(heel).toBeLessThan(0.6);
    }
  });
});

describe("sympathy", () => {
  const strings = set("acoustic");
  const answer = (string: number, played: number, fret: number) =>
    dbOf(answerAmplitude(strings.live(string, 0), strings.live(played, fret), strings.rig.coupling));
  it("unison, octave and twelfth answer loudly, a semitone hardly", () => {
    // String 5 (A2) answers A2 on string 6 fret 5, A3 on string 3 fret 2, E4 on string 1; not G♯2.
    const semitone = answer(5, 6, 4);
    for (const [played, fret] of [
      [6, 5],
      [3, 2],
      [1, 0],
    ] as const)
      expect(answer(5, played, fret) - semitone).toBeGreaterThan(6);
  });
  it("goes both ways", () => {
    expect(answer(5, 6, 5)).toBeGreaterThan(answer(5, 6, 6));
    expect(answer(6, 5, 7)).toBeGreaterThan(answer(6, 5, 6));
  });
});
