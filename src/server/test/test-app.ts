import { pino } from "pino";
import { createApp } from "../app.ts";
import { Care } from "../care.ts";
import { Changes } from "../changes.ts";
import { LOCAL_PERSON, type OpenDatabase } from "../database/database.ts";
import { OWN_MACHINE } from "../people/access.ts";
import { sharedRoutes } from "../routes/shared.ts";
import { servicesOf } from "../services.ts";
import { Summaries } from "../summaries.ts";
import type { WorkPool } from "../work/pool.ts";

export const HOST = "127.0.0.1:4310";

const listening = new WeakMap<OpenDatabase, Promise<Changes>>();

/** One that listens for all tests on a database. */
export function changesOf(database: OpenDatabase): Promise<Changes> {
  const changes = listening.get(database) ?? Changes.of(database);
  listening.set(database, changes);
  return changes;
}

/** The web application of a player on a machine of their own, over a database. */
export async function testApp(database: OpenDatabase, pool: WorkPool, directory = "/nowhere") {
  const care = new Care(database.client, pool);
  const places = { directory, secondBackups: null };
  const services = servicesOf({ database, care, changes: await changesOf(database), pool, places }, LOCAL_PERSON);
  const app = createApp({ log: pino({ level: "silent" }), hosts: () => [HOST, "localhost:4310"], page: null, pool });
  app.serve({ care, servicesOf: () => services, access: OWN_MACHINE, shared: sharedRoutes(database.db), summaries: new Summaries(pool, database.db) });
  return { app, care, ...services };
}

/** A body as the bytes it is. */
export function binary(response: unknown, done: (error: Error | null, body: Buffer) => void): void {
  const chunks: Buffer[] = [];
  const stream = response as NodeJS.ReadableStream;
  stream.on("data", (chunk: Buffer) => chunks.push(chunk));
  stream.on("end", () => done(null, Buffer.concat(chunks)));
}
