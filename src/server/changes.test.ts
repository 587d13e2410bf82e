import { once } from "node:events";
import { createServer, get, type IncomingMessage } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, beforeAll, expect, inject, it } from "vitest";
import { change, type Told } from "../api/wire.ts";
import { practiceOf } from "../core/test/practice-sessions.ts";
import { randomPassage } from "../core/test/random-passages.ts";
import { LOCAL_PERSON, type OpenDatabase } from "./database/database.ts";
import { Library } from "./library.ts";
import { Practice } from "./practice.ts";
import { Setup } from "./setup.ts";
import { changesOf, HOST, testApp } from "./test/test-app.ts";
import { testDatabase } from "./test/test-database.ts";
import { WorkPool } from "./work/pool.ts";

const OTHER = "00000000-0000-4000-8000-000000000002";
const pool = new WorkPool();
let database: OpenDatabase;

beforeAll(async () => {
  database = await testDatabase();
  await database.client.query("insert into people (id, name) values ($1, 'other')", [OTHER]);
});
afterAll(async () => {
  await pool.close();
  await database.close();
});

/** What a page of somebody's hears; `until` waits for something. */
async function page(owner: string) {
  const heard: Told[] = [];
  let news = () => {};
  (await changesOf(database)).hear(owner, (told) => {
    heard.push(told);
    news();
  });
  const until = async (is: (told: Told) => boolean) => {
    while (!heard.some(is)) await new Promise<void>((resolve) => (news = resolve));
  };
  return { heard, until };
}

it("open pages of the same person hear what was saved, practised and set up, once it is committed, and those of others nothing", async () => {
  const [hers, his] = [await page(LOCAL_PERSON), await page(OTHER)];
  const library = new Library(database.db, LOCAL_PERSON);
  const { id } = await library.create(randomPassage(11, 2));
  await hers.until((told) => told.what === "passage" && told.id === id && told.version === 1);
  await library.save(id, 1, randomPassage(12, 2));
  await hers.until((told) => told.what === "passage" && told.id === id && told.version === 2);
  // That it was looked at is no news.
  const before = hers.heard.length;
  await library.noteOpened(id);
  await new Practice(database.db, LOCAL_PERSON).save(practiceOf(1, { passage: id }, "2026-03-01T18:00:00.000Z", { a: [60] }));
  await hers.until((told) => told.what === "practice");
  expect(hers.heard.slice(before).map(({ what }) => what)).toEqual(["practice"]);
  await new Setup(database.db, LOCAL_PERSON, pool).create("instruments", "Mine", { ...randomPassage(13, 2).instrument, frets: 21 });
  await hers.until((told) => told.what === "setup");
  await library.setBinned(id, true);
  await library.removeFromBin(id);
  // What comes last has come after everything else: his own, and nothing of hers.
  await new Practice(database.db, OTHER).save(practiceOf(2, { figure: "palm" }, "2026-03-01T18:00:00.000Z", { a: [60] }));
  await his.until(() => true);
  expect(his.heard).toEqual([{ what: "practice" }]);
});

it("over the API it is a stream that begins by saying that anything may have changed", async () => {
  const { app, library } = await testApp(database, pool);
  const server = createServer(app.express).listen(0, "127.0.0.1");
  await once(server, "listening");
  const asked = get({ port: (server.address() as AddressInfo).port, path: "/api/changes", headers: { Host: HOST } });
  const [answer] = (await once(asked, "response")) as [IncomingMessage];
  expect(answer.headers["content-type"]).toMatch(/^text\/event-stream/);
  const { id } = await library.create(randomPassage(14, 2));
  let text = "";
  const told = () => [...text.matchAll(/^data: (.*)$/gm)].map(([, data]) => change.parse(JSON.parse(data!)));
  for await (const piece of answer.setEncoding("utf8")) {
    text += piece;
    if (told().some((one) => one.what === "passage" && one.id === id)) break;
  }
  expect(text.startsWith("retry: 1000\n\n")).toBe(true);
  expect(told()[0]).toEqual({ what: "anything" });
  server.closeAllConnections();
  server.close();
});

it("more pages of one person than anybody has open hear nothing, and are told so", async () => {
  const changes = await changesOf(database);
  const stops = Array.from({ length: 60 }, () => changes.hear(OTHER, () => {}));
  expect(stops.filter((stop) => stop === null).length).toBeGreaterThan(5);
  for (const stop of stops) stop?.();
  expect(changes.hear(OTHER, () => {})).not.toBeNull();
});

it.runIf(inject("cluster"))("where the connection that listens is lost the next one says that something may have been missed", async () => {
  const hers = await page(LOCAL_PERSON);
  await database.client.query(
    "select pg_terminate_backend(pid) from pg_stat_activity where application_name = 'rest-hand ears' and datname = current_database()",
  );
  await hers.until((told) => told.what === "anything");
  const { id } = await new Library(database.db, LOCAL_PERSON).create(randomPassage(15, 2));
  await hers.until((told) => told.what === "passage" && told.id === id);
});
