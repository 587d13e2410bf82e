import { createHash, randomBytes } from "node:crypto";
import { closeSync, existsSync, linkSync, mkdirSync, openSync, readdirSync, realpathSync, rmSync } from "node:fs";
import { connect, createServer, type Server } from "node:net";
import { join, relative } from "node:path";

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
 * Takes a data directory for this process alone. Two processes on one database lose rows without a word, so this is held for
 * the life of the server. The lock is a listening socket in the directory itself, so that it holds between containers that share
 * a volume of one machine, and the kernel frees it when the process dies, however it dies. Throws DirectoryInUse.
 *
 * Locks are numbered. A process that finds nobody answering at the highest number takes the next one: to link a socket to a name
 * that is there already fails, so of several only one gets it. Lower ones are cleared away, the highest never is: else somebody
 * who has just looked could take a number that another has already passed.
 */
export async function lockDirectory(directory: string): Promise<DirectoryLock> {
  if (!existsSync(directory)) mkdirSync(directory, { recursive: true });
  if (process.platform === "win32") return lockPipe(directory);
  const locks = join(directory, "lock");
  makeFolder(locks);
  const folder = openSync(locks, "r");
  try {
    const own = `own-${randomBytes(6).toString("hex")}`;
    const server = await listen(addressIn(locks, folder, own));
    // Named here before anybody can find it; the number is what counts.
    try {
      await take(directory, locks, folder, own);
    } catch (error) {
      await closed(server);
      throw error;
    } finally {
      rmSync(join(locks, own), { force: true });
    }
    return { release: () => closed(server) };
  } finally {
    closeSync(folder);
  }
}

/** One folder alone: of a disk that cannot be written Node does not say so where it is asked for all that lead there. */
function makeFolder(place: string): void {
  try {
    mkdirSync(place);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== "EEXIST") throw error;
  }
}

async function take(directory: string, locks: string, folder: number, own: string): Promise<void> {
  for (;;) {
    const highest = Math.max(0, ...numbersIn(locks));
    if (highest > 0 && (await answers(addressIn(locks, folder, nameOf(highest))))) throw new DirectoryInUse(directory);
    const mine = highest + 1;
    try {
      linkSync(join(locks, own), join(locks, nameOf(mine)));
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === "EEXIST") continue;
      throw error;
    }
    // Whoever was slow to look may have taken a number that others have passed: then it counts for nothing.
    const numbers = numbersIn(locks);
    if (numbers.some((number) => number > mine)) {
      rmSync(join(locks, nameOf(mine)), { force: true });
      continue;
    }
    for (const number of numbers) if (number < mine) rmSync(join(locks, nameOf(number)), { force: true });
    return;
  }
}

const NAME = /^(\d+)\.lock$/;

function nameOf(number: number): string {
  return `${number}.lock`;
}

function numbersIn(locks: string): number[] {
  return readdirSync(locks).flatMap((name) => {
    const match = NAME.exec(name);
    return match ? [Number(match[1])] : [];
  });
}

/** A socket's address has room for some hundred bytes, a path may be longer: the open folder gives a short one on Linux. */
function addressIn(locks: string, folder: number, name: string): string {
  if (process.platform === "linux") return `/proc/self/fd/${folder}/${name}`;
  const [whole, from] = [join(locks, name), relative(process.cwd(), join(locks, name))];
  return from.length < whole.length ? from : whole;
}

/** A pipe that the kernel frees; Windows has no containers that share a volume with it. */
async function lockPipe(directory: string): Promise<DirectoryLock> {
  const name = createHash("sha256").update(realpathSync(directory)).digest("hex").slice(0, 24);
  try {
    const server = await listen(`\\\\.\\pipe\\rest-hand-${name}`);
    return { release: () => closed(server) };
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "EADDRINUSE") throw new DirectoryInUse(directory);
    throw error;
  }
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
    // Refused, or no such file: nobody is there. Anything else, such as a queue that is full, is somebody.
    socket.once("error", ({ code }: NodeJS.ErrnoException) => resolve(code !== "ECONNREFUSED" && code !== "ENOENT"));
  });
}

function closed(server: Server): Promise<void> {
  return new Promise((resolve) => server.close(() => resolve()));
}
