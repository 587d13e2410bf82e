import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { pino } from "pino";
import request from "supertest";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { z } from "zod";
import * as wire from "../api/wire.ts";
import { unpackBackup } from "../core/formats/backup/backup.ts";
import { LIMITS } from "../core/passage/limits.ts";
import type { Passage } from "../core/passage/schema.ts";
import { type App, createApp } from "./app.ts";
import { Backups } from "./backups/backups.ts";
import { BackupFolder } from "./backups/folder.ts";
import type { Care } from "./care.ts";
import { LOCAL_PERSON, type OpenDatabase } from "./database/database.ts";
import { Recordings } from "./recordings.ts";
import { binary, HOST, testApp } from "./test/test-app.ts";
import { testDatabase } from "./test/test-database.ts";
import { WorkPool } from "./work/pool.ts";

const riff = JSON.parse(readFileSync("demo/1-bilge-pump.resthand.json", "utf8")) as Passage;

const folder = mkdtempSync(join(tmpdir(), "rest-hand-backups-"));
let database: OpenDatabase;
let app: App;
let care: Care;
const pool = new WorkPool();
const recordings = new Recordings(join(folder, "recordings"));
const get = (path: string) => request(app.express).get(path).set("Host", HOST);
const send = (method: "post" | "put" | "delete", path: string) => request(app.express)[method](path).set("Host", HOST);

beforeAll(async () => {
  database = await testDatabase();
});
afterAll(async () => {
  rmSync(folder, { recursive: true });
  await pool.close();
  await database.close();
});
beforeEach(async () => {
  ({ app, care } = await testApp(database, pool, folder));
});

const create = async (passage: unknown = riff) =>
  (
    await send("post", "/api/passages")
      .send(passage as object)
      .expect(201)
  ).body as { id: string; version: number; passage: Passage };

it("every answer is what the API's schemas say", async () => {
  const { id } = await create();
  const answers: [string, z.ZodType][] = [
    ["/api/health", wire.health],
    ["/api/passages", z.array(wire.listedPassage.strict())],
    ["/api/passages?bin", z.array(wire.listedPassage.strict())],
    [`/api/passages/${id}`, wire.storedPassage.strict()],
    [`/api/passages/${id}/summary`, wire.planSummary],
    [`/api/passages/${id}/limits`, wire.limits],
    ["/api/instruments", wire.setupItems.instruments],
    ["/api/players", wire.setupItems.players],
    ["/api/backups", wire.keptBackups],
  ];
  for (const [path, schema] of answers) expect(schema.safeParse((await get(path).expect(200)).body).error, path).toBeUndefined();
  expect(wire.problem.strict().safeParse((await get("/api/passages/none").expect(404)).body).error).toBeUndefined();
});

