import { spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";

/** Folder of the project, wherever the command was started. */
export const ROOT = fileURLToPath(new URL("..", import.meta.url));

/** Runs a command in the project; its failure ends this process with the same code. */
export function run(command, args, options = {}) {
  const done = spawnSync(command, args, { cwd: ROOT, stdio: "inherit", ...options });
  if (done.error) throw done.error;
  if (done.status !== 0) process.exit(done.status ?? 1);
}

/** Runs scripts of the project side by side, and says of each what it said when it is over; one that fails ends this process with its code. */
export async function runTogether(scripts) {
  const all = scripts.map(
    (script) =>
      new Promise((resolve, reject) => {
        const child = spawn("npm", ["run", "--silent", script], { cwd: ROOT });
        const said = [];
        for (const stream of [child.stdout, child.stderr]) stream.on("data", (piece) => said.push(piece));
        child.on("error", reject);
        child.on("close", (code) => {
          process.stdout.write(`\n== ${script}\n${Buffer.concat(said)}`);
          resolve(code ?? 1);
        });
      }),
  );
  const failed = (await Promise.all(all)).find((code) => code !== 0);
  if (failed !== undefined) process.exit(failed);
}

/** Installs the packages of the lock file unless exactly these are there. */
export function installPackages() {
  const wanted = createHash("sha256")
    .update(readFileSync(`${ROOT}package-lock.json`))
    .digest("hex");
  const stamp = `${ROOT}node_modules/.rest-hand-lock`;
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === wanted) return;
  process.stdout.write("Installing packages …\n");
  run("npm", ["ci", "--no-audit", "--no-fund", "--loglevel=error"]);
  writeFileSync(stamp, wanted);
}

/** Builds the page with Vite. */
export function buildPage() {
  process.stdout.write("Building the page …\n");
  run("npx", ["--no-install", "vite", "build", "--logLevel", "warn"]);
}

/** Builds the server. */
export function buildServer() {
  run("npm", ["run", "--silent", "build:server"]);
}

/** Installs a package of Debian's unless it is there; without it this process ends. */
export function installProgram(name, isThere, hint) {
  if (isThere) return;
  process.stdout.write(`Installing ${name} …\n`);
  const root = process.getuid?.() === 0 ? [] : ["sudo", "-n"];
  for (const args of [
    ["apt-get", "update", "-qq"],
    ["apt-get", "install", "-y", "-qq", "--no-install-recommends", name],
  ]) {
    const [command, ...rest] = [...root, ...args];
    const done = spawnSync(command, rest, { stdio: "inherit", env: { ...process.env, DEBIAN_FRONTEND: "noninteractive" } });
    if (done.status !== 0) {
      process.stderr.write(`${name} could not be installed. Install Debian's package ${name}. ${hint}\n`);
      process.exit(1);
    }
  }
}
