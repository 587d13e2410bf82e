import { cpSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { runOnLibrary } from "../cli/library-commands.ts";
import { packBackup, unpackBackup } from "../core/formats/backup/backup.ts";
import { demoPassages } from "../core/test/demos.ts";
import { libraryOf } from "./backups/rows.ts";
import { snapshotOf } from "./backups/snapshot.ts";
import { Care } from "./care.ts";
import { Changes } from "./changes.ts";
import { LOCAL_PERSON } from "./database/database.ts";
import { lockDirectory } from "./database/lock.ts";
import { LibraryNotUnderstood, openDatabase } from "./database/open.ts";
import { Library } from "./library.ts";
import { checkDirectory } from "./maintenance.ts";
import { servicesOf } from "./services.ts";
import { WorkPool } from "./work/pool.ts";

const root = mkdtempSync(join(tmpdir(), "rest-hand-care-"));
const sound = join(root, "sound");
const backup = join(root, "kept.zip");
const titles = demoPassages().map(({ title }) => title);
let copies = 0;
/** A copy of a sound data directory, to be damaged. */
const copy = () => {
  const directory = join(root, `copy-${++copies}`);
  cpSync(sound, directory, { recursive: true, filter: (from) => !from.endsWith("/lock") });
  return directory;
};
const cli = async (name: string, ...args: string[]) => {
  let out = "";
  let err = "";
  const status = await runOnLibrary(name, args, {
    out: (text) => {
      out += text;
    },
    err: (text) => {
      err += text;
    },
  });
  return { status, out, err };
};

beforeAll(async () => {
  mkdirSync(sound);
  const database = await openDatabase(sound, async () => {});
  await new Library(database.db, LOCAL_PERSON).createAll(demoPassages());
  writeFileSync(backup, packBackup(libraryOf(await snapshotOf(database.client, LOCAL_PERSON)).library));
  await database.close();
});
afterAll(() => rmSync(root, { recursive: true, force: true }));

describe("nothing is written over what is not understood", () => {
  const opened = (directory: string, options: Parameters<typeof openDatabase>[2] = {}) => openDatabase(directory, async () => {}, options);
  it("a folder that is no database is left as it is, and named", async () => {
    const directory = copy();
    const place = join(directory, "library");
    rmSync(join(place, "PG_VERSION"));
    const before = readdirSync(place);
    await expect(opened(directory)).rejects.toThrow(place);
    await expect(opened(directory)).rejects.toBeInstanceOf(LibraryNotUnderstood);
    await expect(opened(directory, { mayCreate: true })).rejects.toThrow("PG_VERSION");
    expect(readdirSync(place)).toEqual(before);
  });
  it("where only backups are left it is asked before a library is begun, and the newest is named", async () => {
    const directory = join(root, "only-backups");
    mkdirSync(directory);
    const lost = opened(directory, { newestBackup: "backups/newest.zip" });
    await expect(lost).rejects.toThrow("backups/newest.zip");
    await expect(lost).rejects.toThrow("NEW_LIBRARY=yes");
    expect(existsSync(join(directory, "library"))).toBe(false);
  });
});

describe("a data directory is checked", () => {
  it("and found well: every passage is read", async () => {
    expect(await cli("check", copy())).toMatchObject({ status: 0, out: `All is well: ${titles.length} passages and 0 backups can be read.\n` });
  });
  it("one passage that cannot be read is named, the others are counted", async () => {
    const directory = copy();
    const database = await openDatabase(directory, async () => {});
    await database.client.query(`update passages set document = (document::jsonb - 'bars')::text where title = $1`, [titles[1]]);
    await database.close();
    const { faults, passages } = await checkDirectory(directory);
    expect(passages).toBe(titles.length - 1);
    expect(faults).toEqual([expect.stringContaining(`"${titles[1]}"`)]);
  });
  it("passages that were lost from their table are named, out of the ledger", async () => {
    const directory = copy();
    const database = await openDatabase(directory, async () => {});
    await database.client.query("alter table passages disable trigger passages_ledger");
    await database.client.query("delete from passages where title <> (select min(title) from passages)");
    await database.close();
    const { faults, passages } = await checkDirectory(directory);
    expect(passages).toBe(1);
    expect(faults).toHaveLength(titles.length - 1);
    for (const fault of faults) expect(fault).toMatch(/^The passage "(.+)" cannot be read: it is missing from its table\.$/);
  });
  it("a text that is not the one that was written is named, though it can be read", async () => {
    const directory = copy();
    const database = await openDatabase(directory, async () => {});
    await database.client.query("alter table passages disable trigger passages_ledger");
    await database.client.query("update passages set document = replace(document, '\"tempo\":', '\"tempo\":1') where title = $1", [titles[0]]);
    await database.close();
    const { faults } = await checkDirectory(directory);
    expect(faults).toEqual([expect.stringContaining(titles[0]!)]);
  });
  it("a damaged page costs the passages on it, and no other", async () => {
    const directory = copy();
    const database = await openDatabase(directory, async () => {});
    // Passages on several pages.
    for (let i = 0; i < 40; i++)
      await new Library(database.db, LOCAL_PERSON).create({
        ...demoPassages()[0]!,
        title: `Page ${i}`,
        tags: new Array(30).fill("a tag that takes some room"),
      });
    const { rows } = await database.client.query<{ path: string; pages: number }>(
      "select pg_relation_filepath('passages') as path, (pg_relation_size('passages') / 8192)::int as pages",
    );
    await database.client.query("checkpoint");
    await database.close();
    expect(rows[0]!.pages).toBeGreaterThan(2);
    const file = join(directory, "library", rows[0]!.path);
    const bytes = readFileSync(file);
    bytes.fill(0xff, 8192 + 200, 8192 + 4000);
    writeFileSync(file, bytes);
    const { faults, passages } = await checkDirectory(directory);
    expect(passages).toBeGreaterThan(5);
    const lost = faults.filter((fault) => fault.includes("its page of the database is damaged"));
    expect(lost.length).toBeGreaterThan(1);
    expect(lost.length + passages).toBe(titles.length + 40);

    // The Shelf shows the others, a backup holds them, and no old backup goes for it.
    const again = await openDatabase(directory, async () => {});
    const pool = new WorkPool();
    const care = new Care(again.client, pool);
    const { library, backups } = servicesOf({ database: again, care, changes: new Changes(), pool, places: { directory, secondBackups: null } }, LOCAL_PERSON);
    expect(await library.list("shelf")).toHaveLength(passages);
    await care.look();
    const listed = await library.list("shelf");
    expect(listed.filter(({ fault }) => fault === undefined)).toHaveLength(passages);
    const { leftOut, name } = await backups.write("asked");
    expect(leftOut).toHaveLength(lost.length);
    const kept = unpackBackup(backups.read(name)!);
    expect(kept.ok && kept.value.passages.length).toBe(passages);
    await pool.close();
    await again.close();
  });
  it("a backup that is none is named", async () => {
    const directory = copy();
    cpSync(backup, join(directory, "backups", "2026-01-01T00-00-00.000Z-daily.zip"), { recursive: true });
    writeFileSync(join(directory, "backups", "2026-01-02T00-00-00.000Z-daily.zip"), "PK, or so it says");
    const { faults, backups } = await checkDirectory(directory);
    expect(backups).toBe(1);
    expect(faults).toEqual([expect.stringContaining("2026-01-02")]);
  });
  it("not while a server runs on it", async () => {
    const directory = copy();
    const lock = await lockDirectory(directory);
    expect(await cli("check", directory)).toMatchObject({ status: 1, err: expect.stringContaining("in use") });
    await lock.release();
  });
  it("with the right words, or not at all", async () => {
    expect((await cli("check")).status).toBe(1);
    expect((await cli("restore", "one")).err).toBe("restore takes a backup and a data directory\n");
  });
});

/* What can befall a database's files; each is reported or survived, and a restore brings the library back. */
describe("whatever is damaged, a backup can be restored and nothing is thrown away", () => {
  it.each<[string, (directory: string) => void]>([
    ["the control file is empty", (directory) => writeFileSync(join(directory, "library", "global", "pg_control"), "")],
  ])("%s", async (_, damage) => {
    const directory = copy();
    damage(directory);
    const was = existsSync(join(directory, "library")) ? readdirSync(join(directory, "library")).sort() : null;
    const { status, out } = await cli("restore", backup, directory);
    expect({ status, out }).toEqual({ status: 0, out: expect.stringContaining(`${titles.length} passages`) });
    const aside = readdirSync(directory).find((name) => name.startsWith("library.before-"));
    expect(aside !== undefined).toBe(was !== null);
    if (aside) expect(readdirSync(join(directory, aside)).sort()).toEqual(was);
    expect(await cli("check", directory)).toMatchObject({ status: 0 });
  });
  it("what is no backup changes nothing", async () => {
    const directory = copy();
    const none = join(root, "none.zip");
    writeFileSync(none, readFileSync(backup).subarray(0, 200));
    expect((await cli("restore", none, directory)).status).toBe(2);
    expect(await cli("check", directory)).toMatchObject({ status: 0 });
  });
});
