import { once } from "node:events";
import { readFileSync } from "node:fs";
import { request } from "node:http";
import { setTimeout as after } from "node:timers/promises";
import { pino } from "pino";
import type { Passage } from "../../core/passage/schema.ts";
import type { PracticeSession } from "../../core/practice/record.ts";
import { practiceOf } from "../../core/test/practice-sessions.ts";
import { randomPassage, seeded } from "../../core/test/random-passages.ts";
import { openPostgres } from "../database/postgres.ts";
import { People } from "../people/people.ts";
import { type Cluster, newDatabase } from "./postgres-cluster.ts";
import { endServer, type ServerProcess, startServer } from "./server-process.ts";

/* Servers on one PostgreSQL under people who save without a pause, while servers, or the database, end and come back. */

/** A log with so many tries is begun anew, so that what is done at the end of a long run is what was done at its beginning. */
const LONGEST_LOG = 200;
const WORDS = "lantern oyster gravel tuba";

interface Answer {
  status: number;
  body: string;
  cookie: string | null;
}

/** One request on a connection of its own. Rejects where there was no answer. */
async function ask(url: string, method: string, path: string, cookie: string, body?: object, ifMatch?: number): Promise<Answer> {
  const headers: Record<string, string> = { "Content-Type": "application/json", Cookie: cookie };
  if (ifMatch !== undefined) headers["If-Match"] = `"${ifMatch}"`;
  const asked = request(new URL(path, url), { method, headers, agent: false, timeout: 60_000 });
  asked.on("timeout", () => asked.destroy(new Error("no answer in a minute")));
  asked.end(body && JSON.stringify(body));
  const [answer] = (await once(asked, "response")) as [import("node:http").IncomingMessage];
  let text = "";
  for await (const piece of answer.setEncoding("utf8")) text += piece;
  if (!answer.complete) throw new Error("cut off");
  return { status: answer.statusCode!, body: text, cookie: answer.headers["set-cookie"]?.[0]?.split(";")[0] ?? null };
}

/** Somebody who saves one passage and one session over and over; what is not answered is sent again, to whichever server. */
class Saver {
  saves = 0;
  tries = 0;
  /** Tries of logs that were removed since. */
  removed = 0;
  cookie = "";
  private id = "";
  private session: PracticeSession;
  private readonly passage: Passage;

  constructor(
    readonly name: string,
    private readonly rounds: ServerRounds,
    seed: number,
  ) {
    this.passage = randomPassage(seed, 2);
    this.session = practiceOf(seed, { figure: "palm" }, "2026-03-01T18:00:00.000Z", { a: [60] });
  }

  async begin(): Promise<void> {
    this.cookie = (await this.sent("POST", "/api/sign-in", { name: this.name, passphrase: WORDS })).cookie!;
    this.id = (JSON.parse((await this.sent("POST", "/api/passages", this.passage)).body) as { id: string }).id;
  }

  /** Saves until it is told to stop. */
  async go(signal: AbortSignal): Promise<void> {
    while (!signal.aborted) {
      const { status } = await this.sent("PUT", `/api/passages/${this.id}`, { ...this.passage, title: `Save ${this.saves + 1}` }, this.saves + 1);
      if (status !== 200) return this.rounds.fail(`${this.name}: save ${this.saves + 1} was answered ${status}`);
      this.saves++;
      const one = { ...this.session.tries[0]!, at: new Date(Date.parse(this.session.startedAt) + 1000 * (this.tries + 1)).toISOString() };
      const kept = await this.sent("PUT", `/api/practice/sessions/${this.session.id}`, { ...this.session, tries: [one] });
      if (kept.status !== 200) return this.rounds.fail(`${this.name}: a session was answered ${kept.status}: ${kept.body}`);
      this.tries++;
      if (this.tries - this.removed < LONGEST_LOG) continue;
      const gone = await this.sent("DELETE", "/api/practice");
      if (gone.status !== 204) return this.rounds.fail(`${this.name}: a log that is removed was answered ${gone.status}`);
      this.removed = this.tries;
    }
  }

  /** Whether everything that was answered is there, once. */
  async look(): Promise<void> {
    const { version, passage } = JSON.parse((await this.sent("GET", `/api/passages/${this.id}`)).body) as { version: number; passage: Passage };
    if (version !== this.saves + 1) this.rounds.fail(`${this.name}: ${this.saves} saves were answered, ${version - 1} are there`);
    if (this.saves > 0 && passage.title !== `Save ${this.saves}`) this.rounds.fail(`${this.name}: after ${this.saves} saves it is called ${passage.title}`);
    const list = JSON.parse((await this.sent("GET", "/api/passages")).body) as unknown[];
    if (list.length !== 1) this.rounds.fail(`${this.name}: one passage was made, ${list.length} are there`);
    const { sessions } = JSON.parse((await this.sent("GET", "/api/practice/export")).body) as { sessions: PracticeSession[] };
    const there = sessions[0]?.tries.length ?? 0;
    const kept = this.tries - this.removed;
    if (sessions.length > 1 || there !== kept) this.rounds.fail(`${this.name}: ${kept} tries were answered, ${there} are there`);
  }

