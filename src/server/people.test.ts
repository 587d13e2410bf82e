import { existsSync } from "node:fs";
import { join } from "node:path";
import type { Router } from "express";
import request from "supertest";
import { describe, expect, it } from "vitest";
import * as wire from "../api/wire.ts";
import { unpackBackup } from "../core/formats/backup/backup.ts";
import { wavHeader } from "../core/sound/wav.ts";
import { practiceOf, takeOfStrays } from "../core/test/practice-sessions.ts";
import { randomPassage } from "../core/test/random-passages.ts";
import { personalRoutes } from "./app.ts";
import { LOCAL_PERSON } from "./database/database.ts";
import { servicesOf } from "./services.ts";
import { Summaries } from "./summaries.ts";
import { binary, HOST } from "./test/test-app.ts";
import { type Browser, type Method, testStudio, WORDS } from "./test/test-people.ts";

const studio = testStudio();

describe("signing in", () => {
  it("lets in who knows the passphrase, by a cookie that no script and no other site gets, and nobody else", async () => {
    const stranger = studio.stranger();
    expect((await stranger.ask("get", "/passages")).status).toBe(401);
    expect((await stranger.ask("get", "/me")).body).toEqual({ login: true, person: null });
    await studio.people.add("Nell", WORDS, false);
    const wrong = await stranger.signIn("Nell", "lantern oyster gravel tube");
    const unknown = await stranger.signIn("Nobody");
    expect([wrong.status, unknown.status]).toEqual([403, 403]);
    expect(wrong.body).toEqual(unknown.body);
    expect(stranger.cookie).toBe("");
    // Whatever its case.
    const right = await stranger.signIn("NELL");
    expect(right.status).toBe(200);
    expect(wire.me.parse(right.body).person).toMatchObject({ name: "Nell", mayInvite: false });
    expect(right.given).toMatch(/; HttpOnly/);
    expect(right.given).toMatch(/; SameSite=Strict/);
    expect((await stranger.ask("get", "/passages")).status).toBe(200);
    const secure = await request(studio.app.express)
      .post("/api/sign-in")
      .set("Host", HOST)
      .set("X-Forwarded-Proto", "https")
      .send({ name: "Nell", passphrase: WORDS });
    expect((secure.headers["set-cookie"] as unknown as string[])[0]).toMatch(/; Secure/);
  });

  it("keeps neither passphrases nor the secrets of cookies", async () => {
    const nell = await studio.signedIn("Nell");
    const secret = nell.cookie.split("=")[1]!;
    for (const table of ["people", "sign_ins"]) {
      const rows = JSON.stringify((await studio.database.client.query(`select * from ${table}`)).rows);
      expect(rows).not.toContain(WORDS);
      expect(rows).not.toContain(secret);
    }
    const { rows } = await studio.database.client.query<{ passphrase: string }>("select passphrase from people");
    expect(rows[0]!.passphrase).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
  });

  it("refuses what is tried too often, by name and address, on all servers together; says when it may be tried again", async () => {
    await studio.people.add("Nell", WORDS, false);
    const guesser = studio.stranger("198.51.100.7");
    const tried = [];
    for (let i = 0; i < 12; i++) tried.push((await guesser.signIn("Nell", `guess number ${i}`)).status);
    expect(tried).toEqual([...new Array(10).fill(403), 429, 429]);
    const refused = await guesser.signIn("Nell");
    expect(refused.status).toBe(429);
    expect(Number(refused.headers["retry-after"])).toBeGreaterThan(600);
    // From elsewhere she comes in.
    expect((await studio.stranger().signIn("Nell")).status).toBe(200);
  });

  it("lasts sixty days after the last visit, with a new secret every day; the old one holds for what is on its way", async () => {
    const nell = await studio.signedIn("Nell");
    const [old, other] = [nell.cookie, studio.stranger()];
    await studio.database.client.query("update sign_ins set renewed_at = now() - interval '25 hours'");
    expect((await nell.ask("get", "/passages")).status).toBe(200);
    expect(nell.cookie).not.toBe(old);
    other.cookie = old;
    expect((await other.ask("get", "/passages")).status).toBe(200);
    expect(other.cookie).toBe(old);
    await studio.database.client.query("update sign_ins set renewed_at = now() - interval '1 hour'");
    expect((await other.ask("get", "/passages")).status).toBe(401);
    expect((await nell.ask("get", "/passages")).status).toBe(200);
    await studio.database.client.query("update sign_ins set seen_at = now() - interval '61 days'");
    expect((await nell.ask("get", "/passages")).status).toBe(401);
  });

  it("ends here, in one other place, everywhere else, and with another passphrase", async () => {
    const nell = await studio.signedIn("Nell");
    const [phone, school] = [studio.stranger(), studio.stranger()];
    for (const one of [phone, school]) await one.signIn("Nell");
    const list = wire.signInList.parse((await nell.ask("get", "/sign-ins")).body);
    expect(list).toHaveLength(3);
    expect(list.filter(({ isHere }) => isHere)).toHaveLength(1);
    const mine = wire.signInList.parse((await phone.ask("get", "/sign-ins")).body).find(({ isHere }) => isHere)!;
    expect((await nell.ask("delete", `/sign-ins/${mine.id}`)).status).toBe(204);
    expect((await phone.ask("get", "/passages")).status).toBe(401);
    expect((await nell.ask("delete", "/sign-ins")).status).toBe(204);
    expect((await school.ask("get", "/passages")).status).toBe(401);

    await school.signIn("Nell");
    const before = nell.cookie;
    expect((await nell.ask("put", "/me/passphrase", { now: "not hers at all", passphrase: "another few words" })).status).toBe(403);
    expect((await nell.ask("put", "/me/passphrase", { now: WORDS, passphrase: "short" })).status).toBe(422);
    expect((await nell.ask("put", "/me/passphrase", { now: WORDS, passphrase: "another few words" })).status).toBe(200);
    expect(nell.cookie).not.toBe(before);
    expect((await nell.ask("get", "/passages")).status).toBe(200);
    expect((await school.ask("get", "/passages")).status).toBe(401);
    expect((await school.signIn("Nell")).status).toBe(403);
    expect((await nell.ask("post", "/sign-out")).status).toBe(204);
    expect((await nell.ask("get", "/me")).body.person).toBeNull();
  });
});

