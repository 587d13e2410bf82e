import { expose } from "comlink";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Passage } from "../../core/passage/schema.ts";
import { line, passageOf } from "../../core/test/build.ts";
import { Listener, type Listening, type ListenState } from "./listener.ts";
import { Sounds } from "./sounds.ts";

/** An audio clock that is set by hand, and what was put on it. */
class FakeContext {
  static now: FakeContext;
  static startsAs: "running" | "suspended" = "running";
  currentTime = 0;
  state = FakeContext.startsAs;
  readonly destination = {};
  readonly sources: { at: number; length: number; stoppedAt: number | null }[] = [];
  readonly clicks: number[] = [];
  resume = vi.fn(async () => {
    this.state = "running";
  });
  close = vi.fn(async () => {});
  constructor() {
    FakeContext.now = this;
  }
}

const param = { setTargetAtTime: () => {}, setValueAtTime: () => {}, exponentialRampToValueAtTime: () => {} };
const node = { connect: () => {}, disconnect: () => {} };

let frames: (() => void)[];
let states: ListenState["kind"][];
let steps: (number | null)[];
let workers: { end: () => void }[];

/** Everything that waits for a message, a promise or a frame is done, with the clock at a time. */
async function at(seconds: number): Promise<void> {
  FakeContext.now.currentTime = seconds;
  for (let round = 0; round < 12; round++) {
    await new Promise((resolve) => setTimeout(resolve, 0));
    for (const frame of frames.splice(0)) frame();
  }
}

const passage = passageOf(line(4, ["6/3", "6/5", "5/3", "5/5"]), { tempo: 120 });
const WHOLE: Listening = { damping: "planned", string: null, fromStep: 0, stepOnly: false, toStep: null, loop: false, clicks: false };

function listener(sounds: () => object = () => new Sounds()): Listener {
  vi.stubGlobal(
    "Worker",
    class {
      private readonly line = new MessageChannel();
      constructor() {
        expose(sounds(), this.line.port2 as never);
        this.line.port1.start();
        workers.push({ end: () => this.terminate() });
      }
      postMessage = (message: unknown, transfer: Transferable[] = []) => this.line.port1.postMessage(message, transfer as never);
      addEventListener = (type: "message", heard: never) => this.line.port1.addEventListener(type, heard);
      removeEventListener = (type: "message", heard: never) => this.line.port1.removeEventListener(type, heard);
      terminate = () => {
        this.line.port1.close();
        this.line.port2.close();
      };
    },
  );
  return new Listener(
    ({ kind }) => void states.push(kind),
    (step) => void steps.push(step),
    0.25,
  );
}

beforeEach(() => {
  frames = [];
  states = [];
  steps = [];
  workers = [];
  FakeContext.startsAs = "running";
  vi.stubGlobal("AudioContext", FakeContext);
  vi.stubGlobal(
    "GainNode",
    class {
      gain = param;
      connect = node.connect;
      disconnect = node.disconnect;
    },
  );
  vi.stubGlobal(
    "AudioBuffer",
    class {
      duration: number;
      constructor({ length, sampleRate }: { length: number; sampleRate: number }) {
        this.duration = length / sampleRate;
      }
      copyToChannel() {}
    },
  );
  vi.stubGlobal(
    "AudioBufferSourceNode",
    class {
      onended: (() => void) | null = null;
      private readonly entry = { at: 0, length: 0, stoppedAt: null as number | null };
      constructor(context: FakeContext, { buffer }: { buffer: { duration: number } }) {
        this.entry.length = buffer.duration;
        context.sources.push(this.entry);
      }
      connect() {}
      start(when: number) {
        this.entry.at = when;
      }
      stop(when: number) {
        this.entry.stoppedAt = when;
      }
    },
  );
  vi.stubGlobal(
    "OscillatorNode",
    class {
      constructor(private readonly context: FakeContext) {}
      connect() {}
      start(when: number) {
        this.context.clicks.push(when);
      }
      stop() {}
    },
  );
  vi.stubGlobal("requestAnimationFrame", (frame: () => void) => frames.push(frame));
  vi.stubGlobal("cancelAnimationFrame", () => {
    frames = [];
  });
});
afterEach(() => {
  for (const worker of workers) worker.end();
  vi.unstubAllGlobals();
});

