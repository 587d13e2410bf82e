import { randomUUID } from "node:crypto";
import { once } from "node:events";
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { join, resolve } from "node:path";
import { setTimeout as after } from "node:timers/promises";
import { pino } from "pino";
import { createApp } from "./app.ts";
import { removeStaged } from "./backups/restore.ts";
import { ownersOf } from "./backups/snapshot.ts";
import { Care } from "./care.ts";
import { Changes } from "./changes.ts";
import { LOCAL_PERSON } from "./database/database.ts";
import { DirectoryInUse, type DirectoryLock, lockDirectory } from "./database/lock.ts";
import { LibraryNotUnderstood, openDatabase } from "./database/open.ts";
import { openOnceThere } from "./database/postgres.ts";
import { loadDemo } from "./demo.ts";
import { isLoopback, ownNames } from "./guard.ts";
import { Metrics } from "./metrics.ts";
import { accountAccess, OWN_MACHINE } from "./people/access.ts";
import { Attempts } from "./people/attempts.ts";
import { People } from "./people/people.ts";
import { SignIns } from "./people/sign-ins.ts";
import { PAGE, ROOT } from "./places.ts";
import { standMissing } from "./practice.ts";
import { sharedRoutes } from "./routes/shared.ts";
import { backUpAll, backupFolder, forget, type Places, type Services, servicesOf } from "./services.ts";
import { Summaries } from "./summaries.ts";
import { sweepLinks } from "./teaching/links.ts";
import { Upkeep } from "./upkeep.ts";
import { WorkPool } from "./work/pool.ts";

/** In ms: until a request's head is there, until all of it is, and until the next one on the same connection. */
const TIMEOUTS = { headersTimeout: 10_000, requestTimeout: 120_000, keepAliveTimeout: 15_000 } as const;

export interface ServeOptions {
  demo: boolean;
}

/**
 * Starts the server: locks the data directory, listens, then opens the library there; with DATABASE_URL, the one on that PostgreSQL
 * server, which other servers may use as well. Reads PORT, HOST, DATA_DIR and LOG_LEVEL. Ends cleanly on SIGINT and SIGTERM.
 */
