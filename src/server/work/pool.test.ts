import { afterEach, describe, expect, it } from "vitest";
import { sixteenthRiff } from "../../benchmarks/passages.ts";
import { parsePassage } from "../../core/passage/parse.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { randomPassage } from "../../core/test/random-passages.ts";
import { WorkPool } from "./pool.ts";
import { ownThread, workedMs } from "./thread-time.ts";

let pool: WorkPool;
afterEach(() => pool.close());

const parsed = parsePassage(sixteenthRiff(200));
const long = (parsed.ok ? parsed.value : null) as Passage;
const short = randomPassage(1, 3);

describe("work in threads", () => {
  it("gives what the task gives, and a task's own fault as it is", async () => {
    pool = new WorkPool();
    expect(await pool.run("readPassage", JSON.stringify(short))).toEqual({ ok: true, value: short });
    await expect(pool.run("summary", null as unknown as Passage)).rejects.toThrow(TypeError);
  });

  it("that takes too long is ended in words, and costs nobody else", async () => {
    pool = new WorkPool();
    await pool.run("summary", short);
    const ended = pool.run("limits", long, { longestMs: 5 });
    const other = pool.run("summary", short);
    await expect(ended).rejects.toMatchObject({ why: "too much", message: "This takes more than 0.005 s of work." });
    await expect(other).resolves.toHaveProperty("strays");
  });

  it("is counted by what its thread does, not by what the machine does meanwhile", () => {
    const thread = ownThread();
    const before = workedMs(thread);
    const end = performance.now() + 120;
    while (performance.now() < end);
    const busy = workedMs(thread) - before;
    expect(busy).toBeGreaterThan(0);
    // A thread that is not there does nothing.
    expect(workedMs("0")).toBe(0);
  });

  it("that takes too much memory is ended in words, and what comes next is done", async () => {
    pool = new WorkPool(48);
    await expect(pool.run("summary", long, { longestMs: 600_000 })).rejects.toMatchObject({
      why: "too much",
      message: "This takes more than 48 MB of memory.",
    });
    await expect(pool.run("readPassage", "{")).resolves.toMatchObject({ ok: false });
  });

  it("is stopped by whoever asked for it, before and after it has begun", async () => {
    pool = new WorkPool();
    await expect(pool.run("summary", long, { signal: AbortSignal.abort() })).rejects.toMatchObject({ why: "stopped" });
    const asked = new AbortController();
    const begun = new Promise<void>((resolve) => {
      const ended = pool.run("packBackup", { rows: rowsOf(400) }, { signal: asked.signal, onProgress: () => resolve() });
      ended.catch(() => {});
      stopped = ended;
    });
    await begun;
    asked.abort();
    await expect(stopped).rejects.toMatchObject({ why: "stopped" });
  });

  it("says when there is too much to do", async () => {
    pool = new WorkPool();
    const asked = Array.from({ length: 260 }, () => pool.run("readPassage", "{}"));
    const results = await Promise.allSettled(asked);
    const refused = results.flatMap((result) => (result.status === "rejected" ? [result.reason.why] : []));
    expect(refused.length).toBeGreaterThan(20);
    expect(new Set(refused)).toEqual(new Set(["busy"]));
    expect(results.length - refused.length).toBeGreaterThanOrEqual(200);
  });
});

let stopped: Promise<unknown>;

/** A library of so many passages as its tables have it. */
function rowsOf(count: number) {
  const { instrument, player, ...document } = short;
  const setup = { name: "n", named: true, isDefault: false, createdAt: "2026-01-01T00:00:00.000Z" };
  const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, "0")}`;
  const moments = { version: 1, createdAt: setup.createdAt, updatedAt: setup.createdAt, openedAt: null, deletedAt: null };
  return {
    savedAt: setup.createdAt,
    instruments: [{ ...setup, id: id(1), value: instrument }],
    players: [{ ...setup, id: id(2), value: player }],
    practice: [],
    recordings: [],
    passages: Array.from({ length: count }, (_, n) => ({
      ...moments,
      id: id(10 + n),
      title: "t",
      document: JSON.stringify(document),
      instrument: id(1),
      player: id(2),
      original: null,
    })),
  };
}