describe("passages over the API, on a real database", () => {
  it("come back as they were sent, with an ETag", async () => {
    const { id } = await create();
    const read = await get(`/api/passages/${id}`).expect(200);
    expect(read.headers.etag).toBe('"1"');
    expect(read.body.passage.bars).toEqual(riff.bars);
    expect(read.body.passage.instrument).toEqual(riff.instrument);
  });
  it("are saved over the version they are based on; a stale write answers 412 and changes nothing", async () => {
    const { id } = await create();
    await send("put", `/api/passages/${id}`)
      .set("If-Match", '"1"')
      .send({ ...riff, title: "Second" })
      .expect(200)
      .expect("ETag", '"2"');
    const stale = await send("put", `/api/passages/${id}`)
      .set("If-Match", '"1"')
      .send({ ...riff, title: "Stale" })
      .expect(412);
    expect(stale.headers["content-type"]).toMatch(/application\/problem\+json/);
    expect(stale.body).toMatchObject({ status: 412, version: 2 });
    expect((await get(`/api/passages/${id}`)).body.passage.title).toBe("Second");
    await send("put", `/api/passages/${id}`).send(riff).expect(428);
  });
  it("a save whose answer was lost is sent once more: it was saved once, and is answered as saved", async () => {
    const { id } = await create();
    const save = () =>
      send("put", `/api/passages/${id}`)
        .set("If-Match", '"1"')
        .send({ ...riff, title: "Sent twice" });
    expect((await save().expect(200)).headers.etag).toBe('"2"');
    expect((await save().expect(200)).headers.etag).toBe('"2"');
    // After another save it is a stale one.
    await send("put", `/api/passages/${id}`)
      .set("If-Match", '"2"')
      .send({ ...riff, title: "Later" })
      .expect(200);
    await save().expect(412);
  });
  it("of two writes based on one version exactly one wins", async () => {
    const { id } = await create();
    const answers = await Promise.all(
      ["A", "B"].map((title) =>
        send("put", `/api/passages/${id}`)
          .set("If-Match", '"1"')
          .send({ ...riff, title }),
      ),
    );
    expect(answers.map((a) => a.status).sort()).toEqual([200, 412]);
  });
  it("refuses a broken document with its place and saves nothing", async () => {
    const before = (await get("/api/passages")).body.length;
    const answer = await send("post", "/api/passages")
      .send({ ...riff, tempo: 0 })
      .expect(422);
    expect(answer.body.faults[0].place).toBe("/tempo");
    expect((await get("/api/passages")).body).toHaveLength(before);
  });
  it("go into the bin, come back, and can be deleted for good only from there", async () => {
    const { id } = await create({ ...riff, title: "Binned" });
    await send("delete", `/api/passages/${id}?forever`).expect(404);
    await send("delete", `/api/passages/${id}`).expect(204);
    await get(`/api/passages/${id}`).expect(404);
    await send("put", `/api/passages/${id}`).set("If-Match", '"1"').send(riff).expect(404);
    expect((await get("/api/passages?bin")).body.map((p: { id: string }) => p.id)).toContain(id);
    await send("post", `/api/passages/${id}/restore`).expect(200);
    await get(`/api/passages/${id}`).expect(200);
    await send("delete", `/api/passages/${id}`).expect(204);
    await send("delete", `/api/passages/${id}?forever`).expect(204);
    await send("post", `/api/passages/${id}/restore`).expect(404);
  });
  it("refer to an instrument and a player; equal ones are reused", async () => {
    const before = (await get("/api/instruments")).body.length;
    const tuning = ["E4", "B3", "G3", "D3", "A2", "C2"];
    await create({ ...riff, instrument: { ...riff.instrument, tuning } });
    await create({ ...riff, instrument: { ...riff.instrument, tuning } });
    expect((await get("/api/instruments")).body).toHaveLength(before + 1);
    expect((await get("/api/players")).body.length).toBeGreaterThan(0);
  });
  it("are summed up for the shelf: strays and a miniature", async () => {
    const { id } = await create();
    const summary = (await get(`/api/passages/${id}/summary`).expect(200)).body;
    expect(summary).toMatchObject({ strays: 1 });
    expect(summary.miniature[0].states).toHaveLength(6);
  });
  it("leave as a file that is a valid document again", async () => {
    const { id } = await create();
    const file = await get(`/api/export/${id}`)
      .expect(200)
      .expect("Content-Disposition", /bilge-pump\.resthand\.json/);
    await send("post", "/api/passages").send(JSON.parse(file.text)).expect(201);
  });
});

describe("imports", () => {
  it("a tablature becomes a passage, with what was guessed", async () => {
    const dashes = "-".repeat(16);
    const text = ["e", "B", "G", "D", "A", "E"].map((n) => `${n}|${n === "A" ? "3---5---7---5---" : dashes}|`).join("\n");
    const made = (await send("post", "/api/import").send({ text }).expect(201)).body;
    expect(made.passage.bars[0].strokes).toHaveLength(4);
    expect(made.remarks.length).toBeGreaterThan(0);
  });
  it("a file that is none says where and what", async () => {
    const answer = await send("post", "/api/import").send({ text: "just words" }).expect(422);
    expect(answer.body.faults[0]).toMatchObject({ place: "line 1" });
    await send("post", "/api/import").send({}).expect(422);
  });
});

