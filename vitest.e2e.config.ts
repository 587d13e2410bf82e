import { defineConfig } from "vitest/config";

export default defineConfig({ test: { include: ["e2e/**/*.test.ts"], testTimeout: 90000, hookTimeout: 120000, fileParallelism: false } });
