import DynamicTimeWarping from "dynamic-time-warping";
import { describe, expect, it } from "vitest";
import { seededRandom } from "../perform/random.ts";
import { cheapestWay, distance, everywhere, type Features } from "./warping.ts";

const WIDTH = 8;

/** Figures that wander, so that no two moments are alike; at any moment between two of them. */
function wandering(seed: number, frames: number): (at: number) => number[] {
  const random = seededRandom(seed);
  const figures: number[][] = [Array.from({ length: WIDTH }, () => random())];
  for (let i = 1; i <= frames; i++) figures.push(figures[i - 1]!.map((figure) => figure + random() - 0.5));
  return (at) => {
    const [i, share] = [Math.floor(at), at % 1];
    return figures[i]!.map((figure, k) => figure + share * (figures[Math.min(frames, i + 1)]![k]! - figure));
  };
}

const featuresOf = (frames: readonly number[][]): Features => ({ width: WIDTH, values: Float32Array.from(frames.flat()), frames: frames.length });

describe("dynamic time warping", () => {
  it.each([1, 2, 3, 4, 5])("finds the way that the package finds, where both may: tempo that comes and goes, nothing before or after (%i)", (seed) => {
    const at = wandering(seed, 121);
    // From two thirds of the tempo to four thirds of it, so that frames of either are left out.
    const plan = Array.from({ length: 120 }, (_, i) => at(i));
    const take = Array.from({ length: 120 }, (_, j) => at(Math.max(0, j - 7 * Math.sin((2 * Math.PI * j) / 119) * (seed % 2 ? 1 : -1))));
    const [a, b] = [featuresOf(plan), featuresOf(take)];
    const { pairs } = cheapestWay(a, b, everywhere(a, b));
    const places = (list: readonly unknown[]) => list.map((_, i) => i);
    const theirs = new DynamicTimeWarping(places(plan), places(take), (i, j) => distance(a, i, b, j)).getPath();
    for (const [i, j] of pairs) {
      const there = theirs.filter(([k]) => k === i).map(([, k]) => k);
      expect(Math.min(...there.map((k) => Math.abs(k - j)))).toBeLessThanOrEqual(1);
    }
    expect(pairs.length).toBeGreaterThan(60);
  });

  it("leaves out what comes before and after, which the package cannot", () => {
    const at = wandering(9, 100);
    const plan = Array.from({ length: 60 }, (_, i) => at(i));
    const silence = (frames: number) => Array.from({ length: frames }, () => new Array<number>(WIDTH).fill(0));
    const [a, b] = [featuresOf(plan), featuresOf([...silence(15), ...plan, ...silence(20)])];
    const { pairs, cost } = cheapestWay(a, b, everywhere(a, b));
    expect(pairs).toEqual(plan.map((_, i) => [i, i + 15]));
    expect(cost).toBeCloseTo(0);
  });
});
