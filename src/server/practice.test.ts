import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { PGlite } from "@electric-sql/pglite";
import { drizzle } from "drizzle-orm/pglite";
import { migrate } from "drizzle-orm/pglite/migrator";
import request from "supertest";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import * as wire from "../api/wire.ts";
import { drillsOf } from "../core/drills/drills.ts";
import { wholePlan } from "../core/engine.ts";
import { type PracticeSession, practiceSessionSchema } from "../core/practice/record.ts";
import { demoPassages } from "../core/test/demos.ts";
import { practiceOf } from "../core/test/practice-sessions.ts";
import { randomPassage } from "../core/test/random-passages.ts";
import type { App } from "./app.ts";
import { LOCAL_PERSON, type OpenDatabase } from "./database/database.ts";
import { migrated } from "./database/open.ts";
import { integrityOf } from "./integrity.ts";
import type { Library } from "./library.ts";
import { Practice } from "./practice.ts";
import { HOST, testApp } from "./test/test-app.ts";
import { testDatabase } from "./test/test-database.ts";
import { WorkPool } from "./work/pool.ts";

const EVENING = "2026-03-01T18:00:00.000Z";
const pool = new WorkPool();
let database: OpenDatabase;
let library: Library;
let practice: Practice;
let app: App;
const ask = (method: "get" | "put" | "patch" | "delete", path: string) => request(app.express)[method](`/api${path}`).set("Host", HOST);

beforeAll(async () => {
  database = await testDatabase();
  ({ app, library, practice } = await testApp(database, pool));
});
beforeEach(() => practice.removeAll());
afterAll(async () => {
  await pool.close();
  await database.close();
});

const made = async (title: string) => (await library.create({ ...randomPassage(3, 2), title })).id;
const put = (session: PracticeSession) => ask("put", `/practice/sessions/${session.id}`).send(session);