  /** Sends something until it is answered by anything but "not just now". */
  private async sent(method: string, path: string, body?: object, ifMatch?: number): Promise<Answer> {
    for (;;) {
      const answer = await this.rounds.ask(method, path, this.cookie, body, ifMatch);
      if (answer && answer.status !== 503) return answer;
      await after(50);
    }
  }
}

export class ServerRounds {
  /** What did not hold, a sentence each. */
  readonly broken: string[] = [];
  /** Requests that were begun and got no answer, and those that were answered "not just now". */
  cut = 0;
  away = 0;
  /** What was said then. */
  readonly reasons = new Set<string>();
  private readonly servers: { process: ServerProcess; url: string; port: string; isLeaving?: boolean }[] = [];
  private savers: Saver[] = [];
  private url = "";
  private readonly random: () => number;

  constructor(
    private readonly cluster: Cluster,
    private readonly folder: string,
    seed: number,
  ) {
    this.random = seeded(seed);
  }

  get acknowledged(): number {
    return this.savers.reduce((sum, { saves, tries }) => sum + saves + tries, 0);
  }

  /** What each server takes of memory, in MB. */
  memoryMb(): number[] {
    return this.servers.map(({ process }) => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${process.child.pid}/status`, "utf8"))![1]) / 1024);
  }

  /** Somebody's page hears what changes for a while, and goes. */
  async hear(ms: number): Promise<void> {
    const { cookie } = this.savers[Math.floor(this.random() * this.savers.length)]!;
    const { url } = this.servers[Math.floor(this.random() * this.servers.length)]!;
    const asked = request(new URL("/api/changes", url), { headers: { Cookie: cookie }, agent: false }).end();
    const [answer] = (await once(asked, "response")) as [import("node:http").IncomingMessage];
    if (answer.statusCode !== 200) this.fail(`a page that listens was answered ${answer.statusCode}`);
    answer.resume();
    await after(ms);
    asked.destroy();
  }

  fail(says: string): void {
    this.broken.push(says);
  }

  /** Starts servers on a new and empty database, all at once, and lets people in. */
  async begin(servers: number, people: number): Promise<void> {
    this.url = await newDatabase(this.cluster.url);
    const started = await Promise.all(new Array(servers).fill("0").map((port) => this.start(port)));
    this.servers.push(...started);
    const database = await openPostgres(this.url, pino({ level: "silent" }));
    const all = new People(database.db);
    for (let i = 0; i < people; i++) await all.add(`Saver ${i}`, WORDS, false);
    await database.close();
    this.savers = new Array(people).fill(null).map((_, i) => new Saver(`Saver ${i}`, this, i + 1));
    await Promise.all(this.savers.map((saver) => saver.begin()));
  }

  private async start(port: string): Promise<{ process: ServerProcess; url: string; port: string }> {
    const process = await startServer(this.folder, { env: { DATABASE_URL: this.url, PORT: port, DRAIN_SECONDS: "1" } });
    if (process.url === "") throw new Error(`no server: ${process.errors()}`);
    return { process, url: process.url, port: new URL(process.url).port };
  }

  /** Everybody saves while something happens; afterwards everything that was answered is there. */
  async during(happens: () => Promise<void>): Promise<void> {
    const stop = new AbortController();
    const going = Promise.all(this.savers.map((saver) => saver.go(stop.signal)));
    await happens();
    stop.abort();
    await going;
    for (const saver of this.savers) await saver.look();
  }

  /** Ends one of the servers by a signal at a random moment, and starts another in its place. */
  async endOne(signal: NodeJS.Signals): Promise<void> {
    await after(this.random() * 400);
    const which = Math.floor(this.random() * this.servers.length);
    const { process, port } = this.servers[which]!;
    // As a proxy does that has asked whether it is ready; what was sent to it before is still to be answered.
    if (signal === "SIGTERM") this.servers[which]!.isLeaving = true;
    await endServer(process, signal);
    if (signal === "SIGTERM" && process.child.exitCode !== 0) this.fail(`a server ended with ${process.child.exitCode}: ${process.errors()}`);
    this.servers[which] = await this.start(port);
  }

  /** Stops the database and starts it again. */
  async restartDatabase(how: "fast" | "immediate"): Promise<void> {
    await after(this.random() * 400);
    await this.cluster.stop(how);
    await after(500);
    await this.cluster.start();
  }

  /** Whoever has no more room waits until there is some: something is held while the disk is full, then it is emptied. */
  async fillDisk(fill: () => void, empty: () => void): Promise<void> {
    const before = this.away;
    fill();
    // Until somebody is told.
    while (this.away === before) await after(50);
    await after(500);
    empty();
  }

  /** By any of the servers; null where there was no answer. */
  async ask(method: string, path: string, cookie: string, body?: object, ifMatch?: number): Promise<Answer | null> {
    const there = this.servers.filter(({ isLeaving }) => !isLeaving);
    const { url } = there[Math.floor(this.random() * there.length)]!;
    try {
      const answer = await ask(url, method, path, cookie, body, ifMatch);
      if (answer.status === 503) {
        this.away++;
        this.reasons.add((JSON.parse(answer.body) as { detail: string }).detail);
      }
      return answer;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== "ECONNREFUSED") this.cut++;
      return null;
    }
  }

  async end(): Promise<void> {
    for (const { process } of this.servers) await endServer(process, "SIGKILL");
  }
}
