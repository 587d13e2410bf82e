import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { drillsOf } from "../../core/drills/drills.ts";
import { planPassage } from "../../core/engine.ts";
import { demoPassages } from "../../core/test/demos.ts";
import { dropSession, keepSession, keptSession } from "./kept-session.ts";
import { begun, nextDrill, type Session, tried } from "./session.ts";

const passage = demoPassages()[1]!;
const of = { passage: null, figure: "palm", title: "Palm on and off" };
const now = new Date("2026-03-01T18:00:00.000Z");
const session = tried(begun(drillsOf(planPassage(passage, { why: "nothing" }), passage, [], 10), of, "00000000-0000-4000-9000-000000000001", now), true, now);

let store: Map<string, string>;
beforeEach(() => {
  store = new Map();
  vi.stubGlobal("localStorage", {
    getItem: (key: string) => store.get(key) ?? null,
    setItem: (key: string, value: string) => store.set(key, value),
    removeItem: (key: string) => store.delete(key),
  });
});
afterEach(() => vi.unstubAllGlobals());

it("is kept as it was left, passage by passage, until it is dropped", () => {
  expect(keepSession("a", session)).toBe(true);
  expect(keptSession("a")).toEqual(session);
  expect(keptSession("b")).toBeNull();
  dropSession("a");
  expect(keptSession("a")).toBeNull();
});
it("one that is done, of another version or damaged is none", () => {
  const done = session.drills.reduce<Session>((now) => nextDrill(now), session);
  keepSession("a", done);
  expect(keptSession("a")).toBeNull();
  for (const text of ["{", "null", "7", JSON.stringify({ format: "rest-hand-session/9", session }), JSON.stringify({ session })]) {
    store.set("rest-hand:session:a", text);
    expect(keptSession("a")).toBeNull();
  }
});
it("a full store is told", () => {
  vi.stubGlobal("localStorage", {
    setItem: () => {
      throw new Error("full");
    },
  });
  expect(keepSession("a", session)).toBe(false);
});
