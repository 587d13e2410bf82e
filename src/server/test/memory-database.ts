import { PGlite } from "@electric-sql/pglite";
import { migrated, type OpenDatabase } from "../database/open.ts";

let image: Promise<Blob | File> | null = null;

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
