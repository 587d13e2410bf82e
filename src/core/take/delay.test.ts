import { describe, expect, it } from "vitest";
import { seededRandom } from "../perform/random.ts";
import { delayOf } from "./delay.ts";

const RATE = 48_000;
const CLICKS_MS = Array.from({ length: 8 }, (_, k) => 500 + 600 * k);

/** Clicks as the page sounds them (a tone that dies in 35 ms), each so much later than it was sent, over noise. */
function heard(delayMs: (k: number) => number | null, noise: number): Float32Array {
  const random = seededRandom(5);
  const samples = Float32Array.from({ length: RATE * 6 }, () => noise * (2 * random() - 1));
  for (const [k, at] of CLICKS_MS.entries()) {
    const delay = delayMs(k);
    if (delay === null) continue;
    const from = Math.round(((at + delay) * RATE) / 1000);
    for (let i = 0; i < 0.035 * RATE; i++) samples[from + i]! += 0.2 * Math.sin((2 * Math.PI * 1175 * i) / RATE) * 10 ** ((-3 * i) / (0.035 * RATE));
  }
  return samples;
}

describe("the delay of a device", () => {
  it.each([4, 37, 120, 260])("of %i ms is measured to a few ms, in a noisy room as well", (delay) => {
    for (const noise of [0, 0.004]) {
      const found = delayOf(
        heard(() => delay, noise),
        RATE,
        CLICKS_MS,
      );
      expect(Math.abs(found!.ms - delay)).toBeLessThanOrEqual(4);
    }
  });
  it("one who claps along is off by some ms each time, and one clap may be missing", () => {
    const off = [12, -15, 4, 8, -6, null, 10, -9];
    const found = delayOf(
      heard((k) => (off[k] === null ? null : 60 + off[k]!), 0.001),
      RATE,
      CLICKS_MS,
    );
    expect(Math.abs(found!.ms - 64)).toBeLessThanOrEqual(8);
    expect(found!.withinMs).toBeGreaterThan(3);
  });
  it("is not made up where nothing, noise, or something else is heard", () => {
    expect(delayOf(new Float32Array(RATE * 6), RATE, CLICKS_MS)).toBeNull();
    expect(
      delayOf(
        heard(() => null, 0.05),
        RATE,
        CLICKS_MS,
      ),
    ).toBeNull();
    const anywhere = seededRandom(9);
    expect(
      delayOf(
        heard(() => 380 * anywhere(), 0),
        RATE,
        CLICKS_MS,
      ),
    ).toBeNull();
  });
});
