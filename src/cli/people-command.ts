import { createInterface } from "node:readline";
import { Writable } from "node:stream";
import type { People } from "../server/people/people.ts";
import type { Io } from "./command-line.ts";

/** Accounts of a library that asks who somebody is: the one on DATABASE_URL, or in DATA_DIR while no server runs on it. */
export async function people(io: Io, [what = "", name]: string[]): Promise<number> {
  const { passphraseSchema, personName } = await import("../api/wire.ts");
  const { withLibrary } = await import("../server/maintenance.ts");
  if (what !== "list" && (!["add", "passphrase", "remove"].includes(what) || name === undefined)) {
    io.err("people takes list; add NAME; passphrase NAME; or remove NAME\n");
    return 1;
  }
  const read = async (): Promise<string | null> => {
    const given = passphraseSchema.safeParse(await passphraseOf(io));
    if (given.success) return given.data;
    io.err(`${given.error.issues[0]!.message}\n`);
    return null;
  };
  return withLibrary(async ({ people: all, forget }) => {
    if (what === "list") {
      for (const person of await all.list()) io.out(`${person.name}${person.mayInvite ? " (may invite)" : ""}\n`);
      return 0;
    }
    if (what === "add") {
      const called = personName.safeParse(name);
      if (called.success) return add(io, all, called.data, await read());
      io.err(`${called.error.issues[0]!.message}\n`);
      return 1;
    }
    const person = await all.find(name!);
    if (!person) {
      io.err(`Nobody here is called ${name}.\n`);
      return 2;
    }
    if (what === "remove") {
      await all.remove(person.id);
      forget(person.id);
      io.out(`${person.name} is removed, with everything that was theirs.\n`);
      return 0;
    }
    const passphrase = await read();
    if (passphrase === null) return 1;
    await all.setPassphrase(person.id, passphrase);
    io.out(`${person.name} has another passphrase.\n`);
    return 0;
  });
}

/** Whoever is made here may invite the others. */
async function add(io: Io, all: People, name: string, passphrase: string | null): Promise<number> {
  if (passphrase === null) return 1;
  if (!(await all.add(name, passphrase, true))) {
    io.err(`The name ${name} is taken.\n`);
    return 2;
  }
  io.out(`${name} has an account now, and may invite others.\n`);
  return 0;
}

/** A line of the standard input; where somebody types it, it is not shown. */
async function passphraseOf(io: Io): Promise<string> {
  const isTyped = process.stdin.isTTY === true;
  if (isTyped) io.err("Passphrase (12 characters or more, not shown): ");
  const nowhere = new Writable({ write: (_piece, _encoding, done) => done() });
  const lines = createInterface({ input: process.stdin, output: nowhere, terminal: isTyped });
  for await (const line of lines) {
    lines.close();
    if (isTyped) io.err("\n");
    return line;
  }
  return "";
}