describe("accounts", () => {
  it("the first one has what was played here before anybody signed in; the next one has nothing", async () => {
    await studio.people.ensurePlayer();
    const { library } = servicesOf(studio.common, LOCAL_PERSON);
    await library.create({ ...randomPassage(4, 2), title: "From before" });
    const first = await studio.signedIn("First");
    const second = await studio.signedIn("Second");
    const titles = async (browser: Browser) => ((await browser.ask("get", "/passages")).body as { title: string }[]).map(({ title }) => title);
    expect(await titles(first)).toEqual(["From before"]);
    expect(await titles(second)).toEqual([]);
    expect(await studio.people.add("second", WORDS, false)).toBeNull();
  });

  it("are made by invitation: once, in time, until it is withdrawn, by whoever may invite", async () => {
    const nell = await studio.signedIn("Nell", true);
    const invite = async (body: object) => wire.madeInvitation.parse((await nell.ask("post", "/invitations", body)).body);
    const { secret } = await invite({ note: "for Tom" });
    const tom = studio.stranger();
    const account = { name: "Tom", passphrase: WORDS };
    expect((await tom.ask("post", "/invitations/accept", { secret: "none", ...account })).status).toBe(404);
    expect((await tom.ask("post", "/invitations/accept", { secret, ...account, passphrase: "too short" })).status).toBe(422);
    expect((await tom.ask("post", "/invitations/accept", { secret, ...account, name: "nell" })).status).toBe(409);
    expect((await tom.ask("post", "/invitations/accept", { secret, ...account })).status).toBe(200);
    expect((await tom.ask("get", "/passages")).body).toEqual([]);
    expect((await studio.stranger().ask("post", "/invitations/accept", { secret, ...account, name: "Tim" })).status).toBe(404);
    expect((await tom.ask("post", "/invitations", { note: "a friend" })).status).toBe(403);

    const late = await invite({ note: "late" });
    const withdrawn = await invite({ note: "withdrawn" });
    expect(wire.invitationList.parse((await nell.ask("get", "/invitations")).body).map(({ note }) => note)).toEqual(["late", "withdrawn"]);
    expect((await tom.ask("delete", `/invitations/${withdrawn.invitation.id}`)).status).toBe(404);
    expect((await nell.ask("delete", `/invitations/${withdrawn.invitation.id}`)).status).toBe(204);
    await studio.database.client.query("update invitations set expires_at = now() - interval '1 second'");
    for (const gone of [late, withdrawn])
      expect((await studio.stranger().ask("post", "/invitations/accept", { secret: gone.secret, name: "Late", passphrase: WORDS })).status).toBe(404);
  });

  it("guessing invitations keeps nobody out who has one", async () => {
    const nell = await studio.signedIn("Nell", true);
    const { secret } = wire.madeInvitation.parse((await nell.ask("post", "/invitations", { note: "for Tom" })).body);
    const account = { name: "Tom", passphrase: WORDS };
    for (let i = 0; i < 70; i++)
      expect((await studio.stranger("198.51.100.7").ask("post", "/invitations/accept", { secret: `guess ${i}`, ...account })).status).toBe(404);
    expect((await studio.stranger().ask("post", "/invitations/accept", { secret, ...account })).status).toBe(200);
  });

  it("go as a zip with everything that is theirs, recordings too", async () => {
    const nell = await studio.signedIn("Nell");
    await fill(nell);
    const zip = await request(studio.app.express)
      .get("/api/backup?recordings")
      .set("Host", HOST)
      .set("Cookie", nell.cookie)
      .buffer(true)
      .parse(binary)
      .expect(200);
    const read = unpackBackup(new Uint8Array(zip.body as Buffer));
    expect(read.ok && [read.value.passages.length, read.value.practice.length, read.value.recordings.map(({ id }) => id)]).toEqual([3, 1, [TAKE]]);
  });

  it("strangers learn from the health of a server neither what it holds nor where its database is", async () => {
    const nell = await studio.signedIn("Nell");
    const { body } = await nell.ask("post", "/passages", { ...randomPassage(8, 2), title: "A secret title" });
    await studio.database.client.query("update passages set document = '{' where id = $1", [(body as { id: string }).id]);
    await studio.common.care.look();
    expect(studio.common.care.faults).toEqual([expect.stringContaining("A secret title")]);
    expect((await studio.stranger().ask("get", "/health")).body).toEqual({ status: "ready" });
  });

  it("are deleted with every row and every file that is theirs, and nothing of anybody else", async () => {
    const [nell, tom] = [await studio.signedIn("Nell", true), await studio.signedIn("Tom")];
    const counts = async () => {
      const all: Record<string, number> = {};
      for (const table of [
        "people",
        "sign_ins",
        "invitations",
        "passages",
        "ledger",
        "instruments",
        "players",
        "originals",
        "practice_sessions",
        "practised",
        "teachings",
        "gifts",
        "links",
      ])
        all[table] = (await studio.database.client.query<{ n: number }>(`select count(*)::int as n from ${table}`)).rows[0]!.n;
      return all;
    };
    await fill(nell);
    const alone = await counts();
    await fill(tom);
    await tom.ask("post", "/backups");
    const { id } = wire.me.parse((await tom.ask("get", "/me")).body).person!;
    expect(existsSync(join(studio.folder, "people", id))).toBe(true);
    expect((await tom.ask("delete", "/me", { passphrase: "not his passphrase" })).status).toBe(403);
    expect((await tom.ask("delete", "/me", { passphrase: WORDS })).status).toBe(204);
    expect(await counts()).toEqual({ ...alone, people: alone.people! - 1, sign_ins: alone.sign_ins! - 1 });
    expect(existsSync(join(studio.folder, "people", id))).toBe(false);
    expect((await tom.ask("get", "/passages")).status).toBe(401);
    expect((await tom.signIn("Tom")).status).toBe(403);
  });
});