describe("files of other formats", () => {
  it("are given by format and taken back as bytes", async () => {
    const [{ id }] = (await get("/api/passages").expect(200)).body;
    for (const format of ["musicxml", "mxl", "mid", "txt", "csv"]) {
      const file = await get(`/api/export/${id}?format=${format}`)
        .buffer(true)
        .parse((res, done) => {
          const parts: Buffer[] = [];
          res.on("data", (part: Buffer) => parts.push(part));
          res.on("end", () => done(null, Buffer.concat(parts)));
        })
        .expect(200)
        .expect("Content-Disposition", new RegExp(`\\.${format}"?$`));
      if (format === "csv") continue;
      const made = await send("post", "/api/import").set("Content-Type", "application/octet-stream").send(file.body).expect(201);
      expect(made.body.passage.bars.length, format).toBeGreaterThan(0);
    }
    await get(`/api/export/${id}?format=docx`).expect(422);
    await get(`/api/export/${id}?format=musicxml&staves=three`).expect(422);
    const clefs = async (staves: string) => {
      const score = (await get(`/api/export/${id}?format=musicxml&staves=${staves}`).buffer(true).parse(binary).expect(200)).body as Buffer;
      return [...score.toString().matchAll(/<sign>(\w+)</g)].map((match) => match[1]);
    };
    expect([await clefs("both"), await clefs("tab"), await clefs("notes")]).toEqual([["G", "TAB"], ["TAB"], ["G"]]);
  });
  it("that hurt are refused and the server lives on", async () => {
    const bomb = Buffer.from('<!DOCTYPE x [<!ENTITY a "aaaa">]><score-partwise>&a;</score-partwise>');
    const answer = await send("post", "/api/import").set("Content-Type", "application/octet-stream").send(bomb).expect(422);
    expect(answer.body.faults[0].says).toContain("entities of its own");
    await send("post", "/api/import").set("Content-Type", "application/octet-stream").send(Buffer.alloc(27_000_000, 1)).expect(413);
    await get("/api/passages").expect(200);
  });
});

describe("who may ask", () => {
  it("refuses a foreign host and a foreign origin", async () => {
    await request(app.express).get("/api/passages").set("Host", "evil.example").expect(403);
    await get("/api/passages").set("Origin", "http://evil.example").expect(403);
    await get("/api/passages").set("Origin", `http://${HOST}`).expect(200);
  });
  it("allows code from its own origin only", async () => {
    const { headers } = await get("/api/health");
    expect(headers["content-security-policy"]).toContain("script-src 'self'");
    expect(headers["content-security-policy"]).not.toContain("unsafe");
    expect(headers["permissions-policy"]).toContain("microphone=(self)");
    expect(headers["permissions-policy"]).toContain("camera=()");
  });
  it("answers bad JSON, strange addresses and early callers with problem details", async () => {
    await send("post", "/api/passages")
      .set("Content-Type", "application/json")
      .send("{")
      .expect(400)
      .expect("Content-Type", /problem\+json/);
    await get("/api/nowhere")
      .expect(404)
      .expect("Content-Type", /problem\+json/);
    await get("/api/passages/not-an-id").expect(404);
    const early = createApp({ log: pino({ level: "silent" }), hosts: () => [HOST], page: null, pool });
    await request(early.express).get("/api/passages").set("Host", HOST).expect(503).expect("Retry-After", "1");
    expect((await request(early.express).get("/api/health").set("Host", HOST)).body).toEqual({ status: "opening" });
  });
});

