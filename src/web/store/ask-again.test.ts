import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { browserRequest } from "../../core/test/browser-request.ts";
import { createStore } from "../create-store.ts";
import { api } from "./api.ts";

/** What was asked, in its order, and how each is answered. */
let asked: { method: string; path: string; answer: (body: unknown, status?: number) => void }[];

const session = {
  id: "11111111-1111-4111-8111-111111111111",
  passage: null,
  figure: "palm",
  title: "A move",
  startedAt: "2026-01-01T10:00:00.000Z",
  endedAt: "2026-01-01T10:05:00.000Z",
};
const listed = { ...session, minutes: 5, discomforts: [], note: "", outcomes: [], takes: [] };
/** Whatever would be asked next has been asked. */
const settled = () => new Promise((resolve) => setImmediate(resolve));
const reached = (many: number) => vi.waitFor(() => expect(asked).toHaveLength(many));

beforeEach(() => {
  asked = [];
  vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => {}, removeItem: () => {} });
  vi.stubGlobal("Request", browserRequest());
  vi.stubGlobal(
    "fetch",
    (request: Request) =>
      new Promise<Response>((resolve) => {
        asked.push({
          method: request.method,
          path: new URL(request.url).pathname,
          answer: (body, status = 200) =>
            resolve(
              status === 204 ? new Response(null, { status }) : new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } }),
            ),
        });
      }),
  );
});
afterEach(() => vi.unstubAllGlobals());

describe("what was on its way while something changed", () => {
  it("is asked for again once it is there, and the later answer is shown", async () => {
    const store = createStore();
    const sessions = () => api.endpoints.sessions.select({})(store.getState()).data;
    void store.dispatch(api.endpoints.sessions.initiate({}));
    await reached(1);
    const removed = store.dispatch(api.endpoints.removeLog.initiate());
    await reached(2);
    asked[1]!.answer(null, 204);
    await removed;
    asked[0]!.answer([listed]);
    await vi.waitFor(() => expect(sessions()).toEqual([listed]));
    await reached(3);
    expect(asked[2]).toMatchObject({ method: "GET", path: "/api/practice" });
    asked[2]!.answer([]);
    await vi.waitFor(() => expect(sessions()).toEqual([]));
    await settled();
    expect(asked).toHaveLength(3);
  });
  it("is asked for again too where it was changed elsewhere, and what is there already is asked for once", async () => {
    const store = createStore();
    const bin = store.dispatch(api.endpoints.list.initiate("bin"));
    await reached(1);
    asked[0]!.answer([]);
    await bin;
    void store.dispatch(api.endpoints.list.initiate("shelf"));
    await reached(2);
    store.dispatch(api.util.invalidateTags(["shelf", "bin"]));
    await reached(3);
    asked[2]!.answer([]);
    asked[1]!.answer([]);
    await reached(4);
    expect(asked.map(({ path }) => path)).toEqual(Array(4).fill("/api/passages"));
    asked[3]!.answer([]);
    await settled();
    expect(asked).toHaveLength(4);
  });
  it("is not asked for again where nothing was changed, or where it can never change", async () => {
    const store = createStore();
    const query = store.dispatch(api.endpoints.sessions.initiate({}));
    const summary = store.dispatch(api.endpoints.summary.initiate({ id: session.id, version: 1 }));
    await reached(2);
    asked[0]!.answer([]);
    await query;
    const removed = store.dispatch(api.endpoints.removeLog.initiate());
    await reached(3);
    asked[2]!.answer(null, 204);
    await removed;
    // The log was there already: asked for once more by the change itself.
    await reached(4);
    asked[1]!.answer({});
    await summary;
    asked[3]!.answer([]);
    await vi.waitFor(() => expect(api.endpoints.sessions.select({})(store.getState()).status).toBe("fulfilled"));
    await settled();
    expect(asked).toHaveLength(4);
  });
});