/** A silent recording. */
const wavOf = (samples: number) => Buffer.concat([Buffer.from(wavHeader(samples, 8000, "16")), Buffer.alloc(2 * samples)]);
const TAKE = "00000000-0000-4000-a000-00000000000a";
const SESSION = "00000000-0000-4000-9000-000000000001";
const MIDI = "imported.resthand.json";

/** Something of everything that somebody can have. Returns the ids. */
async function fill(browser: Browser) {
  const passage = randomPassage(5, 2);
  const made = (await browser.ask("post", "/passages", passage)).body as { id: string };
  const text = Buffer.from(JSON.stringify({ ...randomPassage(6, 2), title: "Imported" }));
  const imported = await browser.ask("post", `/import?keep=${MIDI}`, { text: text.toString() }).then(({ body }) => body as { id: string });
  const instrument = (await browser.ask("post", "/instruments", { name: "Mine", value: passage.instrument })).body as { id: string };
  const session = {
    ...practiceOf(1, { passage: made.id }, "2026-03-01T18:00:00.000Z", { a: [60] }),
    takes: [{ ...takeOfStrays(1, "2026-03-01T18:05:00.000Z", [3]), id: TAKE }],
  };
  expect((await browser.ask("put", `/practice/sessions/${session.id}`, session)).status).toBe(200);
  const wav = wavOf(1000);
  const kept = await request(studio.app.express).put(`/api/recordings/${TAKE}`).set("Host", HOST).set("Cookie", browser.cookie).type("audio/wav").send(wav);
  expect(kept.status).toBe(200);
  return { passage: made.id, imported: imported.id, instrument: instrument.id, ...(await taught(browser, made.id)) };
}