describe("files and backups over the API", () => {
  const octets = (path: string, bytes: Buffer) => send("post", path).set("Content-Type", "application/octet-stream").send(bytes);

  it("an import keeps its file when asked, byte for byte, and says so in the list", async () => {
    const { id } = await create();
    const midi = (await get(`/api/export/${id}?format=mid`).buffer(true).parse(binary).expect(200)).body as Buffer;
    const made = (await octets("/api/import?grid=1/16&keep=a.mid", midi).expect(201)).body;
    expect(made.original).toBe("a.mid");
    const original = await get(`/api/passages/${made.id}/original`).buffer(true).parse(binary).expect(200);
    expect(original.body).toEqual(midi);
    expect(original.headers["content-disposition"]).toContain("a.mid");
    const listed = (await get("/api/passages")).body as { id: string; original: string | null }[];
    expect(Object.fromEntries(listed.map((item) => [item.id, item.original]))).toMatchObject({ [made.id]: "a.mid", [id]: null });
    await get(`/api/passages/${id}/original`).expect(404);
    await octets("/api/import?grid=1/5", midi).expect(422);
  });
  it("a backup is taken, looked into and restored; what is none is refused with its place", async () => {
    const { id } = await create();
    const taken = await get("/api/backup").buffer(true).parse(binary).expect(200).expect("Content-Type", "application/zip");
    const zip = (path: string, body: Buffer) => send("post", path).set("Content-Type", "application/zip").send(body);
    const preview = (await zip("/api/restore/preview", taken.body).expect(200)).body as { passages: { state: string }[] };
    expect(new Set(preview.passages.map(({ state }) => state))).toEqual(new Set(["same"]));
    await send("put", `/api/passages/${id}`)
      .set("If-Match", '"1"')
      .send({ ...riff, title: "Changed since" })
      .expect(200);
    await zip("/api/restore?doubles=replace", taken.body).expect(200);
    const [kept] = (await get("/api/backups").expect(200)).body as { name: string; reason: string }[];
    expect(kept!.reason).toBe("restore");
    await send("post", "/api/restore/preview").send({ name: kept!.name }).expect(200);
    await get(`/api/backups/${kept!.name}`).expect(200).expect("Content-Type", "application/zip");
    await get("/api/backups/..%2F..%2Fpackage.json").expect(404);
    await zip("/api/restore?doubles=whatever", taken.body).expect(422);
    const refused = await zip("/api/restore", Buffer.from("PK, or so it says")).expect(422);
    expect(refused.body.faults[0].place).toBe("file");
  });
});

describe("a long job", () => {
  const lines = (text: string) =>
    text
      .trim()
      .split("\n")
      .map((line) => wire.jobLine.parse(JSON.parse(line)));
  it("says how far it is, and at the end what it came to", async () => {
    await create();
    const job = (path: string, body: object = {}) => send("post", path).set("Accept", wire.JOB_TYPE).send(body).buffer(true).parse(binary);
    const written = lines(
      String(
        (
          await job("/api/backups")
            .expect(200)
            .expect("Content-Type", /ndjson/)
        ).body,
      ),
    ).at(-1)! as { result: { name: string } };
    expect(wire.writtenBackup.parse(written.result).name).toMatch(/-asked\.zip$/);
    const restored = lines(String((await job("/api/restore", { name: written.result.name })).body));
    expect(restored.at(-1)).toEqual({ result: { added: 0, replaced: 0, leftAsTheyAre: expect.any(Number) } });
    for (const said of restored.slice(0, -1)) expect(said).toEqual({ done: expect.any(Number), of: expect.any(Number) });
    const broken = await send("post", "/api/restore")
      .set("Accept", wire.JOB_TYPE)
      .set("Content-Type", "application/zip")
      .send(Buffer.from("PK"))
      .buffer(true)
      .parse(binary);
    expect(lines(String(broken.body)).at(-1)).toMatchObject({ problem: { status: 422, faults: [{ place: "file" }] } });
  });
  it("is a plain answer for whoever asks for no lines", async () => {
    await create();
    expect(wire.writtenBackup.parse((await send("post", "/api/backups").expect(201)).body).leftOut).toEqual([]);
  });
});

