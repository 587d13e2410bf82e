import { cpSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { PGlite } from "@electric-sql/pglite";
import { drizzle } from "drizzle-orm/pglite";
import { migrate } from "drizzle-orm/pglite/migrator";
import { afterAll, afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Doubles, KeptBackup } from "../../api/wire.ts";
import { type LibraryBackup, packBackup, unpackBackup } from "../../core/formats/backup/backup.ts";
import type { Parsed } from "../../core/passage/parse.ts";
import { practiceOf } from "../../core/test/practice-sessions.ts";
import { randomPassage } from "../../core/test/random-passages.ts";
import { LOCAL_PERSON, type OpenDatabase, type Sql } from "../database/database.ts";
import { openDatabase } from "../database/open.ts";
import { integrityOf } from "../integrity.ts";
import { Library } from "../library.ts";
import { Practice } from "../practice.ts";
import { Recordings } from "../recordings.ts";
import { Setup } from "../setup.ts";
import { testDatabase } from "../test/test-database.ts";
import { WorkPool } from "../work/pool.ts";
import { Backups } from "./backups.ts";
import { BackupFolder, outlived } from "./folder.ts";
import { restore as bringBack, removeStaged } from "./restore.ts";
import { libraryOf } from "./rows.ts";
import { snapshotOf } from "./snapshot.ts";

const folder = mkdtempSync(join(tmpdir(), "rest-hand-backups-"));
let machines = 0;
const pool = new WorkPool();
const open = new Set<OpenDatabase>();

/** A library of its own with its backups, as on another machine. */
async function machine() {
  const database = await testDatabase();
  open.add(database);
  const kept = new BackupFolder(join(folder, String(++machines)));
  const recordings = new Recordings(join(folder, `${machines}-recordings`));
  return {
    database,
    library: new Library(database.db, LOCAL_PERSON),
    setup: new Setup(database.db, LOCAL_PERSON, pool),
    practice: new Practice(database.db, LOCAL_PERSON),
    kept,
    recordings,
    backups: new Backups(database, LOCAL_PERSON, kept, pool, recordings),
  };
}

afterEach(async () => {
  for (const database of open) await database.close();
  open.clear();
});
afterAll(async () => {
  await pool.close();
  rmSync(folder, { recursive: true });
});

const passage = (seed: number, title = `Passage ${seed}`) => ({ ...randomPassage(seed, 3), title });
const contentOf = ({ savedAt: _savedAt, ...rest }: LibraryBackup) => rest;
/** The library as a backup of it holds it. */
const taken = async ({ backups }: { backups: Backups }): Promise<LibraryBackup> => opened(unpackBackup(await backups.take()));
function opened<T>(read: Parsed<T>): T {
  if (!read.ok) throw new Error(read.faults[0]!.says);
  return read.value;
}
const preview = async ({ backups }: { backups: Backups }, backup: LibraryBackup) => opened(await backups.preview(packBackup(backup)));
const restore = async ({ backups }: { backups: Backups }, backup: LibraryBackup, doubles: Doubles) =>
  opened(await backups.restore(packBackup(backup), doubles));

describe("a backup of the library", () => {
  let here: Awaited<ReturnType<typeof machine>>;
  beforeEach(async () => {
    here = await machine();
  });

  it("restored on an empty machine gives the same library: passages, bin, versions, moments, setup, original files", async () => {
    await here.library.createAll([1, 2, 3, 4].map((seed) => passage(seed)));
    const from = await here.library.create(passage(5), { name: "take.mid", bytes: new Uint8Array([77, 84, 0, 255]) });
    const [first, second] = await here.library.list("shelf");
    await here.library.setBinned(first!.id, true);
    await here.library.noteOpened(second!.id);
    await here.library.save(second!.id, 1, passage(6));
    const made = await here.setup.create("players", "Me", { index: "arched" });
    if (made.outcome === "done") await here.setup.setDefault("players", made.item.id);
    const before = await taken(here);
    expect(before.passages).toHaveLength(5);

    const there = await machine();
    const backup = before;
    expect((await preview(there, backup)).passages.map(({ state }) => state)).toEqual(new Array(5).fill("new"));
    expect(await restore(there, backup, "keep")).toEqual({ added: 5, replaced: 0, leftAsTheyAre: 0 });
    expect(contentOf(await taken(there))).toEqual(contentOf(before));
    expect((await there.library.original(from.id))?.bytes).toEqual(new Uint8Array([77, 84, 0, 255]));
    expect(there.kept.list()).toEqual([]);
  });

  it("what was practised comes back: with its passage, brought together with what is here, under another id where the passage has one", async () => {
    const [a, b] = await here.library.createAll([passage(50, "A"), passage(51, "B")]);
    const first = practiceOf(1, { passage: a! }, "2026-03-01T18:00:00.000Z", { whole: [60, 62] });
    await here.practice.save(first);
    await here.practice.save(practiceOf(2, { figure: "palm" }, "2026-03-02T18:00:00.000Z", { whole: [60] }));
    await here.practice.save(practiceOf(3, { passage: b! }, "2026-03-03T18:00:00.000Z", { whole: [-60] }));
    const backup = await taken(here);
    expect(backup.practice.map(({ passage: of }) => of)).toEqual([a, null, b]);

    const there = await machine();
    // B is there already, under an id of its own.
    const own = await there.library.create(passage(51, "B"));
    expect((await preview(there, backup)).newSessions).toBe(3);
    await restore(there, backup, "keep");
    expect((await there.practice.all()).map(({ id, passage: of }) => [id, of])).toEqual([
      [first.id, a],
      [backup.practice[1]!.id, null],
      [backup.practice[2]!.id, own.id],
    ]);
    expect((await there.practice.standings()).map(({ title, figure }) => title || figure).sort()).toEqual(["A", "B", "palm"]);
    expect((await integrityOf(there.database.client, LOCAL_PERSON, pool)).others).toEqual([]);

    // Here it went on meanwhile, and was noted on; A was written anew, and is replaced.
    const later = { ...first, note: "slower", tries: [...first.tries, { ...first.tries[1]!, at: "2026-03-01T18:05:00.000Z", tempo: 64 }] };
    await here.practice.save(later);
    await here.library.save(a!, 1, passage(52, "A"));
    expect((await preview(here, backup)).newSessions).toBe(0);
    await restore(here, backup, "replace");
    expect((await here.practice.all()).find(({ id }) => id === first.id)).toEqual({ ...later, title: "A" });
    expect((await here.practice.standings()).find(({ title }) => title === "A")!.drills[0]!.lately).toHaveLength(3);
    expect((await integrityOf(here.database.client, LOCAL_PERSON, pool)).others).toEqual([]);
  });

  it("a session that goes on while a restore writes it loses nothing", async () => {
    const [a] = await here.library.createAll([passage(53, "A"), passage(54, "B")]);
    const now = practiceOf(1, { passage: a! }, "2026-03-01T18:00:00.000Z", { whole: [60, 62, 64] });
    await here.practice.save({ ...now, tries: now.tries.slice(1, 2) });
    const taken1 = await taken(here);
    const backup = { ...taken1, practice: taken1.practice.map((one) => ({ ...one, tries: now.tries.slice(0, 1) })) };
    await here.library.setBinned((await here.library.list("shelf")).find(({ title }) => title === "B")!.id, true);
    // Between the last row that is written and the moment at which all are there: the restore has to begin anew.
    const read = opened(await pool.run("readBackup", packBackup(backup)));
    const transaction = here.database.db.transaction.bind(here.database.db);
    let times = 0;
    vi.spyOn(here.database.db, "transaction").mockImplementation(async (work, config) => {
      if (++times === 2) await here.practice.save({ ...now, tries: now.tries.slice(2) });
      return transaction(work, config);
    });
    await bringBack(here.database.db, LOCAL_PERSON, read, "replace", {});
    expect(times).toBeGreaterThan(4);
    expect((await here.practice.all())[0]!.tries).toEqual(now.tries);
  });

  it("over a library it says what would change, and does with doubles as asked", async () => {
    const titles = async () => (await here.library.list("shelf")).map(({ title }) => title).sort();
    const [same, changed, binned, gone] = await here.library.createAll(["Same", "Changed", "Binned", "Gone"].map((title, i) => passage(i + 10, title)));
    const backup = await taken(here);
    const lost = async () => {
      const now = (await here.library.find(changed!))!;
      await here.library.save(changed!, now.version, { ...now.passage, notes: `rewritten at version ${now.version}` });
      await here.library.setBinned(binned!, true);
      await here.library.setBinned(gone!, true);
      await here.library.removeFromBin(gone!);
    };
    await lost();
    const states = Object.fromEntries((await preview(here, backup)).passages.map(({ id, state }) => [id, state]));
    expect(states).toEqual({ [same!]: "same", [changed!]: "double", [binned!]: "binned", [gone!]: "new" });

    const rewritten = (await here.library.find(changed!))!;
    expect(await restore(here, backup, "keep")).toEqual({ added: 1, replaced: 1, leftAsTheyAre: 2 });
    expect(await titles()).toEqual(["Binned", "Changed", "Gone", "Same"]);
    expect((await here.library.find(changed!))!.passage).toEqual(rewritten.passage);

    await lost();
    expect(await restore(here, backup, "both")).toEqual({ added: 2, replaced: 1, leftAsTheyAre: 1 });
    expect(await titles()).toEqual(["Binned", "Changed", "Changed (from backup)", "Gone", "Same"]);

    await lost();
    const open = (await here.library.find(changed!))!;
    await restore(here, backup, "replace");
    const replaced = (await here.library.find(changed!))!;
    expect(replaced.passage).toEqual(backup.passages.find(({ id }) => id === changed)!.passage);
    // Whoever has the one before open learns of it.
    expect(replaced.version).toBeGreaterThan(open.version);
  });

  it("before anything is changed the library as it was is kept", async () => {
    await here.library.create(passage(20, "Old"));
    const before = await taken(here);
    const other = before.passages
      .slice(0, 1)
      .map((one) => ({ ...one, id: "00000000-0000-4000-8000-0000000000ff", passage: { ...one.passage, title: "Another" } }));
    await restore(here, { ...before, passages: other }, "keep");
    const [kept] = here.kept.list();
    expect(kept!.reason).toBe("restore");
    const read = unpackBackup(here.kept.read(kept!.name)!);
    expect(read.ok && contentOf(read.value)).toEqual(contentOf(before));
  });

  it("a restore that is stopped changes nothing", async () => {
    await here.library.createAll([passage(33, "A"), passage(34, "B"), passage(35, "C")]);
    const whole = await taken(here);
    const there = await machine();
    const asked = new AbortController();
    const stopped = there.backups.restore(packBackup(whole), "keep", { signal: asked.signal, onProgress: (done) => done === 1 && asked.abort() });
    await expect(stopped).rejects.toThrow();
    expect(contentOf(await taken(there))).toEqual({ instruments: [], players: [], passages: [], practice: [], recordings: [] });
    expect(await restore(there, whole, "keep")).toEqual({ added: 3, replaced: 0, leftAsTheyAre: 0 });
  });

  it("nothing of a restore is there before all of it is", async () => {
    await here.library.createAll([passage(36, "A"), passage(37, "B")]);
    const whole = await taken(here);
    const there = await machine();
    await there.library.create(passage(38, "C"));
    const seen = async () => ({
      shelf: (await there.library.list("shelf")).map(({ title }) => title),
      setup: await there.setup.list("instruments"),
      count: await there.library.count(),
      backup: contentOf(await taken(there)).passages.length,
      integrity: await integrityOf(there.database.client, LOCAL_PERSON, pool),
    });
    const before = await seen();
    // Between the last row that is written and the moment at which all are there; the server asks for nothing else meanwhile.
    const read = opened(await pool.run("readBackup", packBackup(whole)));
    const looking = new Promise<void>((done, failed) => {
      const transaction = there.database.db.transaction.bind(there.database.db);
      let times = 0;
      vi.spyOn(there.database.db, "transaction").mockImplementation(async (work, config) => {
        if (++times === 2)
          await seen()
            .then((now) => expect(now).toEqual(before))
            .then(done, failed);
        return transaction(work, config);
      });
    });
    await Promise.all([bringBack(there.database.db, LOCAL_PERSON, read, "keep", {}), looking]);
    expect((await there.library.list("shelf")).map(({ title }) => title).sort()).toEqual(["A", "B", "C"]);
    expect((await integrityOf(there.database.client, LOCAL_PERSON, pool)).others).toEqual([]);
  });

  it("what is saved while a restore writes is looked at anew", async () => {
    const [id] = await here.library.createAll([passage(39, "A"), passage(40, "B")]);
    const whole = await taken(here);
    const gone = whole.passages.find((one) => one.id !== id)!.id;
    await here.library.setBinned(gone, true);
    await here.library.removeFromBin(gone);
    // A is the same when the restore begins, and another when it ends.
    const saving: Promise<unknown>[] = [];
    const onProgress = () => saving.length === 0 && saving.push(here.library.save(id!, 1, passage(41, "A")));
    const done = opened(await here.backups.restore(packBackup(whole), "replace", { onProgress }));
    await Promise.all(saving);
    expect(done).toEqual({ added: 1, replaced: 1, leftAsTheyAre: 0 });
    expect(contentOf(await taken(here)).passages.map((one) => one.passage)).toEqual(contentOf(whole).passages.map((one) => one.passage));
  });

  it("what a restore that was killed has written is swept away", async () => {
    await here.library.createAll([passage(42, "A")]);
    const left = await here.library.create(passage(43, "Left"), { name: "left.mid", bytes: new Uint8Array([1]) });
    const other = await here.library.create(passage(44, "Of another server"));
    const stage = (id: string, staged: object) => here.database.client.query("update passages set staged = $2 where id = $1", [id, staged]);
    const now = new Date();
    await stage(left.id, { batch: "left" });
    await stage(other.id, { batch: "other", since: now.toISOString() });
    for (const { id } of [left, other]) await here.database.client.query("delete from ledger where id = $1", [id]);
    // One that another server has under way stays, until it is too old to be that.
    await removeStaged(here.database.db, new Date(now.getTime() - 1));
    const { rows } = await here.database.client.query<{ id: string }>("select id from passages where staged is not null");
    expect(rows).toEqual([{ id: other.id }]);
    await removeStaged(here.database.db, new Date(now.getTime() + 1));
    const { passages, instruments } = await taken(here);
    expect(passages.map((one) => one.passage.title)).toEqual(["A"]);
    expect(instruments).toHaveLength(1);
    expect(await here.library.original(left.id)).toBeNull();
  });

  it("is restored all or not at all", async () => {
    await here.library.createAll([passage(30), passage(31)]);
    const whole = await taken(here);
    const there = await machine();
    // The last one has the first one's id: it cannot be added.
    const broken = { ...whole, passages: [...whole.passages, { ...whole.passages[0]!, passage: passage(32) }] };
    await expect(restore(there, broken, "both")).rejects.toThrow();
    expect(contentOf(await taken(there))).toEqual({ instruments: [], players: [], passages: [], practice: [], recordings: [] });
  });
});

describe("backups that are written without being asked for", () => {
  const setup = { name: "One", named: false, isDefault: false, createdAt: "2026-01-01T00:00:00.000Z" };
  const at = (iso: string, titles: string[]): LibraryBackup => ({
    savedAt: iso,
    practice: [],
    recordings: [],
    instruments: [{ ...setup, id: "00000000-0000-4000-8000-000000000100", value: passage(1).instrument }],
    players: [{ ...setup, id: "00000000-0000-4000-8000-000000000200", value: passage(1).player }],
    passages: titles.map((title, i) => ({
      id: `00000000-0000-4000-8000-00000000000${i}`,
      version: 1,
      createdAt: iso,
      updatedAt: "2026-01-01T00:00:00.000Z",
      openedAt: null,
      deletedAt: null,
      instrument: "00000000-0000-4000-8000-000000000100",
      player: "00000000-0000-4000-8000-000000000200",
      passage: passage(1, title),
      original: null,
    })),
  });
  const day = (n: number, hour = 12) => new Date(Date.UTC(2026, 0, n, hour)).toISOString();

  const HOUR = 3_600_000;
  const start = Date.UTC(2026, 0, 1);
  const named = (ms: number, reason: KeptBackup["reason"]): KeptBackup => ({ name: `${ms}-${reason}`, savedAt: new Date(ms).toISOString(), reason, bytes: 1 });
  /** What is kept after backups were written one after the other. */
  const keptAfter = (written: readonly KeptBackup[]) => {
    let kept: KeptBackup[] = [];
    for (const one of written) {
      kept = [one, ...kept].sort((a, b) => b.savedAt.localeCompare(a.savedAt));
      const gone = new Set(outlived(kept, Date.parse(one.savedAt)));
      kept = kept.filter((other) => !gone.has(other));
    }
    return kept;
  };
  const agesInHours = (kept: readonly KeptBackup[], nowMs: number) => kept.map(({ savedAt }) => Math.round((nowMs - Date.parse(savedAt)) / HOUR));

  it("stay by age: every hour of a day, every day of two weeks, every week of two months", () => {
    const hours = 70 * 24;
    const kept = keptAfter(Array.from({ length: hours }, (_, h) => named(start + h * HOUR, "daily")));
    const ages = agesInHours(kept, start + (hours - 1) * HOUR);
    for (let age = 0; age < 24; age++) expect(ages, `${age} hours old`).toContain(age);
    for (let days = 1; days < 14; days++)
      expect(
        ages.some((age) => age >= 24 * (days - 1) && age <= 24 * (days + 1)),
        `${days} days old`,
      ).toBe(true);
    for (let weeks = 2; weeks <= 8; weeks++)
      expect(
        ages.some((age) => age >= 168 * (weeks - 1) && age <= 168 * (weeks + 1)),
        `${weeks} weeks old`,
      ).toBe(true);
    expect(kept.length).toBeLessThan(60);
  });
  it("are not pushed out by many restores, nor by many of a library that lost its rows", () => {
    const days = Array.from({ length: 14 }, (_, d) => named(start + d * 24 * HOUR, "daily"));
    const now = start + 13 * 24 * HOUR;
    const restores = Array.from({ length: 100 }, (_, k) => named(now + 1000 * k, "restore"));
    const kept = new Set(keptAfter([...days, ...restores]).map(({ name }) => name));
    for (const day of days.slice(1)) expect(kept, day.savedAt).toContain(day.name);
    expect(kept.size).toBeLessThan(30);
    expect(kept).toContain(restores.at(-1)!.name);
  });
  it("none goes while something of the library is lost", () => {
    const kept = new BackupFolder(join(folder, "lost"));
    const many = Array.from({ length: 12 }, (_, i) => new Date(Date.UTC(2026, 0, 1, 12, i)).toISOString());
    for (const iso of many) kept.write(at(iso, ["One"]), { reason: "daily", keepAll: true });
    expect(kept.list()).toHaveLength(many.length);
    kept.write(at(day(1, 13), ["One"]), { reason: "daily" });
    expect(kept.list().length).toBeLessThan(many.length);
  });
  it("are read by their name alone", () => {
    const kept = new BackupFolder(join(folder, "names"));
    kept.write(at(day(1), ["One"]), { reason: "daily" });
    expect(kept.read(kept.list()[0]!.name)).not.toBeNull();
    expect(kept.read("../names/anything.zip")).toBeNull();
    expect(kept.newest()).toBe(join(folder, "names", kept.list()[0]!.name));
  });
  it("come when an hour has passed and something has changed; a library without passages has none", () => {
    const kept = new BackupFolder(join(folder, "due"));
    const write = (iso: string, titles: string[]) => kept.writeDue({ ...at(iso, titles), passages: at(day(1), titles).passages });
    expect(write(day(1), [])).toBe(false);
    expect(write(day(1), ["One"])).toBe(true);
    expect(write(new Date(Date.parse(day(1)) + HOUR / 2).toISOString(), ["Two"])).toBe(false);
    expect(write(day(2, 13), ["One"])).toBe(false);
    expect(write(day(2, 14), ["Two"])).toBe(true);
    expect(kept.list()).toHaveLength(2);
  });
  it("come although one is dated in the future, of a clock that was wrong", () => {
    const kept = new BackupFolder(join(folder, "future"));
    kept.write(at(new Date(Date.UTC(2099, 0, 1)).toISOString(), ["One"]), { reason: "daily" });
    expect(kept.writeDue({ ...at(day(2), ["Two"]) })).toBe(true);
    expect(kept.list()).toHaveLength(2);
  });
  it("lie in a second folder too where one is named", () => {
    const kept = new BackupFolder(join(folder, "first"), join(folder, "second"));
    kept.write(at(day(1), ["One"]), { reason: "daily" });
    expect(readdirSync(join(folder, "second"))).toEqual(readdirSync(join(folder, "first")));
  });
  it("a restore that changes nothing is no reason for one; of several defaults one stays", async () => {
    const own = await testDatabase();
    try {
      const kept = new BackupFolder(join(folder, "unchanged"));
      const backups = new Backups(own, LOCAL_PERSON, kept, pool, new Recordings(join(folder, "unchanged-recordings")));
      await new Library(own.db, LOCAL_PERSON).create(passage(1, "One"));
      const backup = await taken({ backups });
      await restore({ backups }, backup, "keep");
      expect(kept.list()).toEqual([]);
      const twice = (item: LibraryBackup["instruments"][number], n: number) => ({
        ...item,
        id: `00000000-0000-4000-8000-00000000030${n}`,
        name: `Default ${n}`,
        named: true,
        isDefault: true,
        value: { ...item.value, frets: 20 + n },
      });
      await restore(
        { backups },
        { ...backup, instruments: [...backup.instruments, twice(backup.instruments[0]!, 1), twice(backup.instruments[0]!, 2)] },
        "keep",
      );
      const { rows } = await own.client.query<{ n: number }>("select count(*)::int as n from instruments where is_default");
      expect(rows[0]!.n).toBe(1);
      expect(kept.list()).toHaveLength(1);
    } finally {
      await own.close();
    }
  });
  it("comes before a migration, from the library as the older version left it", async () => {
    const directory = join(folder, "older");
    const older = join(folder, "older-migrations");
    const migrations = "src/server/database/migrations";
    cpSync(migrations, older, { recursive: true });
    const journal = JSON.parse(readFileSync(join(migrations, "meta/_journal.json"), "utf8"));
    writeFileSync(join(older, "meta/_journal.json"), JSON.stringify({ ...journal, entries: journal.entries.slice(0, 1) }));
    mkdirSync(directory);
    const client = new PGlite(join(directory, "library"));
    await migrate(drizzle({ client }), { migrationsFolder: older });
    const { instrument, player, ...document } = passage(40, "From before");
    await client.query("insert into instruments (id, name, value, canonical) values ('00000000-0000-4000-8000-000000000001', 'i', $1, 'i')", [instrument]);
    await client.query("insert into players (id, name, value, canonical) values ('00000000-0000-4000-8000-000000000002', 'p', $1, 'p')", [player]);
    await client.query(
      "insert into passages (title, document, instrument_id, player_id) values ('From before', $1, '00000000-0000-4000-8000-000000000001', '00000000-0000-4000-8000-000000000002')",
      [document],
    );
    await client.close();

    const kept = new BackupFolder(join(directory, "backups"));
    const write = async (of: Sql) => void kept.write(libraryOf(await snapshotOf(of, null)).library, { reason: "migration" });
    const database = await openDatabase(directory, write);
    expect((await new Library(database.db, LOCAL_PERSON).list("shelf")).map(({ title }) => title)).toEqual(["From before"]);
    await database.close();
    expect(kept.list().map(({ reason }) => reason)).toEqual(["migration"]);
    const read = unpackBackup(kept.read(kept.list()[0]!.name)!);
    expect(read.ok && read.value.passages.map(({ passage }) => passage)).toEqual([{ ...document, instrument, player }]);

    // Nothing waits any more: no second one.
    await (await openDatabase(directory, write)).close();
    expect(kept.list()).toHaveLength(1);
  }, 120_000);
});
