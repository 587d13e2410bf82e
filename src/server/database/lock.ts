import { createHash } from "node:crypto";
import { mkdirSync, realpathSync, rmSync } from "node:fs";
import { connect, createServer, type Server } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";

/** Another process holds the data directory. */
export class DirectoryInUse extends Error {
  constructor(readonly directory: string) {
    super(`The data directory ${directory} is in use by another Rest Hand. Stop that one, or set DATA_DIR to another place.`);
  }
}

export interface DirectoryLock {
  release(): Promise<void>;
}

/**
 * Takes a data directory for this process alone. Two processes on one database lose rows
 * without a word, so this is held for the life of the server. The lock is a listening socket,
 * which the kernel frees when the process dies, however it dies. Throws DirectoryInUse.
 */
export async function lockDirectory(directory: string): Promise<DirectoryLock> {
  mkdirSync(directory, { recursive: true });
  const name = `rest-hand-${createHash("sha256").update(realpathSync(directory)).digest("hex").slice(0, 24)}`;
  const address = addressOf(name);
  try {
    return lockOf(await listen(address));
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== "EADDRINUSE") throw error;
    // Where sockets are files, one may be left over from a dead process: nobody answers there.
    if (process.platform === "linux" || process.platform === "win32" || (await answers(address))) throw new DirectoryInUse(directory);
    rmSync(address, { force: true });
    return lockOf(await listen(address));
  }
}

function addressOf(name: string): string {
  if (process.platform === "linux") return `\0${name}`;
  if (process.platform === "win32") return `\\\\.\\pipe\\${name}`;
  return join(tmpdir(), `${name}.sock`);
}

function listen(address: string): Promise<Server> {
  return new Promise((resolve, reject) => {
    const server = createServer((socket) => socket.destroy());
    server.once("error", reject);
    server.listen({ path: address, exclusive: true }, () => {
      server.unref();
      resolve(server);
    });
  });
}

function answers(address: string): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = connect(address);
    socket.once("connect", () => {
      socket.destroy();
      resolve(true);
    });
    socket.once("error", () => resolve(false));
  });
}

function lockOf(server: Server): DirectoryLock {
  return { release: () => new Promise((resolve) => server.close(() => resolve())) };
}
