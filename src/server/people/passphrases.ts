import { hash, verify } from "@node-rs/argon2";

/* Argon2id, the package's default, with 19 MiB, two passes and one lane: the least that OWASP's Password Storage Cheat Sheet names (from memory). */
const COST = { memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;

/** What is kept of a passphrase. */
export function keptOf(passphrase: string): Promise<string> {
  return hash(passphrase.normalize("NFKC"), COST);
}

let nobodys: Promise<string> | null = null;

/** Whether it is the one something was kept of. Where nothing was it takes as long, and is not. */
export async function isPassphrase(passphrase: string, kept: string | null): Promise<boolean> {
  nobodys ??= keptOf("a passphrase that nobody has");
  const isIt = await verify(kept ?? (await nobodys), passphrase.normalize("NFKC"));
  return kept !== null && isIt;
}
