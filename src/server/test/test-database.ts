import { PGlite } from "@electric-sql/pglite";
import { pino } from "pino";
import { inject } from "vitest";
import type { OpenDatabase } from "../database/database.ts";
import { migrated } from "../database/open.ts";
import { openPostgres } from "../database/postgres.ts";
import { newDatabase } from "./postgres-cluster.ts";

let image: Promise<Blob | File> | null = null;

/** A new, empty and migrated database: on the PostgreSQL server of these tests where they run on one, else embedded and in memory. */
export async function testDatabase(): Promise<OpenDatabase> {
  const cluster = inject("cluster");
  return cluster ? openPostgres(await newDatabase(cluster), pino({ level: "silent" })) : memoryDatabase();
}

/** A migrated PGlite in memory; the first one is dumped and the others start from its image. */
export async function memoryDatabase(): Promise<OpenDatabase> {
  image ??= makeImage();
  return migrated(new PGlite({ loadDataDir: await image }));
}

async function makeImage(): Promise<Blob | File> {
  const client = new PGlite();
  const { close } = await migrated(client);
  const dump = await client.dumpDataDir("none");
  await close();
  return dump;
}
