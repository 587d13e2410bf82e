import { change, type Told } from "../api/wire.ts";
import type { OpenDatabase } from "./database/database.ts";

type Hear = (change: Told) => void;

/** Pages of one person that hear at a time, on one server. */
const MOST_PAGES = 50;

/** Tells open pages what has changed in a library, on whichever server that was. */
export class Changes {
  private readonly pages = new Map<string, Set<Hear>>();
  private readonly ends = new Set<() => void>();

  static async of(database: Pick<OpenDatabase, "listen">): Promise<Changes> {
    const changes = new Changes();
    await database.listen({ onTold: (told) => changes.pass(told), onGap: () => changes.passToAll({ what: "anything" }) });
    return changes;
  }

  /** Hears of changes of somebody's library until the function that it returns is called; null where too many pages of theirs do already. */
  hear(owner: string, page: Hear): (() => void) | null {
    const all = this.pages.get(owner) ?? new Set();
    if (all.size >= MOST_PAGES) return null;
    this.pages.set(owner, all.add(page));
    return () => {
      all.delete(page);
      if (all.size === 0) this.pages.delete(owner);
    };
  }

  /** How many pages listen. */
  get count(): number {
    let sum = 0;
    for (const { size } of this.pages.values()) sum += size;
    return sum;
  }

  /** Ends what listens: this server is about to end, and pages go to another one. */
  end(): void {
    for (const stop of this.ends) stop();
  }

  /** Calls `stop` when this server is about to end; returns how to forget that. */
  onEnd(stop: () => void): () => void {
    this.ends.add(stop);
    return () => this.ends.delete(stop);
  }

  private pass(told: string): void {
    const { owner, ...rest } = JSON.parse(told) as { owner: string };
    const read = change.safeParse(rest);
    // A newer server may tell what this one does not know.
    for (const page of this.pages.get(owner) ?? []) page(read.success ? read.data : { what: "anything" });
  }

  private passToAll(told: Told): void {
    for (const pages of this.pages.values()) for (const page of pages) page(told);
  }
}
