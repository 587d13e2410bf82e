import { join } from "node:path";
import { fileURLToPath } from "node:url";

/* Where things lie. The built server is one folder, as deep in the project as this one: see vite.server.config.ts. */

/** The project's folder. */
export const ROOT = fileURLToPath(new URL("../..", import.meta.url));
/** The built page. */
export const PAGE = join(ROOT, "dist");
/** The program text that plans depend on. */
export const CORE = join(ROOT, "src/core");
export const MIGRATIONS = join(ROOT, "src/server/database/migrations");

const isBuilt = import.meta.url.endsWith(".js");
const THREADS = { work: "work/thread", create: "database/create-thread" } as const;

/** What a thread begins with: built code beside built code, else the same by the loader that runs TypeScript. */
export function threadFile(thread: keyof typeof THREADS): string {
  return fileURLToPath(new URL(isBuilt ? `./${thread}.js` : `./${THREADS[thread]}.mjs`, import.meta.url));
}