export async function serve({ demo }: ServeOptions): Promise<void> {
  const host = process.env.HOST ?? "127.0.0.1";
  const port = Number(process.env.PORT ?? 4310);
  const directory = resolve(process.env.DATA_DIR ?? join(ROOT, demo ? "data-demo" : "data"));
  const log = pino({ level: process.env.LOG_LEVEL ?? "warn" });
  if (!Number.isInteger(port) || port < 0 || port > 65535) return stop(`PORT must be a number from 0 to 65535, not "${process.env.PORT}".`);

  const databaseUrl = process.env.DATABASE_URL || null;
  let lock: DirectoryLock | null = null;
  try {
    if (databaseUrl === null) lock = await lockDirectory(directory);
  } catch (error) {
    return stop(
      error instanceof DirectoryInUse ? error.message : `The data directory ${directory} cannot be used: ${(error as Error).message}`,
      error instanceof DirectoryInUse ? EXIT.use : EXIT.data,
    );
  }
  const server = createServer({ connectionsCheckingInterval: 5_000 });
  // Connections that begin and say nothing, or nothing more, are not kept.
  Object.assign(server, TIMEOUTS);
  const trustProxy = proxyIn(process.env.TRUST_PROXY);
  // Once it is bound; a server that is about to end has none any more, and still answers what comes on its connections.
  let bound = port;
  const names = () => ownNames(host, bound, process.env.ALLOWED_HOSTS, trustProxy !== undefined);
  const pool = new WorkPool(undefined, databaseUrl ? "all" : "one");
  const metrics = new Metrics();
  const hasLogin = databaseUrl !== null || !isLoopback(host);
  const metricsToken = process.env.METRICS_TOKEN || (hasLogin ? randomUUID() : null);
  const app = createApp({ log, hosts: names, pool, page: PAGE, metrics, metricsToken, ...(trustProxy === undefined ? {} : { trustProxy }) });
  server.on("request", app.express);
  try {
    server.listen(port, host);
    await once(server, "listening");
  } catch (error) {
    return stop(
      (error as NodeJS.ErrnoException).code === "EADDRINUSE" ? `Port ${port} is taken. Set PORT to another one.` : (error as Error).message,
      EXIT.use,
    );
  }
  bound = (server.address() as AddressInfo).port;
  const shown = host.includes(":") ? `[${host}]` : host;
  process.stdout.write(`Rest Hand is at http://${shown}:${bound}/ (opening the library…)\n`);
  const places: Places = { directory, secondBackups: process.env.BACKUP_DIR ? resolve(process.env.BACKUP_DIR) : null };
  const newestBackup = backupFolder(places, LOCAL_PERSON).newest();
  const giveUp = new AbortController();
  const opening = databaseUrl
    ? openOnceThere(databaseUrl, log, app.fail, giveUp.signal)
    : openDatabase(directory, (client) => backUpAll(client, places, pool), { newestBackup, mayCreate: process.env.NEW_LIBRARY === "yes" });
  let upkeep: Upkeep | null = null;
  let changes: Changes | null = null;
  const drainMs = 1000 * Number(process.env.DRAIN_SECONDS ?? 0);
  let ending = false;
  const end = async () => {
    if (ending) return;
    ending = true;
    upkeep?.end();
    // Whoever spreads requests over several servers has time to notice; what is under way is answered.
    app.drain();
    if (drainMs > 0) await after(drainMs);
    const closed = new Promise((resolve) => server.close(resolve));
    changes?.end();
    server.closeIdleConnections();
    await Promise.race([closed, after(LONGEST_ANSWER_MS)]);
    server.closeAllConnections();
    giveUp.abort();
    await pool.close();
    await opening.then((database) => database.close()).catch(() => {});
    await lock?.release();
    process.exit(0);
  };
  process.on("uncaughtException", (error) => {
    log.fatal({ err: error }, "a fault of the server");
    stop(`A fault of the server: ${error.message}. What was acknowledged is kept; start it again.`, EXIT.fault);
  });
  process.on("SIGINT", () => void end());
  process.on("SIGTERM", () => void end());

  try {
    const database = await opening;
    // What a restore that was killed has written; on a damaged page it costs nothing but its room.
    const swept = removeStaged(database.db, new Date(Date.now() - (databaseUrl ? LONGEST_RESTORE_MS : 0)))
      .then(() => standMissing(database.db))
      .catch((error) => log.error({ err: error }, "what a restore has left could not be swept away"));
    // A large database is served meanwhile: such rows are part of nothing.
    if (!databaseUrl) await swept;
    const care = new Care(database.client, pool);
    changes = await Changes.of(database);
    const common = { database, care, changes, pool, places };
    measure(metrics, pool, changes);
    const people = new People(database.db);
    if (demo || !hasLogin) await people.ensurePlayer();
    const known = new Map<string, Services>();
    const services = (person: string): Services => {
      const its = known.get(person) ?? servicesOf(common, person);
      // Where many come they would fill the memory; where few do, each remembers what it has backed up.
      if (!databaseUrl) known.set(person, its);
      return its;
    };
    const local = services(LOCAL_PERSON);
    if (demo) await loadDemo(local.library, local.practice, join(ROOT, "demo"));
    if (hasLogin && !(await people.hasAny())) process.stderr.write("Nobody has an account yet: make the first one with `npm run cli -- people add NAME`.\n");
    const [signIns, attempts, summaries] = [new SignIns(database.db), new Attempts(database.db), new Summaries(pool, database.db)];
    app.serve({
      care,
      servicesOf: services,
      access: hasLogin ? accountAccess(people, signIns, attempts, (person) => forget(places, person)) : OWN_MACHINE,
      shared: sharedRoutes(database.db),
      summaries,
    });
    upkeep = new Upkeep({
      log,
      care,
      sweeps: [...[people, signIns, attempts, summaries].map((one) => () => one.sweep()), () => sweepLinks(database.db)],
      everybody: databaseUrl ? null : async () => (await ownersOf(database.client)).filter((owner) => owner !== null).map(services),
    });
    process.stdout.write(`Ready: http://${shown}:${bound}/\n`);
    await upkeep.begin();
  } catch (error) {
    log.error({ err: error }, "the library could not be opened");
    if (ending) return;
    const why = databaseUrl ? `The library could not be opened: ${(error as Error).message}.` : reasonOf(error, directory, newestBackup);
    app.fail(why);
    process.stderr.write(`${why}\n`);
    process.exitCode = EXIT.data;
  }
}

/** How long a restore may be under way before what it has written counts as left behind, in ms. */
const LONGEST_RESTORE_MS = 60 * 60 * 1000;

/** What was begun has so many ms to end when the server does. */
const LONGEST_ANSWER_MS = 15_000;

function measure(metrics: Metrics, pool: WorkPool, changes: Changes): void {
  metrics.gauge("work_waiting", "Work of requests that waits for a thread", () => pool.waiting);
  metrics.gauge("pages_open", "Pages that hear changes", () => changes.count);
}

/** Which folder it is about, what went wrong as far as that is known, and where the newest backup lies. */
function reasonOf(error: unknown, directory: string, newestBackup: string | null): string {
  if (error instanceof LibraryNotUnderstood) return error.message;
  const cause = error instanceof Error && error.message ? error.message : "its database does not start";
  const backup = newestBackup ? `The newest backup is ${newestBackup}.` : "There is no backup beside it.";
  return `The library in ${directory} could not be opened: ${cause}. Nothing in it was changed. ${backup}`;
}

/** How many proxies are before this server, or which. */
function proxyIn(setting: string | undefined): number | string | undefined {
  if (!setting) return undefined;
  return /^\d+$/.test(setting) ? Number(setting) : setting;
}

/** Exit codes: for wrong use, for data that cannot be opened, and for what nobody expected. */
const EXIT = { use: 1, data: 2, fault: 3 } as const;

function stop(message: string, code: number = EXIT.use): void {
  process.stderr.write(`${message}\n`);
  process.exit(code);
}
