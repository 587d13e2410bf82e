import { buildPage, installPackages } from "./prepare.mjs";

// npm start: own data. npm run demo: demo data. Installs and builds what is missing first.
installPackages();
buildPage();
const { register } = await import("tsx/esm/api");
register();
const { serve } = await import("../src/server/main.ts");
await serve({ demo: process.argv.includes("--demo") });
