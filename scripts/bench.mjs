import { existsSync } from "node:fs";
import { buildPage, buildServer, installPackages, ROOT, run } from "./prepare.mjs";

// The benches run as built code, as the page's workers do, not through the TypeScript loader.
installPackages();
const { build } = await import("vite");
await build({
  configFile: false,
  root: ROOT,
  logLevel: "error",
  build: {
    ssr: true,
    rollupOptions: { input: { main: "src/benchmarks/main.ts", takes: "src/benchmarks/takes/main.ts" } },
    outDir: "node_modules/.bench",
    emptyOutDir: true,
    target: "node20",
    minify: false,
  },
});
await import("../node_modules/.bench/main.js");
buildServer();
run("node", ["--import", "tsx", "src/benchmarks/yardstick/main.ts"]);
run("node", ["node_modules/.bench/takes.js"]);
run("node", ["--import", "tsx", "src/benchmarks/harm.ts"]);
run("node", ["--import", "tsx", "src/benchmarks/server/main.ts"]);

if (existsSync(process.env.CHROMIUM ?? "/usr/bin/chromium")) {
  buildPage();
  run("node", ["--import", "tsx", "src/benchmarks/page.ts"]);
} else process.stdout.write("\nNo Chromium here: the page was not measured.\n");
