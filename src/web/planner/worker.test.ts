import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { planPassage } from "../../core/engine.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { passageOf, stroke } from "../../core/test/build.ts";
import type { PlanAnswer, PlanRequest } from "./protocol.ts";

/** The worker's end of the line. */
const line: { onmessage?: (event: { data: PlanRequest }) => void; postMessage(answer: PlanAnswer): void } = {
  postMessage: (answer) => void answers.push(answer),
};
let answers: PlanAnswer[] = [];
const send = (data: PlanRequest) => line.onmessage!({ data });
const ask = (kind: "plan" | "figures", job: number, { bars, ...passage }: Passage) => send({ kind, job, passage, bars: [...bars] });
const kinds = () => answers.map(({ kind, job }) => `${kind} ${job}`);
const riff = (fret: number) => passageOf([stroke("0", "1/4", `6/${fret}`), stroke("1/4", "1/4", "5/2")]);

beforeEach(async () => {
  vi.useFakeTimers();
  vi.resetModules();
  vi.stubGlobal("self", line);
  answers = [];
  await import("./worker.ts");
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe("the planning worker", () => {
  it("plans the newest of what was asked while it was busy, and nothing else", () => {
    ask("plan", 1, riff(3));
    ask("plan", 2, riff(5));
    vi.runAllTimers();
    expect(kinds()).toEqual(["planned 2"]);
  });
  it("says why it could not plan, and plans what comes next", () => {
    const good = riff(3);
    const unheard = { ...good, instrument: { ...good.instrument, kind: "lute" as "nylon-guitar" } };
    ask("plan", 1, unheard);
    vi.runAllTimers();
    let why = "";
    try {
      planPassage(unheard);
    } catch (error) {
      why = (error as Error).message;
    }
    expect(why).not.toBe("");
    expect(answers).toEqual([{ kind: "failed", job: 1, says: why }]);
    ask("plan", 2, good);
    vi.runAllTimers();
    expect(kinds()).toEqual(["failed 1", "planned 2"]);
  });
  it("says both limits of tempo, then what could be done", () => {
    ask("figures", 1, riff(3));
    vi.runAllTimers();
    expect(kinds()).toEqual(["limits 1", "remedies 1"]);
  });
  it("says how far the search for what stays clean is when it takes more than a second, and no oftener than can be read", () => {
    // A clock on which every look takes 200 ms.
    let ms = 0;
    const clock = vi.spyOn(performance, "now").mockImplementation(() => (ms += 200));
    ask("figures", 1, riff(3));
    vi.runAllTimers();
    clock.mockRestore();
    const told = answers.flatMap((answer) => (answer.kind === "searching" ? [answer.tempo] : []));
    expect(told.length).toBeGreaterThan(2);
    expect(told.length).toBeLessThan(20);
    expect(kinds().at(-2)).toBe("limits 1");
  });
  it("keeps the figures waiting while it is held, and goes on from there", () => {
    send({ kind: "hold", isHeld: true });
    ask("figures", 1, riff(3));
    vi.runAllTimers();
    expect(kinds()).toEqual([]);
    send({ kind: "hold", isHeld: false });
    // The stages are worked out; then it is held again, in the middle of the search.
    vi.advanceTimersToNextTimer();
    send({ kind: "hold", isHeld: true });
    vi.runAllTimers();
    expect(kinds()).toEqual([]);
    send({ kind: "hold", isHeld: false });
    vi.runAllTimers();
    expect(kinds()).toEqual(["limits 1", "remedies 1"]);
  });
  it("gives the figures up when they are of no use any more, held or not", () => {
    ask("figures", 1, riff(3));
    vi.advanceTimersToNextTimer();
    send({ kind: "hold", isHeld: true });
    send({ kind: "stop" });
    send({ kind: "hold", isHeld: false });
    vi.runAllTimers();
    expect(kinds()).toEqual([]);
  });
});