describe("too much for one request", () => {
  it("is refused in words: documents, notes, strokes, files", async () => {
    const bars = new Array(5001).fill({ meter: [4, 4] });
    const long = await send("post", "/api/passages")
      .send({ ...riff, bars })
      .expect(422);
    expect(long.body.faults).toEqual([{ place: "/bars", says: "5 001 bars, more than the 5 000 any passage has" }]);
    const large = await send("post", "/api/passages")
      .set("Content-Type", "application/json")
      .send(`{"title":"${"x".repeat(8_100_000)}"}`)
      .expect(413);
    expect(large.body.detail).toBe("8.2 MB, more than the 8 MB this server takes here.");
  });
  it("what is read can be saved: an import is never larger than what a save takes", async () => {
    const bar = {
      meter: [4, 4],
      strokes: Array.from({ length: 64 }, (_, i) => ({
        at: `${i}/64`,
        length: "1/64",
        id: "x".repeat(60) + i,
        notes: Array.from({ length: 6 }, (_, s) => ({ string: s + 1, fret: 3, id: `${"y".repeat(58)}${i % 10}${s}` })),
      })),
    };
    const text = JSON.stringify({ ...riff, bars: new Array(62).fill(bar) });
    expect(text.length).toBeGreaterThan(LIMITS.kept.most);
    const refused = await send("post", "/api/import").set("Content-Type", "application/octet-stream").send(Buffer.from(text)).expect(422);
    expect(refused.body.faults[0].says).toMatch(/more than the 2 MB one passage of the library takes/);
    await send("post", "/api/passages").set("Content-Type", "application/json").send(text).expect(422);
  });
});

describe("health", () => {
  it("is that of a database that was read and written just now", async () => {
    expect((await get("/api/health").expect(200)).body).toEqual({ status: "ready" });
    const { rows } = await database.client.query("select at from pulse");
    expect(rows).toHaveLength(1);
  });
  it("is failed where nothing can be written, and names what is lost where something is", async () => {
    await database.client.query("alter table pulse rename to gone");
    expect((await get("/api/health").expect(503)).body).toEqual({ status: "failed", reason: expect.stringContaining("cannot be written") });
    await database.client.query("alter table gone rename to pulse");
  });
  it("names passages that cannot be read", async () => {
    const { id } = await create({ ...riff, title: "Unreadable" });
    await database.client.query("update passages set document = '{' where id = $1", [id]);
    await care.look();
    expect((await get("/api/health")).body.faults).toContainEqual(expect.stringContaining("Unreadable"));
    expect((await get(`/api/passages/${id}`).expect(422)).body.title).toBe("This passage cannot be read");
    await database.client.query("delete from passages where id = $1", [id]);
  });
});

