import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";

/** The server as it is run: `npm run build:server` makes it. */
export const BUILT_SERVER = "build/server/serve.js";

/** The real server as a process of its own. */
export interface ServerProcess {
  child: ChildProcess;
  /** Empty where it was not ready. */
  url: string;
  errors(): string;
}

/** Starts it on a free port; resolves when it says that it is ready, or why not, or ends, or where `untilReady` is false, at once. */
export async function startServer(directory: string, { demo = false, untilReady = true, env = {} as NodeJS.ProcessEnv } = {}): Promise<ServerProcess> {
  const child = spawn(process.execPath, [BUILT_SERVER, ...(demo ? ["--demo"] : [])], {
    // As `npm start` sets it: memory that threads leave behind goes back.
    env: { ...process.env, MALLOC_ARENA_MAX: "2", MALLOC_MMAP_THRESHOLD_: "131072", PORT: "0", HOST: "127.0.0.1", DATA_DIR: directory, ...env },
    stdio: ["ignore", "pipe", "pipe"],
  });
  let out = "";
  let errors = "";
  const failed = new Promise<string>((resolve) => {
    child.stderr!.on("data", (chunk) => {
      errors += chunk;
      // It goes on, and answers why.
      if (/^(The library in|There is no library in|.+ holds files, but)/m.test(errors)) resolve("");
    });
  });
  const ready = new Promise<string>((resolve) => {
    child.stdout!.on("data", (chunk) => {
      out += chunk;
      const match = /Ready: (http:\S+)/.exec(out);
      if (match) resolve(match[1]!);
    });
  });
  const url = untilReady ? await Promise.race([ready, failed, once(child, "exit").then(() => "")]) : "";
  return { child, url, errors: () => errors };
}

/** Ends it by a signal and waits until it has ended. */
export async function endServer({ child }: ServerProcess, signal: NodeJS.Signals): Promise<void> {
  const gone = child.exitCode === null && child.signalCode === null ? once(child, "exit") : Promise.resolve();
  child.kill(signal);
  await gone;
}
