import { defineConfig } from "vitest/config";

export default defineConfig({ test: { include: ["src/**/*.test.ts", "src/**/*.test.tsx"], testTimeout: 30000, hookTimeout: 60000 } });