describe("setup over the API", () => {
  const five = { kind: "electric-bass", tuning: ["G2", "D2", "A1", "E1", "B0"], frets: 24, capo: 0, scaleLengthMm: 870 };
  const make = async (kind: string, name: string, value: object) =>
    (await send("post", `/api/${kind}`).send({ name, value }).expect(201)).body as { id: string };

  it("an instrument is made, renamed, taken for new passages and removed; a double is named", async () => {
    const { id } = await make("instruments", "Old five-string", five);
    const double = await send("post", "/api/instruments").send({ name: "Another", value: five }).expect(409);
    expect(double.body.detail).toContain("Old five-string");
    const renamed = await send("put", `/api/instruments/${id}`).send({ name: "Five", value: five }).expect(200);
    expect(renamed.body).toMatchObject({ name: "Five", passages: 0, changedPassages: 0, isDefault: false });
    await send("put", `/api/instruments/${id}/default`).expect(204);
    const list = (await get("/api/instruments").expect(200)).body as { id: string; isDefault: boolean }[];
    expect(list.filter((item) => item.isDefault).map((item) => item.id)).toEqual([id]);
    await send("delete", `/api/instruments/${id}`).expect(204);
    await send("delete", `/api/instruments/${id}`).expect(404);
  });
  it("a player's change reaches every passage that uses it, and whoever has one open learns of it by the version", async () => {
    const own = { ...riff, player: { playsWith: "pick", reachMm: 101 } };
    const [first, second] = [await create(own), await create({ ...own, title: "Second" })];
    const list = (await get("/api/players")).body as { id: string; value: { reachMm?: number }; passages: number }[];
    const player = list.find((item) => item.value.reachMm === 101)!;
    expect(player).toMatchObject({ passages: 2, player: own.player });
    const changed = await send("put", `/api/players/${player.id}`)
      .send({ name: "Long fingers", value: { playsWith: "pick", reachMm: 102, thumbOver: "yes" } })
      .expect(200);
    expect(changed.body.changedPassages).toBe(2);
    for (const { id } of [first, second]) {
      const { body } = await get(`/api/passages/${id}`).expect(200);
      expect(body).toMatchObject({ version: 2, passage: { player: { reachMm: 102, thumbOver: "yes" } } });
      await send("put", `/api/passages/${id}`).set("If-Match", '"1"').send(own).expect(412);
    }
    await send("delete", `/api/players/${player.id}`).expect(409);
  });
  it("an instrument that a passage no longer fits is refused, with the passage's name, and nothing changes", async () => {
    const { id } = await create({ ...riff, instrument: { ...riff.instrument, scaleLengthMm: 649 } });
    const list = (await get("/api/instruments")).body as { id: string; name: string; value: { scaleLengthMm: number } }[];
    const guitar = list.find((item) => item.value.scaleLengthMm === 649)!;
    const refused = await send("put", `/api/instruments/${guitar.id}`)
      .send({ name: "Four strings", value: { ...five, tuning: five.tuning.slice(0, 4) } })
      .expect(409);
    expect(refused.body.title).toContain(riff.title);
    expect((await get(`/api/passages/${id}`)).body).toMatchObject({ version: 1, passage: { instrument: { scaleLengthMm: 649 } } });
  });
  it("what came with a passage goes when no passage needs it any more; what the player named stays", async () => {
    const { id } = await create({ ...riff, player: { reachMm: 111 } });
    await make("players", "Mine", { reachMm: 112 });
    await send("put", `/api/passages/${id}`)
      .set("If-Match", '"1"')
      .send({ ...riff, player: { reachMm: 113 } })
      .expect(200);
    const reaches = ((await get("/api/players")).body as { value: { reachMm?: number } }[]).map((item) => item.value.reachMm);
    expect(reaches).not.toContain(111);
    expect(reaches).toEqual(expect.arrayContaining([112, 113]));
  });
  it("what is not valid is refused with its place", async () => {
    const refused = await send("post", "/api/players")
      .send({ name: "X", value: { index: "bent" } })
      .expect(422);
    expect(refused.body.faults[0].place).toBe("/value/index");
    await send("post", "/api/instruments").send({ name: " ", value: five }).expect(422);
    await send("put", "/api/players/not-an-id").send({ name: "X", value: {} }).expect(404);
  });
});

