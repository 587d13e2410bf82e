import { mkdirSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { pino } from "pino";
import { afterAll, beforeAll, expect, it } from "vitest";
import { runOnLibrary } from "../cli/library-commands.ts";
import { practiceOf } from "../core/test/practice-sessions.ts";
import { randomPassage } from "../core/test/random-passages.ts";
import { LOCAL_PERSON, type OpenDatabase } from "./database/database.ts";
import { openDatabase } from "./database/open.ts";
import { openPostgres } from "./database/postgres.ts";
import { Library } from "./library.ts";
import { People } from "./people/people.ts";
import { Practice } from "./practice.ts";
import { Gifts } from "./teaching/gifts.ts";
import { type Cluster, newDatabase, startCluster } from "./test/postgres-cluster.ts";

const folder = mkdtempSync(join(tmpdir(), "rest-hand-move-"));
let cluster: Cluster;

beforeAll(async () => {
  cluster = await startCluster();
});
afterAll(async () => {
  await cluster.remove();
  rmSync(folder, { recursive: true, force: true });
});

const TABLES = ["people", "instruments", "players", "passages", "originals", "practice_sessions", "practised", "gifts", "teachings", "ledger"];
/** What is of one server's day alone. */
const STAY = ["attempts", "invitations", "links", "pulse", "shelf_plans", "sign_ins"];

/** Every row of a library as text. */
async function rowsOf({ client }: OpenDatabase): Promise<Record<string, string[]>> {
  const all: Record<string, string[]> = {};
  for (const table of TABLES)
    all[table] = (await client.query<{ row: string }>(`select (t.*)::text as row from ${table} t order by 1`)).rows.map(({ row }) => row);
  return all;
}

async function move(from: string, to: string) {
  let said = "";
  const note = (text: string) => {
    said += text;
  };
  return { status: await runOnLibrary("library", ["move", from, to], { out: note, err: note }), said };
}

it("a library goes from a data directory into PostgreSQL and back: every row is the same; over another library nothing goes", async () => {
  const [here, back] = [join(folder, "here"), join(folder, "back")];
  for (const directory of [here, back]) mkdirSync(directory);
  const from = await openDatabase(here, async () => {});
  const library = new Library(from.db, LOCAL_PERSON);
  const ids = await library.createAll(
    Array.from({ length: 60 }, (_, i) => ({ ...randomPassage(i + 1, 2), title: `Passage ${i}: ünïcode, "quotes" \\ and a tab\t` })),
  );
  await library.create(randomPassage(100, 2), { name: "kept.mid", bytes: new Uint8Array([0, 1, 39, 92, 255]) });
  await library.setBinned(ids[3]!, true);
  const practice = new Practice(from.db, LOCAL_PERSON);
  for (let i = 1; i <= 30; i++) await practice.save(practiceOf(i, i % 3 ? { passage: ids[i]! } : { figure: "palm" }, "2026-03-01T18:00:00.000Z", { a: [60] }));
  const nell = (await new People(from.db).add("Nell", "lantern oyster gravel tuba", true))!;
  expect(nell.id).toBe(LOCAL_PERSON);
  const tom = (await new People(from.db).add("Tom", "lantern oyster gravel tuba", true))!;
  const [{ id: teaching }] = (
    await from.client.query<{ id: string }>("insert into teachings (teacher, student) values ($1, $2) returning id", [tom.id, nell.id])
  ).rows as [{ id: string }];
  const giving = { origin: ids[0]!, passage: randomPassage(200, 2), note: "Slowly.", drills: [{ id: "whole", title: "The whole" }] };
  for (const passage of [giving.passage, randomPassage(201, 2)])
    expect(await new Gifts(from.db, tom.id).give([teaching], { ...giving, passage })).not.toBeNull();
  const { rows: tables } = await from.client.query<{ name: string }>("select tablename as name from pg_tables where schemaname = 'public' order by 1");
  expect(tables.map(({ name }) => name)).toEqual([...TABLES, ...STAY].sort());
  // Lost from its table: the ledger alone knows of it, there too.
  await from.client.query("alter table passages disable trigger passages_ledger");
  await from.client.query("delete from passages where id = $1", [ids[5]]);
  await from.client.query("alter table passages enable trigger passages_ledger");
  await from.client.query("set timezone to 'UTC'");
  const before = await rowsOf(from);
  expect(before.passages).toHaveLength(61);
  expect(before.ledger).toHaveLength(62);
  await from.close();

  const url = await newDatabase(cluster.url);
  const gone = await move(here, url);
  expect(gone.said).toMatch(/^61 passages$/m);
  expect(gone.status).toBe(0);
  const there = await openPostgres(url, pino({ level: "silent" }), 1);
  await there.client.query("set timezone to 'UTC'");
  expect(await rowsOf(there)).toEqual(before);
  expect(await new People(there.db).known("nell", "lantern oyster gravel tuba")).toEqual(nell);
  await there.close();

  expect(await move(url, back)).toMatchObject({ status: 0 });
  const home = await openDatabase(back, async () => {});
  await home.client.query("set timezone to 'UTC'");
  expect(await rowsOf(home)).toEqual(before);
  await home.close();
  const again = await move(here, url);
  expect(again).toMatchObject({ status: 2, said: expect.stringContaining("There is a library there already") });
});
