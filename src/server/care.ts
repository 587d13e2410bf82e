import { ownersOf } from "./backups/snapshot.ts";
import { whyAway } from "./database/away.ts";
import type { Sql } from "./database/database.ts";
import { integrityOf, messageOf } from "./integrity.ts";
import type { PassageFault } from "./library.ts";
import type { WorkPool } from "./work/pool.ts";

/** Not oftener than that is the disk written to see whether it can be, in ms. */
const PULSE_EVERY_MS = 5_000;

/** Looks after a database while it is served: whether it can be read and written, and whether all of every library is there. */
export class Care {
  /** What the last look at every row found, a sentence each. */
  faults: readonly string[] = [];
  private pulse: { at: number; fault: Promise<string | null> } = { at: Number.NEGATIVE_INFINITY, fault: Promise.resolve(null) };
  private readonly unreadable = new Map<string, Map<string, PassageFault>>();
  /** Whose library has lost something: then no backup of it goes, an old one may be the only one that has it. */
  private readonly damaged = new Set<string>();

  constructor(
    private readonly client: Sql,
    private readonly pool: WorkPool,
  ) {}

  /** Why the database cannot be read and written just now; null where it can. */
  fault(): Promise<string | null> {
    const now = performance.now();
    if (now - this.pulse.at >= PULSE_EVERY_MS)
      this.pulse = {
        at: now,
        fault: this.client.query("insert into pulse values (1, now()) on conflict (id) do update set at = excluded.at returning at").then(
          () => null,
          (error) => {
            const why = whyAway(error);
            return `The library cannot be written${why === null ? messageOf(error) : `: ${why}`}.`;
          },
        ),
      };
    return this.pulse.fault;
  }

  /** By id: passages of somebody's library that cannot be read, as far as that has been noticed. */
  unreadableOf(owner: string): Map<string, PassageFault> {
    const known = this.unreadable.get(owner) ?? new Map<string, PassageFault>();
    this.unreadable.set(owner, known);
    return known;
  }

  isWhole(owner: string): boolean {
    return !this.damaged.has(owner);
  }

  /** Looks at every row of every library; what cannot be read is named on its Shelf. Returns what is wrong. */
  async look(): Promise<readonly string[]> {
    const found: string[] = [];
    for (const id of await ownersOf(this.client)) {
      if (id === null) continue;
      const { passages, others } = await integrityOf(this.client, id, this.pool);
      const unreadable = this.unreadableOf(id);
      unreadable.clear();
      for (const fault of passages) unreadable.set(fault.id, fault);
      if (passages.length + others.length > 0) this.damaged.add(id);
      else this.damaged.delete(id);
      found.push(...passages.map(({ title, says }) => `"${title}": ${says}`), ...others);
    }
    this.faults = found;
    return found;
  }
}
