import { existsSync } from "node:fs";
import { installPackages, installProgram, run, runTogether } from "./prepare.mjs";

// Everything CI checks, from a fresh clone: types, lint, import rules, unit tests, browser tests.
installPackages();
if (!process.env.CHROMIUM) installProgram("chromium", existsSync("/usr/bin/chromium"), "Or name a browser in CHROMIUM.");
installProgram("postgresql", existsSync("/usr/lib/postgresql"), "Tests on a PostgreSQL server start one of their own in a temporary folder.");
await runTogether(["check:types", "check:lint", "check:imports", "build"]);
for (const step of ["test:unit", "test:mutants", "test:browser"]) {
  process.stdout.write(`\n== ${step}\n`);
  run("npm", ["run", "--silent", step]);
}
