import { createHash, randomBytes } from "node:crypto";

/** A secret for a cookie or an address: 256 bits that nobody guesses. */
export function newSecret(): string {
  return randomBytes(32).toString("base64url");
}

/** What the database keeps of a secret: who reads it there can do nothing with it. */
export function sumOf(secret: string): string {
  return createHash("sha256").update(secret).digest("base64url");
}
