import { once } from "node:events";
import { mkdtempSync, rmSync } from "node:fs";
import { Agent, request } from "node:http";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { pino } from "pino";
import { demoPassages } from "../../core/test/demos.ts";
import { openPostgres } from "../../server/database/postgres.ts";
import { People } from "../../server/people/people.ts";
import { newDatabase, startCluster } from "../../server/test/postgres-cluster.ts";
import { endServer, startServer } from "../../server/test/server-process.ts";

/*
 * Saves and opens a second on this machine, and how long each takes, for people who save or open, wait a moment, and do it again;
 * on the embedded database and on PostgreSQL (which waits for the disk); and how that changes with the size of a library.
 */

const SECONDS = 8;
/** A player who types is saved every half second at most; one who opens passages is slower than that. */
const PAUSE_MS = 500;
/** "Busy" instead of a time. */
const REFUSED = -1;
const WORDS = "lantern oyster gravel tuba";
const passages = demoPassages();

class Person {
  private readonly agent = new Agent({ keepAlive: true, maxSockets: 1 });
  private id = "";
  private version = 1;

  constructor(
    private readonly url: string,
    readonly cookie: string,
    private readonly n: number,
  ) {}

  async ask(method: string, path: string, body?: object, ifMatch?: number): Promise<{ status: number; text: string }> {
    const headers: Record<string, string> = { "Content-Type": "application/json" };
    if (this.cookie) headers.Cookie = this.cookie;
    if (ifMatch !== undefined) headers["If-Match"] = `"${ifMatch}"`;
    const asked = request(new URL(path, this.url), { method, headers, agent: this.agent });
    asked.end(body && JSON.stringify(body));
    const [answer] = (await once(asked, "response")) as [import("node:http").IncomingMessage];
    let text = "";
    for await (const piece of answer.setEncoding("utf8")) text += piece;
    return { status: answer.statusCode!, text };
  }

  async begin(): Promise<void> {
    const made = await this.ask("POST", "/api/passages", passages[this.n % passages.length]);
    if (made.status !== 201) throw new Error(`${made.status} ${made.text}`);
    this.id = (JSON.parse(made.text) as { id: string }).id;
  }

  async save(): Promise<number> {
    const begun = performance.now();
    const title = `Save ${this.version}`;
    const { status, text } = await this.ask("PUT", `/api/passages/${this.id}`, { ...passages[this.n % passages.length], title }, this.version);
    if (status === 503) return REFUSED;
    if (status !== 200) throw new Error(`${status} ${text}`);
    this.version++;
    return performance.now() - begun;
  }

  async open(): Promise<number> {
    const begun = performance.now();
    const { status, text } = await this.ask("GET", `/api/passages/${this.id}`);
    if (status === 503) return REFUSED;
    if (status !== 200) throw new Error(`${status} ${text}`);
    return performance.now() - begun;
  }

  end(): void {
    this.agent.destroy();
  }
}

const at = (sorted: readonly number[], share: number) => sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))]!;

/** All of them do one thing over and over, with a pause in between. */
async function measured(label: string, people: readonly Person[], act: (person: Person) => Promise<number>): Promise<void> {
  const took: number[] = [];
  let refused = 0;
  const until = performance.now() + 1000 * SECONDS;
  await Promise.all(
    people.map(async (person, i) => {
      await new Promise((resolve) => setTimeout(resolve, (PAUSE_MS * i) / people.length));
      while (performance.now() < until) {
        const ms = await act(person);
        if (ms === REFUSED) refused++;
        else took.push(ms);
        await new Promise((resolve) => setTimeout(resolve, PAUSE_MS));
      }
    }),
  );
  const sorted = took.sort((a, b) => a - b);
  const figures = [0.5, 0.95, 0.99].map((share) => at(sorted, share).toFixed(0).padStart(5)).join(" ");
  process.stdout.write(
    `${label.padEnd(46)} ${(took.length / SECONDS).toFixed(0).padStart(5)} a second; ms p50 p95 p99 ${figures}${refused > 0 ? `; ${refused} times "busy"` : ""}\n`,
  );
}

