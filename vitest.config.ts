import { defineConfig } from "vitest/config";

// Two at a time even on two processors; the timeouts only end what hangs.
export default defineConfig({ test: { include: ["src/**/*.test.ts", "src/**/*.test.tsx"], maxWorkers: 2, testTimeout: 600000, hookTimeout: 600000 } });
