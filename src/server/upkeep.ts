import type { Logger } from "pino";
import type { Care } from "./care.ts";
import type { Services } from "./services.ts";

/** How often it is looked whether a backup is due, in ms: with it at most an hour of work has none. */
const LOOK_MS = 5 * 60 * 1000;
/** How often every row is looked at, besides at the start, in ms. */
const CHECK_MS = 24 * 60 * 60 * 1000;
/** How often sign-ins, invitations, links, attempts and plans that no longer count are removed, in ms. */
const TIDY_MS = 60 * 60 * 1000;

interface Parts {
  log: Logger;
  care: Care;
  /** What removes by and by what no longer counts. */
  sweeps: readonly (() => Promise<void>)[];
  /** Everybody whose library is kept here; null where those who run a database server back it up, and look after it, by its own means. */
  everybody: (() => Promise<Services[]>) | null;
}

/** What a server does by the clock. */
export class Upkeep {
  private readonly timers: NodeJS.Timeout[] = [];

  constructor(private readonly parts: Parts) {}

  /** Begins, with what is due at once. */
  async begin(): Promise<void> {
    const { care, everybody, log } = this.parts;
    this.timers.push(setInterval(() => void this.tidy(), TIDY_MS));
    if (!everybody) return;
    for (const { recordings } of await everybody()) recordings.sweep();
    const look = () =>
      care.look().then(
        (faults) => faults.length > 0 && log.error({ faults }, "something of the library cannot be read"),
        (error) => log.error({ err: error }, "the library could not be looked through"),
      );
    const backUp = () => this.backUp(everybody);
    // First what is lost, then a backup: one of a library that lost something lets none go.
    await look();
    await backUp();
    this.timers.push(setInterval(backUp, LOOK_MS), setInterval(look, CHECK_MS));
  }

  end(): void {
    this.timers.forEach(clearInterval);
  }

  private async tidy(): Promise<void> {
    const { sweeps, log } = this.parts;
    await Promise.all(sweeps.map((sweep) => sweep())).catch((error) => log.error({ err: error }, "could not tidy up"));
  }

  private async backUp(everybody: () => Promise<Services[]>): Promise<void> {
    const { log } = this.parts;
    try {
      for (const { backups } of await everybody()) {
        const { leftOut } = await backups.writeDue();
        if (leftOut.length > 0) log.error({ leftOut }, "passages that cannot be read are not in the backup");
      }
    } catch (error) {
      log.error({ err: error }, "the backup could not be written");
    }
  }
}
