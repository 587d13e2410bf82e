import type { PGlite } from "@electric-sql/pglite";
import type { Backups } from "./backups/backups.ts";
import { integrityOf, messageOf } from "./integrity.ts";
import type { Library } from "./library.ts";
import type { WorkPool } from "./work/pool.ts";

/** Not oftener than that is the disk written to see whether it can be, in ms. */
const PULSE_EVERY_MS = 5_000;

/** Looks after a library while it is served: whether it can be read and written, and whether all of it is there. */
export class Care {
  /** What the last look at every row found, a sentence each. */
  faults: readonly string[] = [];
  private pulse: { at: number; fault: Promise<string | null> } = { at: Number.NEGATIVE_INFINITY, fault: Promise.resolve(null) };

  constructor(
    private readonly client: PGlite,
    private readonly library: Library,
    private readonly backups: Backups,
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
          (error) => `The library cannot be written${messageOf(error)}.`,
        ),
      };
    return this.pulse.fault;
  }

  /** Looks at every row; what cannot be read is named on the Shelf, and while anything is lost no backup goes. Returns what is wrong. */
  async look(): Promise<readonly string[]> {
    const { passages, others } = await integrityOf(this.client, this.pool);
    this.library.noteFaults(passages);
    this.faults = [...passages.map(({ title, says }) => `"${title}": ${says}`), ...others];
    this.backups.noteWhole(this.faults.length === 0);
    return this.faults;
  }
}
