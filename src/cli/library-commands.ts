import type { Io } from "./command-line.ts";
import { people } from "./people-command.ts";

/** Commands about a library; they need the database, which the others do without. */
export const LIBRARY_COMMANDS: Readonly<Record<string, { takes: string; counts: readonly number[]; run(io: Io, args: string[]): Promise<number> }>> = {
  check: { takes: "a data directory", counts: [1], run: (io, [directory]) => check(io, directory!) },
  restore: { takes: "a backup and a data directory", counts: [2], run: (io, [file, directory]) => restored(io, file!, directory!) },
  library: { takes: "move, and from where to where: data directories or URLs of PostgreSQL servers", counts: [3], run: library },
  people: { takes: "list; add NAME; passphrase NAME; or remove NAME", counts: [1, 2], run: people },
};

/** Runs one of them; 0 done, 1 wrong use, 2 something cannot be read. */
export async function runOnLibrary(name: string, args: string[], io: Io): Promise<number> {
  const command = LIBRARY_COMMANDS[name]!;
  if (!command.counts.includes(args.length) || args.some((arg) => arg.startsWith("-"))) {
    io.err(`${name} takes ${command.takes}\n`);
    return 1;
  }
  try {
    return await command.run(io, args);
  } catch (error) {
    const { DirectoryInUse } = await import("../server/database/lock.ts");
    io.err(`${(error as Error).message}\n`);
    return error instanceof DirectoryInUse ? 1 : 2;
  }
}

async function check(io: Io, directory: string): Promise<number> {
  const { checkDirectory } = await import("../server/maintenance.ts");
  const { faults, passages, backups } = await checkDirectory(directory);
  for (const fault of faults) io.out(`${fault}\n`);
  const counted = `${passages} passage${passages === 1 ? "" : "s"} and ${backups} backup${backups === 1 ? "" : "s"} can be read`;
  io.out(faults.length === 0 ? `All is well: ${counted}.\n` : `${counted}; ${faults.length} thing${faults.length === 1 ? "" : "s"} cannot.\n`);
  return faults.length === 0 ? 0 : 2;
}

async function library(io: Io, [what, from, to]: string[]): Promise<number> {
  if (what !== "move") {
    io.err("library takes move, and from where to where\n");
    return 1;
  }
  const { moveBetween } = await import("../server/maintenance.ts");
  const moved = await moveBetween(from!, to!);
  for (const [table, count] of Object.entries(moved)) io.out(`${count} ${table.replaceAll("_", " ")}\n`);
  io.out("Every row that arrived is the one that left. Recordings and backups lie in the data directory: they stay where they are.\n");
  return 0;
}

async function restored(io: Io, file: string, directory: string): Promise<number> {
  const { restoreDirectory } = await import("../server/maintenance.ts");
  const { done, setAside } = await restoreDirectory(file, directory);
  io.out(`${done.added} passages are in the library of ${directory} now.\n`);
  if (setAside) io.out(`What was there before lies in ${setAside}.\n`);
  return 0;
}
