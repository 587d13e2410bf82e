import { expose, proxy } from "comlink";
import { afterEach, describe, expect, it, vi } from "vitest";
import { passageOf, stroke } from "../../core/test/build.ts";
import type { ComparedPart } from "./jobs.ts";
import { JOBS } from "./jobs.ts";
import { startJob } from "./use-job.ts";

/** A worker as the page sees it: the jobs at the other end of a line. */
class FakeWorker {
  private readonly line = new MessageChannel();
  onerror: ((event: { message: string }) => void) | null = null;
  isEnded = false;
  constructor(jobs: object = JOBS) {
    expose(jobs, this.line.port2 as never);
    this.line.port1.start();
  }
  postMessage = (message: unknown, transfer: Transferable[] = []) => this.line.port1.postMessage(message, transfer as never);
  addEventListener = (type: string, listener: never) => this.line.port1.addEventListener(type as "message", listener);
  removeEventListener = (type: string, listener: never) => this.line.port1.removeEventListener(type as "message", listener);
  terminate = () => {
    this.isEnded = true;
    this.line.port1.close();
    this.line.port2.close();
  };
}

const passage = passageOf([stroke("0", "1/4", "6/3"), stroke("1/4", "1/4", "5/2")]);
const running: FakeWorker[] = [];
function job(jobs?: object) {
  const worker = new FakeWorker(jobs);
  running.push(worker);
  return { worker, ...startJob(worker as never) };
}
afterEach(() => {
  for (const worker of running.splice(0)) worker.terminate();
  vi.unstubAllGlobals();
});

describe("long work", () => {
  it("says how far it is and gives its result", async () => {
    const { jobs, result } = job();
    const seen: [number, number][] = [];
    const file = await result(
      jobs.wav(
        passage,
        { damping: "planned", string: null, depth: "16" },
        proxy((done: number, of: number) => void seen.push([done, of])),
      ),
    );
    expect(seen.length).toBeGreaterThan(1);
    for (const [i, [done, of]] of seen.entries()) {
      expect(of).toBe(seen[0]![1]);
      expect(done).toBeGreaterThan(seen[i - 1]?.[0] ?? 0);
    }
    expect(seen.at(-1)![0]).toBe(seen[0]![1]);
    // RIFF/WAVE: a head of 44 bytes, then two a sample.
    expect(file.size).toBe(44 + 2 * seen[0]![1]);
  });
  it("fails with the words of its error", async () => {
    const { jobs, result } = job();
    vi.stubGlobal("fetch", async () => new Response("", { status: 404 }));
    await expect(
      result(
        jobs.exportFiles(
          ["gone"],
          "csv",
          {},
          proxy(() => {}),
        ),
      ),
    ).rejects.toThrow("a passage is not there any more");
  });
  it("fails where its worker breaks down, and does not wait for ever", async () => {
    const { worker, jobs, result } = job({ loudness: () => new Promise(() => {}) });
    const answer = result(jobs.loudness(passage));
    worker.onerror!({ message: "out of memory" });
    await expect(answer).rejects.toThrow("out of memory");
  });
  it("answers nothing once it is stopped", async () => {
    let finish = () => {};
    let begin = () => {};
    const begun = new Promise<void>((resolve) => {
      begin = resolve;
    });
    const loudness = () => {
      begin();
      return new Promise<void>((resolve) => {
        finish = resolve;
      });
    };
    const { worker, jobs, result, stop } = job({ loudness });
    const answered = vi.fn();
    void result(jobs.loudness(passage)).then(answered, answered);
    await begun;
    stop();
    finish();
    expect(worker.isEnded).toBe(true);
    await new Promise((resolve) => setImmediate(resolve));
    expect(answered).not.toHaveBeenCalled();
  });
  it("a file that is no passage comes back with its faults", async () => {
    const { jobs, result } = job();
    const read = await result(
      jobs.read(
        new TextEncoder().encode("{"),
        {},
        proxy(() => {}),
      ) as Promise<{ ok: boolean }>,
    );
    expect(read.ok).toBe(false);
  });
  it("passages of one title are files of two names in one archive; what a format cannot hold is reported by passage", async () => {
    vi.stubGlobal("fetch", async () => new Response(JSON.stringify(passage)));
    const { unzipSync } = await import("fflate");
    const { file, name } = await JOBS.exportFiles(["a", "b"], "csv", {}, () => {});
    expect(name).toBe("rest-hand-csv.zip");
    const names = Object.keys(unzipSync(new Uint8Array(await file.arrayBuffer())));
    expect(new Set(names).size).toBe(2);
    const alone = await JOBS.exportFiles(["a"], "csv", {}, () => {});
    expect(alone.name).toBe(names[0]);
  });
  it("compares versions: every plan first, then how loud they are, then how fast they can go", () => {
    const parts: ComparedPart[] = [];
    const silent = { ...passage, bars: passage.bars.map((bar) => ({ ...bar, strokes: [] })) };
    JOBS.compare([passage, silent], 0, 0, (part) => void parts.push(part));
    expect(parts.map(({ kind }) => kind)).toEqual(["plan", "plan", "levels", "limits", "limits"]);
    const levels = parts.find((part) => part.kind === "levels")!.levels;
    // In LKFS: below full scale, and far above silence.
    expect(levels[0]).toBeLessThan(0);
    expect(levels[0]).toBeGreaterThan(-50);
    expect(levels[1]).toBeNull();
  });
});
