import { defineConfig } from "vitest/config";

/** Tests of the API and of what it does to a database: they run on the embedded one and on a PostgreSQL server. */
const ON_BOTH = ["app", "practice", "recordings", "backups/backups", "people", "changes", "teaching/teaching"].map((name) => `src/server/${name}.test.ts`);

// Three at a time on two processors, since tests of servers wait for them; the timeouts only end what hangs.
export default defineConfig({
  test: {
    maxWorkers: 3,
    testTimeout: 600000,
    hookTimeout: 600000,
    projects: [
      // The core has no state but its caches: its files share a process, warm as it is in use.
      { extends: true, test: { name: "core", include: ["src/core/**/*.test.ts"], isolate: false } },
      { extends: true, test: { name: "unit", include: ["src/**/*.test.ts", "src/**/*.test.tsx"], exclude: ["src/core/**"], provide: { cluster: null } } },
      { extends: true, test: { name: "postgres", include: ON_BOTH, globalSetup: "src/server/test/postgres-setup.ts" } },
    ],
  },
});