describe("whoever changes something names what it is based on", () => {
  const item = async (kind: "instruments" | "players", name: string, value: object) =>
    (await send("post", `/api/${kind}`).send({ name, value }).expect(201)).body as { id: string; version: string };
  it("a player or an instrument that was changed elsewhere is not changed over, nor taken away", async () => {
    const made = await item("players", "Stale", { thumbOver: "yes", index: "arched" });
    const change = (name: string, version?: string) => {
      const put = send("put", `/api/players/${made.id}`);
      return (version === undefined ? put : put.set("If-Match", `"${version}"`)).send({ name, value: { thumbOver: "yes", index: "arched" } });
    };
    const renamed = (await change("First", made.version).expect(200)).body as { version: string };
    expect(renamed.version).not.toBe(made.version);
    await change("Second", made.version).expect(412);
    await send("delete", `/api/players/${made.id}`).set("If-Match", `"${made.version}"`).expect(412);
    await send("delete", `/api/players/${made.id}`).set("If-Match", "*nonsense*").expect(412);
    const players = (await get("/api/players")).body as { id: string; name: string }[];
    expect(players.find(({ id }) => id === made.id)?.name).toBe("First");
    await send("delete", `/api/players/${made.id}`).set("If-Match", `"${renamed.version}"`).expect(204);
  });
  it("a passage that was changed elsewhere does not go into the bin, nor out of it for good", async () => {
    const { id } = await create();
    await send("put", `/api/passages/${id}`).set("If-Match", '"1"').send(riff).expect(200);
    await send("delete", `/api/passages/${id}`).set("If-Match", '"1"').expect(412);
    await get(`/api/passages/${id}`).expect(200);
    await send("delete", `/api/passages/${id}`).set("If-Match", '"2"').expect(204);
    await send("delete", `/api/passages/${id}?forever`).set("If-Match", '"1"').expect(412);
    await send("delete", `/api/passages/${id}?forever`).set("If-Match", '"2"').expect(204);
  });
});

it("text that no database takes is saved without what is no text, wherever it stands", async () => {
  const bad = "a\0b\ud800c\u0001";
  const { id, passage } = await create({ ...riff, title: bad, notes: bad, tags: [bad] });
  expect(passage).toMatchObject({ title: "ab\ufffdc", notes: "ab\ufffdc", tags: ["ab\ufffdc"] });
  expect((await get(`/api/passages/${id}`).expect(200)).body.passage.title).toBe("ab\ufffdc");
  for (const kind of ["players", "instruments"] as const) {
    const value = kind === "players" ? { thumbOver: "yes", fretWrap: "on" } : { ...riff.instrument, scaleLengthMm: 641 };
    const made = await send("post", `/api/${kind}`).send({ name: bad, value }).expect(201);
    expect(made.body.name).toBe("ab\ufffdc");
  }
  const kept = await send("post", `/api/import?keep=${encodeURIComponent("a\0\u0001.json")}`)
    .set("Content-Type", "application/octet-stream")
    .send(Buffer.from(JSON.stringify({ ...riff, title: bad })))
    .expect(201);
  expect((await get("/api/passages")).body.find((one: { id: string }) => one.id === kept.body.id).original).toBe("a.json");
});

it("a passage that cannot be read costs itself alone: it is named on the shelf, the others open and are backed up", async () => {
  const { id } = await create({ ...riff, title: "Damaged" });
  const whole = await create({ ...riff, title: "Whole" });
  await database.client.query("update passages set document = (document::jsonb - 'bars')::text where id = $1", [id]);
  await care.look();
  const list = (await get("/api/passages").expect(200)).body as { id: string; title: string; fault?: string }[];
  expect(list.find((one) => one.id === id)).toMatchObject({ title: "Damaged", fault: expect.any(String) });
  expect(list.find((one) => one.id === whole.id)).not.toHaveProperty("fault");
  const refused = await get(`/api/passages/${id}`).expect(422);
  expect(refused.body.faults[0].place).toBe("/bars");
  await get(`/api/passages/${whole.id}`).expect(200);
  const kept = new BackupFolder(join(folder, "with-a-damaged-one"));
  const { leftOut } = await new Backups(database, LOCAL_PERSON, kept, pool, recordings).write("asked");
  expect(leftOut).toContain("Damaged");
  const read = unpackBackup(kept.read(kept.list()[0]!.name)!);
  const titles = read.ok ? read.value.passages.map(({ passage }) => passage.title) : [];
  expect(titles).toContain("Whole");
  expect(titles).not.toContain("Damaged");
  await send("delete", `/api/passages/${id}`).expect(204);
});
