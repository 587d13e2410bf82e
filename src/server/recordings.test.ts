import { existsSync, mkdtempSync, readdirSync, rmSync, utimesSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable } from "node:stream";
import request from "supertest";
import { afterAll, beforeEach, describe, expect, it } from "vitest";
import * as wire from "../api/wire.ts";
import { unpackBackup } from "../core/formats/backup/backup.ts";
import { wavHeader, wavSamples } from "../core/sound/wav.ts";
import { practiceOf, takeOfStrays } from "../core/test/practice-sessions.ts";
import { randomPassage } from "../core/test/random-passages.ts";
import { BackupFolder } from "./backups/folder.ts";
import { recordingsIn } from "./backups/sounds.ts";
import type { OpenDatabase } from "./database/database.ts";
import { HOST, testApp } from "./test/test-app.ts";
import { testDatabase } from "./test/test-database.ts";
import { WorkPool } from "./work/pool.ts";

const EVENING = "2026-03-01T18:00:00.000Z";
const root = mkdtempSync(join(tmpdir(), "rest-hand-recordings-"));
const pool = new WorkPool();
const databases: OpenDatabase[] = [];
let machines = 0;

/** A library with its recordings, as on a machine of its own. */
async function machine() {
  const database = await testDatabase();
  databases.push(database);
  // Hidden, as data directories may be.
  const own = join(root, `.${++machines}`);
  const { app, library, practice, recordings, backups } = await testApp(database, pool, own);
  const folder = new BackupFolder(join(own, "backups"));
  const ask = (method: "get" | "put" | "post" | "delete", path: string) => request(app.express)[method](`/api${path}`).set("Host", HOST);
  const keep = (id: string, wav: Buffer) => ask("put", `/recordings/${id}`).type("audio/wav").send(wav);
  return { library, practice, recordings, folder, backups, ask, keep };
}

let here: Awaited<ReturnType<typeof machine>>;
beforeEach(async () => {
  here = await machine();
});
afterAll(async () => {
  await pool.close();
  for (const database of databases) await database.close();
  rmSync(root, { recursive: true });
});

const wavOf = (seed: number, seconds = 0.1) => {
  const samples = Float32Array.from({ length: 44_100 * seconds }, (_, i) => 0.5 * Math.sin(i * 0.01 * seed));
  return Buffer.concat([wavHeader(samples.length, 44_100, "16"), wavSamples(samples, "16")]);
};
const take = (n: number) => takeOfStrays(n, EVENING, [2, 2, 5]);
/** A session with takes, in the log. */
const session = async (n: number, passage: string | null, takes: number[]) => {
  const made = { ...practiceOf(n, passage ? { passage } : { figure: "palm" }, EVENING, {}), takes: takes.map(take) };
  await here.practice.save(made);
  return made;
};

