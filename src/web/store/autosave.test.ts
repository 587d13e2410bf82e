import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { browserRequest } from "../../core/test/browser-request.ts";
import { passageOf, stroke } from "../../core/test/build.ts";

/** The server's answers to saves, one after the other; every save that reached it. */
type Reply = { status: number; body: unknown } | "away" | Promise<{ status: number; body: unknown }>;
let replies: Reply[];
let saves: { basedOn: string | null; title: string }[];

const ID = "11111111-1111-4111-8111-111111111111";
const passage = passageOf([stroke("0", "1/4", "6/3")]);
const ok = (version: number) => ({ status: 200, body: { id: ID, version, updatedAt: "2026-01-01T00:00:00.000Z", passage } });

async function bench() {
  const { createStore } = await import("../create-store.ts");
  const slice = await import("./edit-slice.ts");
  const { edit } = await import("./editing.ts");
  const store = createStore();
  store.dispatch(slice.opened({ id: ID, passage, version: 1, past: [], future: [], save: "saved", cursor: { bar: 0, tick: 0, string: 1 } }));
  const title = (to: string) => store.dispatch(edit({ kind: "set-title", title: to }));
  return { store, title, save: () => store.getState().edit.save, close: () => store.dispatch(slice.closed()) };
}

/** Lets as much time pass, and what has been waiting for it be done. */
const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms);

beforeEach(() => {
  vi.useFakeTimers();
  vi.resetModules();
  replies = [];
  saves = [];
  vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => {}, removeItem: () => {} });
  vi.stubGlobal("Request", browserRequest());
  vi.stubGlobal("fetch", async (request: Request) => {
    saves.push({ basedOn: request.headers.get("if-match"), title: ((await request.json()) as { title: string }).title });
    const reply = await (replies.shift() ?? "away");
    if (reply === "away") throw new TypeError("Failed to fetch");
    return new Response(JSON.stringify(reply.body), { status: reply.status, headers: { "Content-Type": "application/json" } });
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe("autosave", () => {
  it("saves a moment after the last change, once, over the version it knows", async () => {
    const { title, save } = await bench();
    replies = [ok(2)];
    title("a");
    await pass(300);
    title("ab");
    await pass(300);
    expect(saves).toEqual([]);
    expect(save()).toBe("unsaved");
    await pass(1000);
    expect(saves).toEqual([{ basedOn: '"1"', title: "ab" }]);
    expect(save()).toBe("saved");
  });
  it("what is changed while a save is under way is saved after it, over the version that came of it", async () => {
    const { title, save } = await bench();
    let answer = (_: { status: number; body: unknown }) => {};
    replies = [
      new Promise((resolve) => {
        answer = resolve;
      }),
      ok(3),
    ];
    title("a");
    await pass(600);
    expect(save()).toBe("saving");
    title("b");
    await pass(5000);
    expect(saves).toHaveLength(1);
    answer(ok(2));
    await pass(2000);
    expect(saves).toEqual([
      { basedOn: '"1"', title: "a" },
      { basedOn: '"2"', title: "b" },
    ]);
    expect(save()).toBe("saved");
  });
  it("tries again while the server is away, and saves the newest once it is back", async () => {
    const { title, save } = await bench();
    title("a");
    await pass(600);
    expect(save()).toBe("offline");
    replies = [ok(2)];
    title("b");
    await pass(10_000);
    expect(saves.at(-1)).toEqual({ basedOn: '"1"', title: "b" });
    expect(save()).toBe("saved");
  });
  it("a passage that was changed elsewhere is not saved over, however often it is changed here", async () => {
    const { title, save } = await bench();
    replies = [{ status: 412, body: { status: 412, title: "Changed elsewhere", version: 9 } }];
    title("a");
    await pass(600);
    expect(save()).toBe("stale");
    title("b");
    await pass(60_000);
    expect(saves).toHaveLength(1);
  });
  it("what the server refuses is said and not sent again until it is another thing", async () => {
    const { store, title, save } = await bench();
    replies = [{ status: 422, body: { status: 422, title: "Not a valid passage" } }, ok(2)];
    title("a");
    await pass(60_000);
    expect(save()).toBe("refused");
    expect(store.getState().edit.saveSays).toBe("Not a valid passage");
    expect(saves).toHaveLength(1);
    title("b");
    await pass(2000);
    expect(save()).toBe("saved");
  });
  it("an answer that is none of this server's is trouble, not a saved passage", async () => {
    const { store, title, save } = await bench();
    replies = [{ status: 200, body: { welcome: "to the inn" } }, ok(2)];
    title("a");
    await pass(600);
    expect(save()).toBe("offline");
    expect(store.getState().edit.saveSays).toMatch(/Reload/);
    await pass(10_000);
    expect(save()).toBe("saved");
  });
});
