import { sql } from "drizzle-orm";
import { RateLimiterDrizzle, type RateLimiterRes } from "rate-limiter-flexible";
import type { Database } from "../database/database.ts";
import { attempts } from "../database/schema.ts";
import { Refusal } from "../problems.ts";

/** So many times in so many seconds, counted in the database, for all servers together. */
const LIMITS = {
  /** Passphrases tried for one name from one address. */
  "one door": { points: 10, duration: 15 * 60 },
  /** The same for one name from anywhere, and from one address for any name: a school has one address. */
  name: { points: 60, duration: 60 * 60 },
  address: { points: 300, duration: 60 * 60 },
} as const;

/** How often somebody may try to come in. */
export class Attempts {
  private readonly limiters: Record<keyof typeof LIMITS, RateLimiterDrizzle>;

  constructor(private readonly db: Database) {
    const limiter = (kind: keyof typeof LIMITS) =>
      new RateLimiterDrizzle({ storeClient: db, schema: attempts, keyPrefix: kind, clearExpiredByTimeout: false, ...LIMITS[kind] });
    this.limiters = { "one door": limiter("one door"), name: limiter("name"), address: limiter("address") };
  }

  /** Counts an attempt, of whoever has a name or of anybody at an address; refuses one too many, and says when the next is taken. */
  async count(name: string | null, address: string): Promise<void> {
    const { "one door": door, name: byName, address: byAddress } = this.limiters;
    const who = name?.toLowerCase();
    const named = who === undefined ? [] : ([[door, `${who} ${address}`] as const, [byName, who] as const] as const);
    for (const [limiter, key] of [...named, [byAddress, address] as const])
      await limiter.consume(key).catch((refused: RateLimiterRes | Error) => {
        if (refused instanceof Error) throw refused;
        const minutes = Math.ceil(refused.msBeforeNext / 60_000);
        const detail = `Try again in ${minutes} minute${minutes === 1 ? "" : "s"}.`;
        throw new Refusal({ status: 429, title: "Too many attempts", detail }, Math.ceil(refused.msBeforeNext / 1000));
      });
  }

  /** Who came in has their attempts forgiven. */
  async forgive(name: string, address: string): Promise<void> {
    await this.limiters["one door"].delete(`${name.toLowerCase()} ${address}`);
  }

  /** Removes what no longer counts. */
  async sweep(): Promise<void> {
    await this.db.delete(attempts).where(sql`${attempts.expire} < now()`);
  }
}