describe("the sound of takes", () => {
  it("is kept with a take of the log, listed with its size, given back as it was, and deleted; every answer is what the API's schemas say", async () => {
    await session(1, null, [1, 2]);
    const [a, b] = [take(1).id, take(2).id];
    const sound = wavOf(3);
    expect(wire.keptRecording.parse((await here.keep(a, sound).expect(200)).body)).toEqual({ id: a, bytes: sound.length });
    await here.keep(b, wavOf(4)).expect(200);
    expect(wire.keptRecordings.parse((await here.ask("get", "/recordings").expect(200)).body)).toHaveLength(2);
    const back = await here.ask("get", `/recordings/${a}`).buffer(true).expect(200).expect("Content-Type", "audio/wav");
    expect(Buffer.from(back.body).equals(sound)).toBe(true);
    await here.ask("delete", `/recordings/${a}`).expect(204);
    await here.ask("delete", `/recordings/${a}`).expect(404);
    await here.ask("get", `/recordings/${a}`).expect(404);
    await here.ask("delete", "/recordings").expect(204);
    expect((await here.ask("get", "/recordings")).body).toEqual([]);
  });

  it("of no take, what is no WAV file, and what broke off on its way are refused, and nothing is left of them", async () => {
    await session(1, null, [1]);
    const { id } = take(1);
    await here.keep(take(9).id, wavOf(3)).expect(404);
    await here.keep("none", wavOf(3)).expect(404);
    await here.keep("..%2f..%2fpasswords", wavOf(3)).expect(404);
    for (const wrong of [Buffer.from("RIFF"), Buffer.alloc(0), Buffer.from("this is no sound at all")]) await here.keep(id, wrong).expect(422);
    const broken = Readable.from(
      (function* () {
        yield wavOf(3).subarray(0, 1000);
        throw new Error("gone");
      })(),
    );
    await expect(here.recordings.keep(id, broken)).rejects.toThrow("gone");
    const folder = here.recordings.folder;
    expect(existsSync(folder) ? readdirSync(folder) : []).toEqual([]);
  });

  it("two that come in for one take at once are whole, and what a killed server left on its way is swept", async () => {
    await session(1, null, [1]);
    const [a, b] = [wavOf(3, 3), wavOf(4, 3)];
    await Promise.all([here.keep(take(1).id, a).expect(200), here.keep(take(1).id, b).expect(200)]);
    const back = Buffer.from(
      (
        await here
          .ask("get", `/recordings/${take(1).id}`)
          .buffer(true)
          .expect(200)
      ).body,
    );
    expect(back.equals(a) || back.equals(b)).toBe(true);
    writeFileSync(join(here.recordings.folder, `${take(1).id}.wav.killed.part`), "half");
    here.recordings.sweep();
    expect(readdirSync(here.recordings.folder)).toEqual([`${take(1).id}.wav`]);
  });

  it("goes with its session, with the log, and with its passage for good; from the bin it comes back", async () => {
    const passage = (await here.library.create({ ...randomPassage(3, 2), title: "Recorded" })).id;
    const one = await session(1, null, [1]);
    await session(2, passage, [2]);
    await session(3, null, [3]);
    for (const n of [1, 2, 3]) await here.keep(take(n).id, wavOf(n)).expect(200);
    await here.ask("delete", `/practice/sessions/${one.id}`).expect(204);
    const left = async () => ((await here.ask("get", "/recordings")).body as { id: string }[]).map(({ id }) => id);
    expect(await left()).toEqual([take(2).id, take(3).id]);
    await here.ask("delete", `/passages/${passage}`).expect(204);
    expect(await left()).toContain(take(2).id);
    await here.ask("delete", `/passages/${passage}?forever`).expect(204);
    expect(await left()).toEqual([take(3).id]);
    await here.ask("delete", "/practice").expect(204);
    expect(await left()).toEqual([]);
  });

  it("is in a backup by choice, as much as one takes, the newest first; a restore brings back what is not here", async () => {
    await session(1, null, [1, 2]);
    for (const n of [1, 2]) await here.keep(take(n).id, wavOf(n)).expect(200);
    const read = async (path: string) => {
      const { name } = (await here.ask("post", path).expect(201)).body as { name: string };
      return here.folder.read(name)!;
    };
    const without = unpackBackup(await read("/backups"));
    expect(without.ok && without.value.recordings).toEqual([]);
    const backup = await read("/backups?recordings");
    const there = await machine();
    const preview = await there.ask("post", "/restore/preview").type("application/zip").send(Buffer.from(backup)).expect(200);
    expect(wire.restorePreview.parse(preview.body)).toMatchObject({ newSessions: 1, newRecordings: 2 });
    await there.ask("post", "/restore").type("application/zip").send(Buffer.from(backup)).expect(200);
    expect(there.recordings.list()).toEqual(here.recordings.list());
    const back = await there
      .ask("get", `/recordings/${take(2).id}`)
      .buffer(true)
      .expect(200);
    expect(Buffer.from(back.body).equals(wavOf(2))).toBe(true);
    // What is here is not written again.
    expect((await there.ask("post", "/restore/preview").type("application/zip").send(Buffer.from(backup))).body.newRecordings).toBe(0);

    utimesSync(here.recordings.find(take(1).id)!, new Date(), new Date(Date.now() - 60_000));
    const { recordings, left } = recordingsIn(here.recordings.folder, wavOf(2).length + 10);
    expect(recordings.map(({ id }) => id)).toEqual([take(2).id]);
    expect(left).toBe(1);
  });

  it("other files in its folder are left alone", async () => {
    await session(1, null, [1]);
    await here.keep(take(1).id, wavOf(1)).expect(200);
    writeFileSync(join(here.recordings.folder, "notes.txt"), "mine");
    await here.ask("delete", "/recordings").expect(204);
    expect(readdirSync(here.recordings.folder)).toEqual(["notes.txt"]);
  });

  it("takes of a passage are had in full, the latest first; a list of sessions counts what went wrong in them", async () => {
    const passage = (await here.library.create({ ...randomPassage(4, 2), title: "Taken" })).id;
    const made = practiceOf(1, { passage }, EVENING, {});
    const [early, late] = [takeOfStrays(1, EVENING, [6, 2]), takeOfStrays(2, "2026-03-01T18:30:00.000Z", [2])];
    // Two reports of one session: nothing is lost, nothing twice.
    await here.practice.save({ ...made, takes: [early] });
    await here.practice.save({ ...made, takes: [late, early] });
    expect(wire.keptTakes.parse((await here.ask("get", `/practice/takes?passage=${passage}`).expect(200)).body)).toEqual([late, early]);
    await here.ask("get", "/practice/takes?passage=none").expect(422);
    const [listed] = wire.listedSessions.parse((await here.ask("get", "/practice").expect(200)).body);
    expect(listed!.takes.map(({ wrong, strays }) => [wrong, strays])).toEqual([
      [2, [0, 1, 0, 0, 0, 1]],
      [1, [0, 1]],
    ]);
  });
});
