import { defineConfig } from "vitest/config";

// Two files at a time, each with a server, a library and a browser of its own: three took as long on two processors. The timeouts only
// end what hangs: on a machine that others use too, everything may take many times as long.
export default defineConfig({
  test: { include: ["e2e/**/*.test.ts"], globalSetup: "e2e/demo-library.ts", testTimeout: 600000, hookTimeout: 600000, maxWorkers: 2 },
});
