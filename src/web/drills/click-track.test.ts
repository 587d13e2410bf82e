import { afterEach, describe, expect, it, vi } from "vitest";
import { type ClickContext, ClickTrack } from "./click-track.ts";

afterEach(() => vi.useRealTimers());

/** A sound output whose clock is the test's, and that keeps when tones begin. */
function recorder() {
  const begun: { at: number; given: number }[] = [];
  const context = {
    currentTime: 0,
    destination: {},
    createGain: () => ({
      gain: { value: 1, setValueAtTime: () => {}, exponentialRampToValueAtTime: () => {} },
      connect: (to: unknown) => to,
      disconnect: () => {},
    }),
    createOscillator: () => ({
      frequency: { value: 0 },
      connect: (to: unknown) => to,
      start: (at: number) => begun.push({ at, given: context.currentTime }),
      stop: () => {},
    }),
  };
  return { begun, context: context as unknown as ClickContext & { currentTime: number } };
}

describe("clicks on the audio clock", () => {
  it("are scheduled to the millisecond for twenty minutes, none late, while the page wakes but once a second", () => {
    vi.useFakeTimers();
    const { begun, context } = recorder();
    const track = new ClickTrack(context, [{ meter: [4, 4], strokes: [] }], 97, { click: "beats", heard: 1, silent: 0, countIn: 0 }, 1);
    for (let second = 1; second <= 1200; second++) {
      context.currentTime = second;
      // One of ten timers gets through.
      vi.advanceTimersByTime(100);
    }
    track.stop();
    const first = begun[0]!.at;
    for (const [k, { at, given }] of begun.entries()) {
      expect(Math.abs(at - first - (k * 60) / 97)).toBeLessThan(0.001);
      expect(given).toBeLessThan(at);
    }
    expect(begun.length).toBeGreaterThan((1200 * 97) / 60 - 2);
  });
  it("are silent at once when they are stopped, and no more are scheduled", () => {
    vi.useFakeTimers();
    const { begun, context } = recorder();
    const track = new ClickTrack(context, [{ meter: [4, 4], strokes: [] }], 120, { click: "beats", heard: 1, silent: 0, countIn: 1 }, 1);
    const scheduled = begun.length;
    track.stop();
    context.currentTime = 60;
    vi.advanceTimersByTime(5000);
    expect(begun.length).toBe(scheduled);
  });
});
