import { spawn } from "node:child_process";
import { installPackages, ROOT } from "./prepare.mjs";

// The API with demo data and Vite's development server in front of it.
installPackages();
process.env.PORT ??= "4310";
const { createServer } = await import("vite");
const api = spawn(process.execPath, ["--import", "tsx", "-e", 'import("./src/server/main.ts").then((m) => m.serve({ demo: true }))'], {
  cwd: ROOT,
  stdio: "inherit",
});
const vite = await createServer({ root: ROOT });
await vite.listen();
vite.printUrls();
for (const signal of ["SIGINT", "SIGTERM"])
  process.on(signal, async () => {
    api.kill(signal);
    await vite.close();
    process.exit(0);
  });