/** A teacher who gave something and offers a newer one, a student, and a link. */
async function taught(browser: Browser, passage: string) {
  const mine = wire.me.parse((await browser.ask("get", "/me")).body).person!;
  const { id: other } = (await studio.people.find("Teacher")) ?? (await studio.people.add("Teacher", WORDS, true))!;
  const teacher = studio.stranger();
  await teacher.signIn("Teacher");
  const { rows } = await studio.database.client.query<{ id: string }>("insert into teachings (teacher, student) values ($1, $2), ($2, $1) returning id", [
    other,
    mine.id,
  ]);
  const [known] = wire.listedPassages.parse((await teacher.ask("get", "/passages")).body);
  const theirs = known?.id ?? ((await teacher.ask("post", "/passages", randomPassage(8, 2))).body as { id: string }).id;
  for (const tempo of [80, 90]) {
    await studio.database.client.query("update passages set document = regexp_replace(document, '\"tempo\":[0-9.]+', $1) where owner = $2", [
      `"tempo":${tempo}`,
      other,
    ]);
    expect((await teacher.ask("post", `/passages/${theirs}/give`, { students: [rows[0]!.id], note: "", drills: [] })).status).toBe(200);
  }
  await teacher.ask("post", "/sign-out");
  const [gift] = wire.giftList.parse((await browser.ask("get", "/gifts")).body);
  const { link } = wire.madeLink.parse((await browser.ask("post", `/passages/${passage}/links`, { days: 7 })).body);
  return { teacher: rows[0]!.id, student: rows[1]!.id, gift: gift!.id, link: link.id };
}

