import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { browserRequest } from "../../core/test/browser-request.ts";
import { passageOf, stroke } from "../../core/test/build.ts";

const ID = "11111111-1111-4111-8111-111111111111";
const passage = passageOf([stroke("0", "1/4", "6/3")]);

/** A library of one passage, which can be away; every save that reached it. */
let there: { version: number; title: string };
let saves: { basedOn: number; title: string; took: boolean }[];
let isAway: boolean;
/** What an answer waits for. */
let hold: Promise<void>;

/** A new page of the same browser. */
async function page() {
  vi.resetModules();
  const { createStore } = await import("../create-store.ts");
  const slice = await import("./edit-slice.ts");
  const { edit } = await import("./editing.ts");
  const { keptDraft, unsavedIds } = await import("./drafts.ts");
  const { sendDrafts } = await import("./drafts-outbox.ts");
  const store = createStore();
  return {
    open: (version = there.version) =>
      store.dispatch(slice.opened({ id: ID, passage, version, past: [], future: [], save: "saved", cursor: { bar: 0, tick: 0, string: 1 } })),
    title: (to: string) => store.dispatch(edit({ kind: "set-title", title: to })),
    close: () => store.dispatch(slice.closed()),
    sendDrafts: () => store.dispatch(sendDrafts()),
    keptDraft: () => keptDraft(ID),
    unsavedIds,
  };
}

beforeEach(() => {
  there = { version: 1, title: passage.title };
  saves = [];
  isAway = false;
  hold = Promise.resolve();
  const kept = new Map<string, string>();
  const storage = {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem(key: string, text: string) {
      kept.set(key, text);
      Object.assign(storage, { [key]: text });
    },
    removeItem(key: string) {
      kept.delete(key);
      delete (storage as Record<string, unknown>)[key];
    },
  };
  vi.stubGlobal("localStorage", storage);
  vi.stubGlobal("Request", browserRequest());
  vi.stubGlobal("fetch", async (request: Request) => {
    if (isAway) throw new TypeError("Failed to fetch");
    const basedOn = Number(/\d+/.exec(request.headers.get("if-match")!)![0]);
    const { title } = (await request.json()) as { title: string };
    const took = basedOn === there.version;
    saves.push({ basedOn, title, took });
    if (took) there = { version: basedOn + 1, title };
    await hold;
    const body = took ? { id: ID, version: basedOn + 1, updatedAt: "2026-01-01T00:00:00.000Z" } : { status: 412, title: "Changed elsewhere" };
    return new Response(JSON.stringify(body), { status: took ? 200 : 412, headers: { "Content-Type": "application/json" } });
  });
});
afterEach(() => vi.unstubAllGlobals());

describe("what was left before it had reached the library", () => {
  it("is sent when the passage is closed", async () => {
    const { open, title, close, unsavedIds, keptDraft } = await page();
    open();
    title("left at once");
    close();
    await vi.waitFor(() => expect(there).toEqual({ version: 2, title: "left at once" }));
    await vi.waitFor(() => expect(unsavedIds()).toEqual([]));
    expect(keptDraft()).toMatchObject({ version: 2, unsaved: false });
  });

  it("follows what was on its way, over the version that came of it", async () => {
    const { open, title, close, unsavedIds } = await page();
    open();
    title("first");
    let letGo = () => {};
    hold = new Promise((resolve) => {
      letGo = resolve;
    });
    await vi.waitFor(() => expect(saves).toHaveLength(1), 5000);
    title("second");
    close();
    letGo();
    await vi.waitFor(() => expect(unsavedIds()).toEqual([]));
    expect(saves).toEqual([
      { basedOn: 1, title: "first", took: true },
      { basedOn: 2, title: "second", took: true },
    ]);
  });

  it("waits in the browser while the server is away, and is sent by any page once it is back", async () => {
    const first = await page();
    first.open();
    isAway = true;
    first.title("at sea");
    first.close();
    await first.sendDrafts();
    expect(first.unsavedIds()).toEqual([ID]);
    const later = await page();
    isAway = false;
    await later.sendDrafts();
    expect(there.title).toBe("at sea");
    expect(later.unsavedIds()).toEqual([]);
    await later.sendDrafts();
    expect(saves).toHaveLength(1);
  });

  it("overwrites nothing: where it was changed elsewhere it stays, to be asked about", async () => {
    const { open, title, close, sendDrafts, unsavedIds, keptDraft } = await page();
    open();
    there = { version: 5, title: "from elsewhere" };
    title("mine");
    close();
    await sendDrafts();
    await vi.waitFor(() => expect(saves.length).toBeGreaterThan(0));
    expect(there).toEqual({ version: 5, title: "from elsewhere" });
    expect(unsavedIds()).toEqual([ID]);
    expect(keptDraft()).toMatchObject({ version: 1, passage: { title: "mine" } });
  });

  it("is left to the page in which the passage is open, and to any other tab that has it open", async () => {
    const { open, title, sendDrafts, close } = await page();
    open();
    title("open still");
    await sendDrafts();
    expect(saves).toEqual([]);
    // As the browser says it when another tab holds a lock.
    vi.stubGlobal("navigator", {
      locks: { request: async (_name: string, _options: object, then: (lock: null) => unknown) => then(null) },
    });
    close();
    await sendDrafts();
    expect(saves).toEqual([]);
  });
});
