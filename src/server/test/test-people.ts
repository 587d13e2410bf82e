import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { pino } from "pino";
import request from "supertest";
import { afterAll, beforeAll, beforeEach, expect } from "vitest";
import { type App, createApp } from "../app.ts";
import { Care } from "../care.ts";
import type { OpenDatabase } from "../database/database.ts";
import { accountAccess } from "../people/access.ts";
import { Attempts } from "../people/attempts.ts";
import { People } from "../people/people.ts";
import { SignIns } from "../people/sign-ins.ts";
import { sharedRoutes } from "../routes/shared.ts";
import { type Common, forget, servicesOf } from "../services.ts";
import { Summaries } from "../summaries.ts";
import { WorkPool } from "../work/pool.ts";
import { changesOf, HOST } from "./test-app.ts";
import { testDatabase } from "./test-database.ts";

/** The passphrase of everybody here. */
export const WORDS = "lantern oyster gravel tuba";

export type Method = "get" | "put" | "post" | "delete" | "patch";

/** What a file of tests with accounts works with; before each test everybody is gone. */
export interface Studio {
  database: OpenDatabase;
  people: People;
  app: App;
  common: Common;
  pool: WorkPool;
  /** Where files lie beside the database. */
  folder: string;
  /** Somebody who is not signed in. */
  stranger(address?: string): Browser;
  /** Somebody with an account, signed in. */
  signedIn(name: string, mayInvite?: boolean): Promise<Browser>;
}

/** A browser: it keeps the cookie that it was given last. */
export class Browser {
  cookie = "";
  constructor(
    private readonly app: App,
    private readonly address = "192.0.2.1",
  ) {}

  ask(method: Method, path: string, body?: string | object, headers: Record<string, string> = {}) {
    const asked = request(this.app.express)
      [method](`/api${path}`)
      .set("Host", HOST)
      .set("X-Forwarded-For", this.address)
      .set("User-Agent", "a browser")
      .set(headers);
    if (this.cookie) asked.set("Cookie", this.cookie);
    return asked.send(body).then((answer) => {
      const given = (answer.headers["set-cookie"] as unknown as string[] | undefined)?.[0];
      if (given) this.cookie = given.split(";")[0]!;
      return { ...answer, status: answer.status, body: answer.body, given };
    });
  }

  async signIn(name: string, passphrase = WORDS) {
    return this.ask("post", "/sign-in", { name, passphrase });
  }
}

/** A server with accounts over a database of its own, for the tests of one file. */
export function testStudio(): Studio {
  const studio = {
    pool: new WorkPool(),
    folder: mkdtempSync(join(tmpdir(), "rest-hand-people-")),
    stranger: (address?: string) => new Browser(studio.app, address),
    async signedIn(name: string, mayInvite = false) {
      await studio.people.add(name, WORDS, mayInvite);
      const browser = studio.stranger();
      expect((await browser.signIn(name)).status).toBe(200);
      return browser;
    },
  } as Studio;
  beforeAll(async () => {
    studio.database = await testDatabase();
  });
  beforeEach(async () => {
    const { database, pool, folder } = studio;
    for (const table of ["passages", "people", "attempts", "instruments", "players"]) await database.client.query(`delete from ${table}`);
    studio.people = new People(database.db);
    studio.app = createApp({ log: pino({ level: "silent" }), hosts: () => [HOST], page: null, pool, trustProxy: 1 });
    const places = { directory: folder, secondBackups: null };
    const care = new Care(database.client, pool);
    const common = { database, care, changes: await changesOf(database), pool, places };
    studio.common = common;
    studio.app.serve({
      care,
      servicesOf: (person) => servicesOf(common, person),
      access: accountAccess(studio.people, new SignIns(database.db), new Attempts(database.db), (person) => forget(places, person)),
      shared: sharedRoutes(database.db),
      summaries: new Summaries(pool, database.db),
    });
  });
  afterAll(async () => {
    rmSync(studio.folder, { recursive: true });
    await studio.pool.close();
    await studio.database.close();
  });
  return studio;
}
