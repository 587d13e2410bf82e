import { once } from "node:events";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Worker } from "node:worker_threads";
import { sixteenthRiff } from "../../src/benchmarks/passages.ts";
import { demoPassages } from "../../src/core/test/demos.ts";
import { HOSTILE } from "../../src/core/test/hostile-files.ts";
import { seeded } from "../../src/core/test/random-passages.ts";
import { endServer, startServer } from "../../src/server/test/server-process.ts";
import type { SoakOptions } from "./main.ts";

/** Nobody waits longer for a list while others work, in ms; and the server takes no more memory, in MB, idle again. */
const LONGEST_WAIT_MS = 200;
const IDLE_MB = 450;
/** Until threads that nobody needs have ended. */
const COOLING_MS = 45_000;

/** Looks at the list all the time, and tells how long each answer took, in ms. */
const LOOKER = `
  const { parentPort, workerData: { url, until } } = require("node:worker_threads");
  (async () => {
    const waits = [];
    let refused = 0;
    while (Date.now() < until) {
      const begun = performance.now();
      const answer = await fetch(url + "api/passages");
      await answer.text();
      if (!answer.ok) refused++;
      waits.push(performance.now() - begun);
    }
    parentPort.postMessage({ waits, refused });
  })();
`;

/** Minutes of players, of heavy passages and of hostile files all at once: how long others waited, and what memory it took. */
export async function staysUpUnderLoad({ seed, minutes }: SoakOptions): Promise<string[]> {
  const broken: string[] = [];
  // Made beforehand: what it takes to make them is nobody's wait.
  const hostile = HOSTILE.map(({ file }) => file(1) as Uint8Array<ArrayBuffer>);
  const directory = mkdtempSync(join(tmpdir(), "rest-hand-load-"));
  const server = await startServer(directory, { demo: true });
  const { url } = server;
  const memoryMb = () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.child.pid}/status`, "utf8"))![1]) / 1024;
  const until = performance.now() + minutes * 60_000;
  const waits: number[] = [];
  const statuses = new Map<number, number>();
  let mostMb = 0;
  const json = { "Content-Type": "application/json" };
  const ask = async (path: string, init?: RequestInit) => {
    const answer = await fetch(`${url}${path}`, init);
    const text = await answer.text();
    statuses.set(answer.status, (statuses.get(answer.status) ?? 0) + 1);
    if (answer.status >= 500 && answer.status !== 503) broken.push(`${answer.status} from ${path}: ${text.slice(0, 200)}`);
    return text;
  };
  // In a thread of its own: what this script does is nobody's wait.
  const looker = new Worker(LOOKER, { eval: true, workerData: { url, until: Date.now() + minutes * 60_000 } });
  const looking = once(looker, "message").then(([found]: { waits: number[]; refused: number }[]) => {
    waits.push(...found!.waits);
    if (found!.refused > 0) broken.push(`${found!.refused} looks at the list were refused`);
  });
  const watching = setInterval(() => (mostMb = Math.max(mostMb, memoryMb())), 100);
  const player = async (own: number) => {
    const random = seeded(seed + own);
    const passages = demoPassages();
    const { id } = JSON.parse(await ask("api/passages", { method: "POST", headers: json, body: JSON.stringify(passages[own % passages.length]) })) as {
      id: string;
    };
    for (let version = 1; performance.now() < until; version++) {
      const passage = { ...passages[Math.floor(random() * passages.length)]!, title: `Player ${own}, save ${version + 1}` };
      await ask(`api/passages/${id}`, { method: "PUT", headers: { ...json, "If-Match": `"${version}"` }, body: JSON.stringify(passage) });
      await ask(`api/passages/${id}/summary`);
    }
  };
  const heavy = async () => {
    const random = seeded(seed + 99);
    const { id } = JSON.parse(await ask("api/passages", { method: "POST", headers: json, body: JSON.stringify(sixteenthRiff(250)) })) as { id: string };
    while (performance.now() < until) {
      const body = hostile[Math.floor(random() * hostile.length)]!;
      const made = await ask("api/import", {
        method: "POST",
        headers: { "Content-Type": "application/octet-stream" },
        body,
      });
      const { id: stray } = JSON.parse(made) as { id?: string };
      if (stray) for (const query of ["", "?forever"]) await ask(`api/passages/${stray}${query}`, { method: "DELETE" });
      await ask(`api/export/${id}?format=${["svg", "musicxml", "csv", "mid"][Math.floor(random() * 4)]}`);
      if (random() < 0.1) await ask("api/backups", { method: "POST" });
    }
  };
  try {
    await Promise.all([looking, player(1), player(2), player(3), heavy()]);
    waits.sort((a, b) => a - b);
    const at = (share: number) => waits[Math.min(waits.length - 1, Math.floor(share * waits.length))]!.toFixed(0);
    process.stdout.write(`${waits.length} looks at the list: median ${at(0.5)} ms, 99% within ${at(0.99)} ms, the longest ${at(1)} ms\n`);
    process.stdout.write(`answers: ${[...statuses].map(([status, count]) => `${status} × ${count}`).join(", ")}; most memory ${mostMb.toFixed(0)} MB\n`);
    if (waits.at(-1)! > LONGEST_WAIT_MS) broken.push(`somebody waited ${at(1)} ms (${LONGEST_WAIT_MS} promised)`);
    await new Promise((resolve) => setTimeout(resolve, COOLING_MS));
    process.stdout.write(`idle again: ${memoryMb().toFixed(0)} MB\n`);
    if (memoryMb() > IDLE_MB) broken.push(`${memoryMb().toFixed(0)} MB idle (${IDLE_MB} promised)`);
  } finally {
    clearInterval(watching);
    await endServer(server, "SIGTERM");
    rmSync(directory, { recursive: true, force: true });
  }
  return broken;
}
