import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { DEMO_LIBRARY, startServer } from "./kit.ts";

/** One demo library for all files, which each of them copies: to make it takes five times as long as to open it. */
export default async function setup(): Promise<() => void> {
  const directory = mkdtempSync(join(tmpdir(), "rest-hand-demo-"));
  const server = await startServer(directory);
  await server.end();
  process.env[DEMO_LIBRARY] = directory;
  return () => rmSync(directory, { recursive: true, force: true });
}
