import { spawnSync } from "node:child_process";
import { existsSync } from "node:fs";
import { installPackages, run } from "./prepare.mjs";

// Everything CI checks, from a fresh clone: types, lint, import rules, unit tests, browser tests.
installPackages();
installChromium();
for (const step of ["check:types", "check:lint", "check:imports", "test:unit", "test:mutants", "build", "test:browser"]) {
  process.stdout.write(`\n== ${step}\n`);
  run("npm", ["run", "--silent", step]);
}

function installChromium() {
  if (process.env.CHROMIUM || existsSync("/usr/bin/chromium")) return;
  process.stdout.write("Installing Chromium …\n");
  const root = process.getuid?.() === 0 ? [] : ["sudo", "-n"];
  for (const args of [
    ["apt-get", "update", "-qq"],
    ["apt-get", "install", "-y", "-qq", "--no-install-recommends", "chromium"],
  ]) {
    const [command, ...rest] = [...root, ...args];
    const done = spawnSync(command, rest, { stdio: "inherit", env: { ...process.env, DEBIAN_FRONTEND: "noninteractive" } });
    if (done.status !== 0) {
      process.stderr.write("Chromium could not be installed. Install Debian's package chromium, or name a browser in CHROMIUM.\n");
      process.exit(1);
    }
  }
}
