import { spawn, spawnSync } from "node:child_process";
import { once } from "node:events";
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as after } from "node:timers/promises";
import { demoPassages } from "../src/core/test/demos.ts";
import { freePort, newDatabase, startCluster } from "../src/server/test/postgres-cluster.ts";
import { endServer, type ServerProcess, startServer } from "../src/server/test/server-process.ts";

/*
 * What deploy/compose.yaml starts, without containers: two servers, a PostgreSQL of their own and nginx with the same configuration.
 * `npm run topology` checks that it does what it should and ends; with --stay it stays up until it is stopped.
 */

const WORDS = "lantern oyster gravel tuba";
const failures: string[] = [];
const check = (is: boolean, says: string) => {
  process.stdout.write(`${is ? "  " : "NOT SO: "}${says}\n`);
  if (!is) failures.push(says);
};

if (spawnSync("nginx", ["-v"]).error) {
  process.stderr.write("nginx is missing: install Debian's package nginx-light.\n");
  process.exit(1);
}
const root = mkdtempSync(join(tmpdir(), "rest-hand-topology-"));
const cluster = await startCluster({ durable: true });
const url = await newDatabase(cluster.url);
const made = spawnSync(process.execPath, ["--import", "tsx", "src/cli/main.ts", "people", "add", "Nell"], {
  env: { ...process.env, DATABASE_URL: url },
  input: `${WORDS}\n`,
  encoding: "utf8",
});
check(made.status === 0, "the first account is made by the command line");
const port = await freePort();
const files = join(root, "files");
const start = () =>
  startServer(files, { env: { DATABASE_URL: url, TRUST_PROXY: "1", ALLOWED_HOSTS: `school.test:${port},127.0.0.1:${port}`, DRAIN_SECONDS: "1" } });
let [one, two] = (await Promise.all([start(), start()])) as [ServerProcess, ServerProcess];
check(one.url !== "" && two.url !== "", "two servers start at once on an empty database");

const settings: Record<string, string> = { SERVER_ONE: new URL(one.url).host, SERVER_TWO: new URL(two.url).host, LISTEN: `127.0.0.1:${port}` };
const site = readFileSync("deploy/nginx.conf.template", "utf8").replaceAll(/\$\{(\w+)\}/g, (all, name: string) => settings[name] ?? all);
mkdirSync(join(root, "temp"));
const temp = ["client_body", "proxy", "fastcgi", "uwsgi", "scgi"].map((kind) => `${kind}_temp_path ${join(root, "temp", kind)};`).join("\n");
const configuration = join(root, "nginx.conf");
writeFileSync(
  configuration,
  `daemon off;\npid ${join(root, "nginx.pid")};\nerror_log ${join(root, "error.log")};\nevents {}\nhttp {\naccess_log off;\n${temp}\n${site}\n}\n`,
);
const tested = spawnSync("nginx", ["-t", "-c", configuration], { encoding: "utf8" });
check(tested.status === 0, `nginx takes the configuration${tested.status === 0 ? "" : `: ${tested.stderr}`}`);
const proxy = spawn("nginx", ["-c", configuration], { stdio: "inherit" });
const base = `http://127.0.0.1:${port}`;
for (
  let i = 0;
  i < 100 &&
  !(await fetch(`${base}/api/health/ready`).then(
    ({ ok }) => ok,
    () => false,
  ));
  i++
)
  await after(100);

let cookie = "";
const ask = async (method: string, path: string, body?: object, headers: Record<string, string> = {}) => {
  const answer = await fetch(base + path, {
    method,
    headers: { "Content-Type": "application/json", Cookie: cookie, ...headers },
    ...(body ? { body: JSON.stringify(body) } : {}),
  });
  cookie = answer.headers.getSetCookie()[0]?.split(";")[0] ?? cookie;
  return answer;
};
check((await ask("GET", "/api/passages")).status === 401, "who has not signed in sees nothing");
check((await ask("POST", "/api/sign-in", { name: "Nell", passphrase: WORDS })).status === 200, "she signs in through the proxy");
const asked = await ask("GET", "/api/passages");
check(/^[\da-f]{32}$/.test(asked.headers.get("x-request-id") ?? ""), "the proxy's id of a request stands in its answer");
check((await ask("GET", "/api/metrics")).status === 404, "metrics are not to be had through the proxy");
check((await ask("GET", "/api/passages", undefined, { Origin: "http://elsewhere.test" })).status === 403, "another site's page is refused");

const [riff] = demoPassages();
const { id } = (await (await ask("POST", "/api/passages", riff)).json()) as { id: string };
const stream = await ask("GET", "/api/changes");
const told = stream.body!.pipeThrough(new TextDecoderStream()).getReader();
let heard = "";
const hears = async (text: string) => {
  const late = after(5_000, "late");
  while (!heard.includes(text)) {
    const piece = await Promise.race([told.read(), late]);
    if (piece === "late" || (piece as { done: boolean }).done) return false;
    heard += (piece as { value: string }).value;
  }
  return true;
};
check(await hears("anything"), "a stream of changes comes through the proxy at once");
let version = 1;
const save = async () => {
  const answer = await ask("PUT", `/api/passages/${id}`, { ...riff, title: `Save ${version}` }, { "If-Match": `"${version}"` });
  await answer.arrayBuffer();
  if (answer.status === 200) version++;
  return answer.status;
};
await save();
await save();
check(await hears(`"version":3`), "what either server saves is heard");

const during = async (ends: () => Promise<ServerProcess>) => {
  const statuses = new Map<number, number>();
  let going = true;
  const saving = (async () => {
    while (going) {
      const status = await save();
      statuses.set(status, (statuses.get(status) ?? 0) + 1);
    }
  })();
  const next = await ends();
  await after(300);
  going = false;
  await saving;
  return { next, said: [...statuses].map(([status, n]) => `${n} × ${status}`).join(", "), isWell: [...statuses.keys()].every((status) => status === 200) };
};
const restartedOn = async (old: ServerProcess, signal: NodeJS.Signals) => {
  await after(300);
  await endServer(old, signal);
  await after(300);
  const { port: own } = new URL(old.url);
  return startServer(files, { env: { DATABASE_URL: url, TRUST_PROXY: "1", ALLOWED_HOSTS: `127.0.0.1:${port}`, PORT: own } });
};
const ended = await during(() => restartedOn(one, "SIGTERM"));
one = ended.next;
check(ended.isWell, `a server is upgraded while she saves, and nothing is refused: ${ended.said}`);
const killed = await during(() => restartedOn(two, "SIGKILL"));
two = killed.next;
check(killed.isWell, `a server is killed while she saves, and the other one answers: ${killed.said}`);
const now = (await (await ask("GET", `/api/passages/${id}`)).json()) as { version: number };
check(now.version === version, `every one of ${version - 1} saves is there, once`);

if (process.argv.includes("--stay")) {
  process.stdout.write(`Up at ${base}: Nell, "${WORDS}". Stop it with Ctrl C.\n`);
  await once(process, "SIGINT");
}
await told.cancel();
const gone = once(proxy, "exit");
proxy.kill("SIGTERM");
await gone;
for (const server of [one, two]) await endServer(server, "SIGTERM");
await cluster.remove();
rmSync(root, { recursive: true, force: true });
process.stdout.write(failures.length === 0 ? "All as it should be.\n" : `${failures.length} not as it should be.\n`);
process.exitCode = failures.length === 0 ? 0 : 1;