describe("the log over the API, on a real database", () => {
  it("keeps a session, adds what comes later, and says how its drills stand; every answer is what the API's schemas say", async () => {
    const passage = await made("Log A");
    const session = practiceOf(1, { passage }, EVENING, { a: [60, 62], whole: [50, -52] });
    await put({ ...session, tries: session.tries.slice(0, 1) }).expect(200);
    const kept = await put({ ...session, tries: session.tries.slice(1) }).expect(200);
    expect(practiceSessionSchema.strict().parse(kept.body).tries).toEqual(session.tries);
    const [listed] = wire.listedSessions.parse((await ask("get", "/practice").expect(200)).body);
    expect(listed).toMatchObject({
      title: "Log A",
      passage,
      outcomes: [
        { clean: 2, reached: 62 },
        { tries: 2, clean: 1 },
      ],
    });
    const [standing] = wire.standings.parse((await ask("get", "/practice/standings").expect(200)).body);
    expect(standing!.drills.map(({ id, lately }) => [id, lately.length])).toEqual([
      ["a", 2],
      ["whole", 2],
    ]);
    expect(standing!.drills.every(({ due }) => due > Date.parse(EVENING))).toBe(true);
    expect((await ask("get", "/practice?since=2026-03-02T00:00:00.000Z").expect(200)).body).toEqual([]);
  });

  it("a note is changed by itself, a session and the whole log are deleted", async () => {
    const [a, b] = [practiceOf(1, { figure: "palm" }, EVENING, { a: [60] }), practiceOf(2, { figure: "palm" }, EVENING, { a: [-60] })];
    for (const session of [a, b]) await put(session).expect(200);
    expect((await ask("patch", `/practice/sessions/${a.id}`).send({ note: "cold hands" }).expect(200)).body.note).toBe("cold hands");
    await ask("delete", `/practice/sessions/${b.id}`).expect(204);
    await ask("delete", `/practice/sessions/${b.id}`).expect(404);
    expect((await practice.standing({ passage: null, figure: "palm" }))[0]!.lately).toHaveLength(1);
    await ask("delete", "/practice").expect(204);
    expect((await ask("get", "/practice").expect(200)).body).toEqual([]);
    expect((await ask("get", "/practice/standings").expect(200)).body).toEqual([]);
  });

  it("goes into the bin with its passage, comes out with it, and is gone with it for good; what is practised of one that is gone stays under its title", async () => {
    const passage = await made("Log B");
    const session = practiceOf(1, { passage }, EVENING, { a: [60] });
    await put(session).expect(200);
    await library.setBinned(passage, true);
    expect(await practice.list(new Date(0))).toEqual([]);
    expect(await practice.standings()).toEqual([]);
    await library.setBinned(passage, false);
    expect(await practice.list(new Date(0))).toHaveLength(1);
    await library.setBinned(passage, true);
    await library.removeFromBin(passage);
    expect(await practice.all()).toEqual([]);
    await put(session).expect(200);
    expect(await practice.all()).toEqual([{ ...session, passage: null }]);
  });

  it("a long log is listed whole, the latest first, and comes out in the order in which it was", async () => {
    const days = Array.from({ length: 120 }, (_, n) => new Date(Date.parse(EVENING) + 86_400_000 * ((n * 37) % 120)).toISOString());
    for (const [n, startedAt] of days.entries()) await practice.save(practiceOf(n, { figure: `move ${n % 10}` }, startedAt, { a: [60] }));
    const inOrder = [...days].sort();
    expect((await practice.all()).map(({ startedAt }) => startedAt)).toEqual(inOrder);
    expect((await practice.list(new Date(0))).map(({ startedAt }) => startedAt)).toEqual([...inOrder].reverse());
    expect(await practice.list(new Date(inOrder[100]!))).toHaveLength(20);
  });

  it("what is no session is refused with its place, and nothing is kept of it", async () => {
    const session = practiceOf(1, { figure: "palm" }, EVENING, { a: [60] });
    const wrong = await put({ ...session, tries: [{ ...session.tries[0]!, tempo: -4 }] }).expect(422);
    expect(wrong.body.faults[0].place).toBe("/tries/0/tempo");
    await ask("put", "/practice/sessions/00000000-0000-4000-9000-00000000ffff").send(session).expect(422);
    await ask("put", "/practice/sessions/none").send(session).expect(404);
    await ask("get", "/practice?since=yesterday").expect(422);
    await ask("get", "/practice/export?format=xls").expect(422);
    expect(await practice.all()).toEqual([]);
  });

  it("is had as JSON and as a table", async () => {
    const session = practiceOf(1, { figure: "palm" }, EVENING, { a: [60, -62] });
    await put(session).expect(200);
    expect((await ask("get", "/practice/export").expect(200)).body).toEqual({ format: "rest-hand-practice", version: 2, sessions: [session] });
    const csv = await ask("get", "/practice/export?format=csv").expect(200);
    expect(csv.headers["content-disposition"]).toContain("rest-hand-practice.csv");
    expect(csv.text.trim().split("\r\n")).toHaveLength(3);
  });

  it("a passage's next step is the first drill of a session; what rests gives way to others", async () => {
    const [riff] = demoPassages();
    const { id: passage } = await library.create(riff!);
    const next = async (by: string) => wire.nextStep.parse((await ask("get", `/passages/${passage}/next?by=${by}`).expect(200)).body);
    const { drills } = drillsOf(wholePlan(riff!, { why: "nothing" }), riff!, [], 10);
    expect(await next(EVENING)).toEqual({ title: drills[0]!.title, tempo: drills[0]!.tempo.start, goal: drills[0]!.tempo.goal });
    // Practised well, it rests this evening, and is there again when it is due.
    await practice.save(practiceOf(1, { passage }, EVENING, { [drills[0]!.id]: [80, 80] }));
    expect((await next(EVENING))!.title).not.toBe(drills[0]!.title);
    await ask("get", `/passages/${passage}/next`).expect(422);
  });

  it("lost and unreadable sessions are noticed and named", async () => {
    const passage = await made("Log D");
    await put(practiceOf(1, { passage }, EVENING, { a: [60] })).expect(200);
    await put(practiceOf(2, { passage }, EVENING, { a: [60] })).expect(200);
    expect((await integrityOf(database.client, LOCAL_PERSON, pool)).others).toEqual([]);
    await database.client.query("update practice_sessions set record = '{}' where id = '00000000-0000-4000-9000-000000000001'");
    expect((await integrityOf(database.client, LOCAL_PERSON, pool)).others).toEqual([expect.stringContaining("000000000001 cannot be read")]);
    await database.client.query("delete from practice_sessions where id = '00000000-0000-4000-9000-000000000001'");
    expect((await integrityOf(database.client, LOCAL_PERSON, pool)).others).toEqual([
      expect.stringContaining('1 of 2 sessions of practice of "Log D" are missing'),
    ]);
  });

  it("sessions of a library from before takes have none", async () => {
    const migrations = "src/server/database/migrations";
    const older = mkdtempSync(join(tmpdir(), "rest-hand-older-"));
    cpSync(migrations, older, { recursive: true });
    const journal = JSON.parse(readFileSync(join(migrations, "meta/_journal.json"), "utf8"));
    writeFileSync(join(older, "meta/_journal.json"), JSON.stringify({ ...journal, entries: journal.entries.slice(0, 7) }));
    const client = new PGlite();
    await migrate(drizzle({ client }), { migrationsFolder: older });
    const { id, passage: _passage, figure, takes: _takes, ...record } = practiceOf(1, { figure: "palm" }, EVENING, { a: [60] });
    await client.query("insert into practice_sessions (id, figure, started_at, record) values ($1, $2, $3, $4)", [id, figure, EVENING, record]);
    const now = await migrated(client);
    expect(await new Practice(now.db, LOCAL_PERSON).all()).toEqual([practiceOf(1, { figure: "palm" }, EVENING, { a: [60] })]);
    await now.close();
    rmSync(older, { recursive: true });
  });
});
