import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { passageOf, stroke } from "../../core/test/build.ts";
import type { EditState } from "./edit-slice.ts";

/** The browser's storage, as large as it is made to be. */
class Storage {
  items = new Map<string, string>();
  room = Number.POSITIVE_INFINITY;
  getItem = (key: string) => this.items.get(key) ?? null;
  removeItem = (key: string) => void this.items.delete(key);
  setItem = (key: string, value: string) => {
    if (value.length > this.room) throw new Error("QuotaExceededError");
    this.items.set(key, value);
  };
}

const passage = passageOf([stroke("0", "1/4", "6/3")]);
const state = (id: string, more: Partial<EditState> = {}): EditState => ({
  id,
  passage,
  version: 1,
  past: [],
  future: [],
  serial: 1,
  save: "unsaved",
  saveSays: "",
  newest: 0,
  cursor: { bar: 0, tick: 0, string: 1 },
  anchor: null,
  ...more,
});
const change = { patches: [{ op: "replace" as const, path: ["title"], value: "x".repeat(2000) }], inverse: [] };

let storage: Storage;
let drafts: typeof import("./drafts.ts");
const leave = new Set<() => void>();
const elsewhere = new Set<() => void>();
const onFull = vi.fn();

beforeEach(async () => {
  vi.useFakeTimers();
  vi.resetModules();
  onFull.mockReset();
  leave.clear();
  elsewhere.clear();
  storage = new Storage();
  vi.stubGlobal("localStorage", storage);
  vi.stubGlobal("addEventListener", (kind: string, listener: () => void) => (kind === "pagehide" ? leave : elsewhere).add(listener));
  drafts = await import("./drafts.ts");
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe("a draft of the passage on the bench", () => {
  it("is written a moment after the change, so that the page can draw first, and then holds the newest state", () => {
    drafts.keepDraft(state("a", { version: 1 }), onFull);
    drafts.keepDraft(state("a", { version: 2 }), onFull);
    expect(storage.items.size).toBe(0);
    vi.runAllTimers();
    expect(drafts.keptDraft("a")).toMatchObject({ version: 2, unsaved: true, passage });
    expect(onFull).not.toHaveBeenCalled();
  });
  it("is written in a pause of the typing, and every second where there is none", () => {
    const typed = (n: number) => {
      for (let i = 0; i < n; i++) {
        drafts.keepDraft(state("a", { version: i, past: [] }), onFull);
        vi.advanceTimersByTime(100);
      }
    };
    typed(9);
    expect(storage.items.size).toBe(0);
    typed(2);
    expect(storage.items.size).toBe(1);
  });
  it("is not written again for a cursor that moves, and still knows where it went", () => {
    const first = state("a");
    drafts.keepDraft(first, onFull);
    vi.runAllTimers();
    const text = storage.getItem("rest-hand:draft:a");
    storage.setItem("rest-hand:draft:a", `${text} `);
    const cursor = { bar: 0, tick: 2520, string: 4 };
    drafts.keepDraft({ ...first, cursor }, onFull);
    vi.runAllTimers();
    expect(storage.getItem("rest-hand:draft:a")).toBe(`${text} `);
    expect(drafts.keptDraft("a")?.cursor).toEqual(cursor);
    drafts.keepDraft({ ...first, version: 2 }, onFull);
    vi.runAllTimers();
    expect(drafts.keptDraft("a")).toMatchObject({ version: 2, cursor: first.cursor });
    drafts.dropDraft("a");
    expect(storage.items.size).toBe(0);
  });
  it("is written whole again for a cursor that moves, once another tab has dropped it", () => {
    const first = state("a");
    drafts.keepDraft(first, onFull);
    vi.runAllTimers();
    storage.items.clear();
    for (const listener of elsewhere) listener();
    drafts.keepDraft({ ...first, cursor: { bar: 0, tick: 2520, string: 4 } }, onFull);
    vi.runAllTimers();
    expect(drafts.keptDraft("a")).toMatchObject({ passage, unsaved: true, cursor: { tick: 2520 } });
  });
  it("is read though its cursor cannot be", () => {
    drafts.keepDraft(state("a"), onFull);
    vi.runAllTimers();
    storage.setItem("rest-hand:draft:a:cursor", "{");
    expect(drafts.keptDraft("a")).toMatchObject({ passage, cursor: { bar: 0, tick: 0, string: 1 } });
  });
  it("is written at once when the page goes", () => {
    drafts.keepDraft(state("a"), onFull);
    for (const listener of leave) listener();
    expect(storage.items.size).toBe(1);
  });
  it("is not lost when another passage is opened meanwhile", () => {
    drafts.keepDraft(state("a", { version: 7 }), onFull);
    drafts.keepDraft(state("b"), onFull);
    vi.runAllTimers();
    expect(drafts.keptDraft("a")?.version).toBe(7);
    expect(drafts.keptDraft("b")?.version).toBe(1);
  });
  it("is there for whoever reads it before it was written", () => {
    drafts.keepDraft(state("a", { version: 5 }), onFull);
    expect(drafts.keptDraft("a")?.version).toBe(5);
  });
  it("does not come back once it was dropped", () => {
    drafts.keepDraft(state("a"), onFull);
    drafts.dropDraft("a");
    vi.runAllTimers();
    expect(drafts.keptDraft("a")).toBeNull();
    expect(storage.items.size).toBe(0);
  });
  it("goes without its history where there is little room; where there is none, that is said", () => {
    storage.room = 1500;
    drafts.keepDraft(state("a", { past: [change] }), onFull);
    vi.runAllTimers();
    expect(drafts.keptDraft("a")).toMatchObject({ past: [], passage });
    expect(onFull).not.toHaveBeenCalled();
    storage.room = 10;
    drafts.keepDraft(state("a"), onFull);
    vi.runAllTimers();
    expect(onFull).toHaveBeenCalledOnce();
  });
  it("that cannot be read any more is put aside, not lost", () => {
    for (const text of ["{", JSON.stringify({ passage: { format: "something else" } })]) {
      storage.setItem("rest-hand:draft:a", text);
      expect(drafts.keptDraft("a")).toBeNull();
      expect(storage.getItem("rest-hand:draft:a:unread")).toBe(text);
    }
  });
});