describe("listening", () => {
  it("puts pieces on the audio clock one after the other, without a gap, a little ahead of what is heard", async () => {
    const own = listener();
    await own.play(passage, WHOLE);
    await at(0);
    const { sources } = FakeContext.now;
    expect(states.at(-1)).toBe("playing");
    expect(sources.length).toBeGreaterThan(1);
    sources.forEach((source, i) => {
      if (i > 0) expect(source.at).toBeCloseTo(sources[i - 1]!.at + sources[i - 1]!.length, 9);
    });
    own.close();
  });
  it("says which step is heard when the clock is there, and falls silent at the end", async () => {
    const own = listener();
    await own.play(passage, WHOLE);
    for (let tenth = 0; tenth <= 80; tenth++) await at(tenth / 10);
    expect(steps.filter((step, i) => step !== null && step !== steps[i - 1])).toEqual([0, 1, 2, 3]);
    expect(states.at(-1)).toBe("silent");
    own.close();
  });
  it("clicks a bar before the first note and on every beat", async () => {
    const own = listener();
    await own.play(passage, { ...WHOLE, clicks: true });
    for (let tenth = 0; tenth <= 45; tenth++) await at(tenth / 10);
    const { clicks, sources } = FakeContext.now;
    const start = sources[0]!.at;
    expect(clicks.slice(0, 5).map((when) => Math.round((when - start) * 10) / 10)).toEqual([-2, -1.5, -1, -0.5, 0]);
    own.close();
  });
  it("stopped where nothing is heard it says nothing, as with every edit", () => {
    const own = listener();
    own.stop();
    own.stop();
    expect([states, steps]).toEqual([[], []]);
  });
  it("stopped, it ends what sounds and asks for nothing more", async () => {
    const own = listener();
    await own.play(passage, WHOLE);
    await at(0);
    own.stop();
    const count = FakeContext.now.sources.length;
    await at(5);
    expect(FakeContext.now.sources).toHaveLength(count);
    expect(FakeContext.now.sources.every(({ stoppedAt }) => stoppedAt !== null)).toBe(true);
    expect(states.at(-1)).toBe("silent");
    own.close();
  });
  it("waits for the browser to let sound through", async () => {
    FakeContext.startsAs = "suspended";
    const own = listener();
    await own.play(passage, WHOLE);
    expect(states).toContain("suspended");
    await at(0);
    expect(states.at(-1)).toBe("playing");
    own.close();
  });
  it("says so where there is no sound output, and where the sound cannot be made", async () => {
    const own = listener(() => ({
      prepare: () => {
        throw new Error("no room left");
      },
      render: () => new Promise(() => {}),
      more: () => new Promise(() => {}),
    }));
    await own.play(passage, WHOLE);
    await at(0);
    expect(states.at(-1)).toBe("failed");
    own.close();
    vi.stubGlobal("AudioContext", undefined);
    await own.play(passage, WHOLE);
    expect(states.at(-1)).toBe("no-audio");
  });
  it("a clock that stands still has no device behind it: that is said", async () => {
    const own = listener();
    await own.play(passage, WHOLE);
    await at(0);
    const now = performance.now();
    vi.spyOn(performance, "now").mockImplementation(() => now + 60_000);
    await at(0);
    expect(states.at(-1)).toBe("no-audio");
    vi.restoreAllMocks();
    own.close();
  });
  it("sends bars that the worker knows as what they were", async () => {
    const sent: unknown[][] = [];
    const own = listener(() => ({ prepare: (_: unknown, bars: unknown[]) => void sent.push(bars) }));
    own.prepare(passage);
    const next: Passage = { ...passage, bars: [...passage.bars, structuredClone(passage.bars[0]!)] };
    own.prepare(next);
    await vi.waitFor(() => expect(sent).toHaveLength(2));
    expect(sent[1]!.slice(0, passage.bars.length)).toEqual(passage.bars.map((_, b) => b));
    expect(sent[1]!.at(-1)).toEqual(passage.bars[0]);
    own.close();
  });
});