describe("what is another's", () => {
  it("is not there: every route that names it answers 404, every list leaves it out, and nothing of it changes", async () => {
    const [nell, tom] = [await studio.signedIn("Nell", true), await studio.signedIn("Tom", true)];
    const hers = await fill(nell);
    await nell.ask("post", "/backups");
    const invitation = wire.madeInvitation.parse((await nell.ask("post", "/invitations", { note: "hers" })).body).invitation;
    const [kept] = wire.keptBackups.parse((await nell.ask("get", "/backups")).body);
    const [place] = wire.signInList.parse((await nell.ask("get", "/sign-ins")).body);
    const passage = randomPassage(7, 2);
    const library = async (browser: Browser) => {
      const { openedAt: _now, ...body } = (await browser.ask("get", `/passages/${hers.passage}`)).body;
      return [
        body,
        (await browser.ask("get", "/practice/export")).body,
        (await browser.ask("get", "/instruments")).body,
        (await browser.ask("get", "/recordings")).body,
        (await browser.ask("get", "/teaching")).body,
        (await browser.ask("get", "/gifts")).body,
        (await browser.ask("get", "/links")).body,
      ];
    };
    const before = await library(nell);
    const asked: [Method, string, object?][] = [
      ["get", `/passages/${hers.passage}`],
      ["get", `/passages/${hers.passage}/summary`],
      ["get", `/passages/${hers.passage}/limits`],
      ["get", `/passages/${hers.passage}/next?by=2026-03-01T18:00:00.000Z`],
      ["get", `/passages/${hers.imported}/original`],
      ["get", `/export/${hers.passage}`],
      ["post", `/passages/${hers.passage}/restore`],
      ["delete", `/passages/${hers.passage}`],
      ["delete", `/passages/${hers.passage}?forever`],
      ["put", `/instruments/${hers.instrument}`, { name: "His", value: passage.instrument }],
      ["put", `/instruments/${hers.instrument}/default`],
      ["delete", `/instruments/${hers.instrument}`],
      ["patch", `/practice/sessions/${SESSION}`, { note: "his" }],
      ["delete", `/practice/sessions/${SESSION}`],
      ["get", `/recordings/${TAKE}`],
      ["delete", `/recordings/${TAKE}`],
      ["get", `/backups/${kept!.name}`],
      ["post", "/restore", { name: kept!.name }],
      ["post", "/restore/preview", { name: kept!.name }],
      ["delete", `/sign-ins/${place!.id}`],
      ["delete", `/invitations/${invitation.id}`],
      ["patch", `/teachers/${hers.teacher}`, { sees: true }],
      ["delete", `/teachers/${hers.teacher}`],
      ["delete", `/students/${hers.student}`],
      ["get", `/students/${hers.student}/report?since=2026-03-01T00:00:00.000Z`],
      ["post", `/passages/${hers.passage}/give`, { students: [hers.student], note: "", drills: [] }],
      ["post", `/gifts/${hers.gift}/take`],
      ["post", `/gifts/${hers.gift}/leave`],
      ["post", `/passages/${hers.passage}/links`, { days: 7 }],
      ["delete", `/links/${hers.link}`],
    ];
    // None is forgotten: a save, a session and a recording come below.
    const named = routes().filter(({ path }) => path.includes(":"));
    const isAsked = (route: Route) =>
      asked.some(([method, path]) => method === route.method && new RegExp(`^${route.path.replaceAll(/:\w+/g, "[^/]+")}(\\?|$)`).test(path));
    expect(named.filter((route) => !isAsked(route)).map(({ method, path }) => `${method} ${path}`)).toEqual([
      "put /passages/:id",
      "put /players/:id",
      "put /players/:id/default",
      "delete /players/:id",
      "put /practice/sessions/:id",
      "put /recordings/:id",
    ]);
    for (const [method, path, body] of asked) expect((await tom.ask(method, path, body)).status, `${method} ${path}`).toBe(404);
    const put = await request(studio.app.express)
      .put(`/api/passages/${hers.passage}`)
      .set("Host", HOST)
      .set("Cookie", tom.cookie)
      .set("If-Match", '"1"')
      .send({ ...passage });
    expect(put.status).toBe(404);
    expect((await tom.ask("put", `/recordings/${TAKE}`)).status).toBe(404);
    const [player] = (await nell.ask("get", "/players")).body as { id: string; value: object }[];
    expect((await tom.ask("put", `/players/${player!.id}`, { name: "His", value: player!.value })).status).toBe(404);
    expect((await tom.ask("put", `/players/${player!.id}/default`)).status).toBe(404);
    expect((await tom.ask("delete", `/players/${player!.id}`)).status).toBe(404);
    for (const list of [
      "/passages",
      "/passages?bin",
      "/practice",
      "/practice/standings",
      `/practice/takes?passage=${hers.passage}`,
      "/recordings",
      "/backups",
      "/invitations",
      "/gifts",
      "/links",
    ])
      expect((await tom.ask("get", list)).body, list).toEqual([]);
    for (const list of ["/instruments", "/players"]) expect((await tom.ask("get", list)).body, list).toEqual([]);
    // A session of the same id is his own.
    const his = practiceOf(1, { figure: "palm" }, "2026-03-02T18:00:00.000Z", { a: [90] });
    expect((await tom.ask("put", `/practice/sessions/${SESSION}`, his)).status).toBe(200);
    await tom.ask("delete", "/practice");
    expect(await library(nell)).toEqual(before);
  });

  it("every route of the API asks who it is", async () => {
    const stranger = studio.stranger();
    expect(routes().length).toBeGreaterThan(35);
    for (const { method, path } of routes()) expect((await stranger.ask(method, path.replaceAll(/:\w+/g, TAKE))).status, `${method} ${path}`).toBe(401);
  });
});

interface Route {
  method: Method;
  path: string;
}

/** All that somebody can ask for. */
function routes(): Route[] {
  const services = servicesOf(studio.common, LOCAL_PERSON);
  const within = (router: Router): Route[] =>
    router.stack.flatMap(({ route, handle }) =>
      route ? route.stack.map(({ method }) => ({ method: method as Method, path: route.path })) : "stack" in handle ? within(handle as unknown as Router) : [],
    );
  return [
    ...new Map(
      within(personalRoutes(services, new Summaries(studio.pool, studio.database.db), studio.pool)).map((route) => [`${route.method} ${route.path}`, route]),
    ).values(),
  ];
}