const folder = mkdtempSync(join(tmpdir(), "rest-hand-bench-"));
const cluster = await startCluster({ durable: true });
try {
  for (const kind of ["embedded", "PostgreSQL"] as const) {
    const url = kind === "embedded" ? null : await newDatabase(cluster.url);
    const server = await startServer(join(folder, kind), { env: url ? { DATABASE_URL: url } : {} });
    const most = 400;
    const cookies: string[] = [];
    if (url) {
      const database = await openPostgres(url, pino({ level: "silent" }));
      const people = new People(database.db);
      for (let i = 0; i < most; i++) {
        await people.add(`Person ${i}`, WORDS, false);
        const signedIn = await fetch(`${server.url}api/sign-in`, {
          method: "POST",
          headers: { "Content-Type": "application/json" },
          body: JSON.stringify({ name: `Person ${i}`, passphrase: WORDS }),
        });
        cookies.push(signedIn.headers.getSetCookie()[0]?.split(";")[0] ?? "");
        if (i % 100 === 99) await database.client.query("delete from attempts");
      }
      await database.close();
    }
    const everybody = Array.from({ length: most }, (_, i) => new Person(server.url, cookies[i] ?? "", i));
    for (const person of everybody) await person.begin();
    // Threads that are cold take seconds.
    await Promise.all(everybody.map((person) => person.save()));
    for (const many of [10, 100, 400]) {
      const some = everybody.slice(0, many);
      await measured(`${kind}, ${many} people save`, some, (person) => person.save());
      await measured(`${kind}, ${many} people open`, some, (person) => person.open());
    }
    for (const person of everybody) person.end();
    await endServer(server, "SIGTERM");
  }

  // Growth: one library of a thousand passages, and a hundred thousand in the libraries of others.
  const url = await newDatabase(cluster.url);
  const database = await openPostgres(url, pino({ level: "silent" }), 1);
  await database.client.query("set statement_timeout = 0");
  const people = new People(database.db);
  await people.add("Nell", WORDS, false);
  const server = await startServer(join(folder, "growth"), { env: { DATABASE_URL: url } });
  const signedIn = await fetch(`${server.url}api/sign-in`, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ name: "Nell", passphrase: WORDS }),
  });
  const nell = new Person(server.url, signedIn.headers.getSetCookie()[0]!.split(";")[0]!, 0);
  await nell.begin();
  const grow = async (others: number, own: number) => {
    const query = (text: string, values: unknown[] = []) => database.client.query(text, values);
    await query("alter table passages disable trigger passages_change");
    await query("insert into people (name) select 'Other ' || n from generate_series(1, $1::int / 100) n on conflict do nothing", [others]);
    for (const table of ["instruments", "players"])
      await query(
        `insert into ${table} (owner, name, value, canonical) select p.id, t.name, t.value, t.canonical from people p, (select * from ${table} limit 1) t on conflict do nothing`,
      );
    const copied = `insert into passages (owner, title, document, card, instrument_id, player_id)
      select o.id, 'Copy ' || n, t.document, t.card, i.id, p.id from (select * from passages limit 1) t, generate_series(1, $1::int) n, people o
      join instruments i on i.owner = o.id join players p on p.owner = o.id where o.name like $2`;
    await query(copied, [100, "Other %"]);
    await query(copied, [own, "Nell"]);
    await query("alter table passages enable trigger passages_change");
    await query("vacuum analyze");
  };
  const sizes = async () => {
    const { rows } = await database.client.query<{ name: string; bytes: string }>(
      "select relname as name, pg_total_relation_size(oid) as bytes from pg_class where relname in ('passages', 'passages_owner_id_pk', 'passages_by_update', 'ledger') order by 1",
    );
    const { rows: counted } = await database.client.query<{ n: string }>("select count(*) as n from passages");
    return `${counted[0]!.n} passages: ${rows.map(({ name, bytes }) => `${name} ${Math.round(Number(bytes) / Number(counted[0]!.n))}`).join(", ")} bytes a passage`;
  };
  for (const [others, own, label] of [
    [0, 0, "1 passage"],
    [0, 1_000, "1,000 passages of one person"],
    [100_000, 0, "100,000 of a thousand others besides"],
  ] as const) {
    await grow(others, own);
    process.stdout.write(`${await sizes()}\n`);
    await measured(`${label}: one saves`, [nell], (person) => person.save());
    await measured(`${label}: one opens`, [nell], (person) => person.open());
    const begun = performance.now();
    const { status } = await nell.ask("GET", "/api/passages");
    process.stdout.write(`${`${label}: the list`.padEnd(46)} ${(performance.now() - begun).toFixed(0)} ms (${status})\n`);
  }
  nell.end();
  await endServer(server, "SIGTERM");
  await database.close();
} finally {
  await cluster.remove();
  rmSync(folder, { recursive: true, force: true });
}
