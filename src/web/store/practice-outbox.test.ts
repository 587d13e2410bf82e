import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { browserRequest } from "../../core/test/browser-request.ts";
import { practiceOf, takeOfStrays } from "../../core/test/practice-sessions.ts";

/* Sessions on their way to the log, with a browser's storage and a server that stand for both. */

let kept: Map<string, string>;
let sent: string[];
let answer: (body: string) => Response;

const session = { ...practiceOf(1, { figure: "palm" }, "2026-03-01T18:00:00.000Z", { a: [60] }), takes: [takeOfStrays(1, "2026-03-01T18:05:00.000Z", [2])] };

beforeEach(() => {
  vi.resetModules();
  kept = new Map();
  sent = [];
  answer = (body) => new Response(body, { status: 200, headers: { "Content-Type": "application/json" } });
  const storage = {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, text: string) => void kept.set(key, text),
    removeItem: (key: string) => void kept.delete(key),
  };
  vi.stubGlobal(
    "localStorage",
    new Proxy(storage, { ownKeys: () => [...kept.keys()], getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true, value: "" }) }),
  );
  vi.stubGlobal("Request", browserRequest());
  vi.stubGlobal("fetch", async (request: Request) => {
    const body = await request.text();
    sent.push(body);
    return answer(body);
  });
});
afterEach(() => vi.unstubAllGlobals());

async function outbox() {
  const { createStore } = await import("../create-store.ts");
  const { putOut, sendWaiting } = await import("./practice-outbox.ts");
  const store = createStore();
  return { putOut, send: () => store.dispatch(sendWaiting() as never) as unknown as Promise<void> };
}

describe("sessions on their way to the log", () => {
  it("are sent once and gone when the server has them, whatever order their fields were written in", async () => {
    const { putOut, send } = await outbox();
    const { takes, id, ...rest } = session;
    expect(putOut({ takes, ...rest, id })).toBe(true);
    await send();
    expect(sent).toHaveLength(1);
    expect(JSON.parse(sent[0]!)).toEqual(session);
    expect([...kept.keys()]).toEqual([]);
  });

  it("stay when they have gone on meanwhile, and are sent again; refused ones stay, and keep no other waiting", async () => {
    const { putOut, send } = await outbox();
    putOut(session);
    const later = { ...session, note: "later" };
    answer = (body) => {
      if (sent.length === 1) putOut(later);
      return new Response(body, { status: 200, headers: { "Content-Type": "application/json" } });
    };
    await send();
    expect(sent.map((body) => JSON.parse(body).note)).toEqual(["", "later"]);
    expect([...kept.keys()]).toEqual([]);

    sent.length = 0;
    const other = { ...session, id: "00000000-0000-4000-9000-000000000002" };
    answer = (body) => new Response(body, { status: JSON.parse(body).id === session.id ? 422 : 200, headers: { "Content-Type": "application/json" } });
    putOut(session);
    putOut(other);
    await send();
    expect(sent).toHaveLength(2);
    expect([...kept.keys()]).toHaveLength(1);
    expect([...kept.keys()][0]).toContain(session.id);
  });
});
