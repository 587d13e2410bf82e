import { defineConfig } from "vitest/config";

// Three files at a time also on two processors, since much of what they do is waiting for sound and clocks; each with a server, a
// library and a browser of its own. The timeouts only end what hangs: on a machine that others use too, everything may take many
// times as long.
export default defineConfig({ test: { include: ["e2e/**/*.test.ts"], testTimeout: 600000, hookTimeout: 600000, maxWorkers: 3 } });
