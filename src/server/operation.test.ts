import { Writable } from "node:stream";
import { pino } from "pino";
import request from "supertest";
import { afterAll, beforeAll, expect, it } from "vitest";
import { randomPassage } from "../core/test/random-passages.ts";
import { type App, createApp } from "./app.ts";
import { Care } from "./care.ts";
import { LOCAL_PERSON, type OpenDatabase } from "./database/database.ts";
import { OWN_MACHINE } from "./people/access.ts";
import { sharedRoutes } from "./routes/shared.ts";
import { servicesOf } from "./services.ts";
import { Summaries } from "./summaries.ts";
import { changesOf, HOST } from "./test/test-app.ts";
import { memoryDatabase } from "./test/test-database.ts";
import { WorkPool } from "./work/pool.ts";

/* What those who run a server see of it. */

const pool = new WorkPool();
const lines: string[] = [];
let database: OpenDatabase;
let app: App;
const get = (path: string) => request(app.express).get(path).set("Host", HOST);

beforeAll(async () => {
  database = await memoryDatabase();
  const log = pino({ level: "info" }, new Writable({ write: (line, _encoding, done) => done(void lines.push(String(line))) }));
  app = createApp({ log, hosts: () => [HOST], page: null, pool, metricsToken: "a token" });
});
afterAll(async () => {
  await pool.close();
  await database.close();
});

it("a server says that it lives as soon as it does, that it is ready when the library is open, and that it is not when it is about to end", async () => {
  await get("/api/health/live").expect(200, { status: "live" });
  await get("/api/health/ready").expect(503);
  const care = new Care(database.client, pool);
  const services = servicesOf(
    { database, care, changes: await changesOf(database), pool, places: { directory: "/nowhere", secondBackups: null } },
    LOCAL_PERSON,
  );
  app.serve({ care, servicesOf: () => services, access: OWN_MACHINE, shared: sharedRoutes(database.db), summaries: new Summaries(pool, database.db) });
  await get("/api/health/ready").expect(200, { status: "ready" });
  app.drain();
  expect((await get("/api/health/ready").expect(503)).body).toEqual({ status: "not ready", reason: "This server is about to end." });
  await get("/api/health/live").expect(200);
  // What is asked all the same is answered, and the connection not used again.
  await get("/api/passages").expect(200).expect("Connection", "close");
});

it("metrics tell requests by route and answer, and what was saved; who has no token gets none", async () => {
  const passage = { ...randomPassage(21, 2), title: "A secret title" };
  const { id } = (await request(app.express).post("/api/passages").set("Host", HOST).send(passage).expect(201)).body as { id: string };
  await request(app.express)
    .put(`/api/passages/${id}`)
    .set("Host", HOST)
    .set("If-Match", '"1"')
    .send({ ...passage, notes: "a secret note" })
    .expect(200);
  await get("/api/metrics").expect(401);
  await get("/api/metrics").set("Authorization", "Bearer another").expect(401);
  const { text } = await get("/api/metrics").set("Authorization", "Bearer a token").expect(200);
  expect(text).toMatch(/^resthand_request_seconds_count\{method="PUT",route="\/api\/passages\/:id",status="200"\} 1$/m);
  expect(text).toMatch(/^resthand_saves_total\{what="passage"\} 1$/m);
  expect(text).toMatch(/^resthand_process_resident_memory_bytes \d+/m);
  expect(text).not.toMatch(/secret/);
  expect(text).not.toContain(id);
});

it("every request has an id, in its answer and in its line of the log; a line holds nothing that anybody wrote", async () => {
  lines.length = 0;
  const own = await get("/api/passages?secret=words").expect(200);
  expect(own.headers["x-request-id"]).toMatch(/^[\da-f-]{36}$/);
  const given = await get("/api/passages").set("X-Request-Id", "proxy-0042-abc").set("Cookie", "rest-hand=secret").expect(200);
  expect(given.headers["x-request-id"]).toBe("proxy-0042-abc");
  const bad = await get("/api/passages").set("X-Request-Id", "no id; but words").expect(200);
  expect(bad.headers["x-request-id"]).not.toContain("words");
  const read = lines.map((line) => JSON.parse(line) as { req: object; res: object; responseTime: number });
  expect(read.map(({ req }) => req)).toEqual([
    { id: own.headers["x-request-id"], method: "GET", path: "/api/passages" },
    { id: "proxy-0042-abc", method: "GET", path: "/api/passages" },
    { id: bad.headers["x-request-id"], method: "GET", path: "/api/passages" },
  ]);
  for (const line of lines) expect(line).not.toMatch(/secret|words/);
});
