import { createHash } from "node:crypto";
import type { NextStep } from "../api/wire.ts";
import type { Limits } from "../core/document/plan.ts";
import type { Passage } from "../core/passage/schema.ts";
import type { DrillState } from "../core/practice/schedule.ts";
import type { PlanSummary } from "../core/summary.ts";
import { canonical } from "./canonical.ts";
import type { WorkPool } from "./work/pool.ts";

/** Raised when plans come out differently, so that remembered summaries are made anew. */
const ENGINE_VERSION = 4;
/** As many as a Shelf shows; each takes some 10 kB. */
const MOST_REMEMBERED = 1000;

/** Plans of passages for the Shelf, remembered by everything they depend on. */
export class Summaries {
  private readonly known = new Map<string, Promise<unknown>>();
  /** The last one asked for. They are made one after the other, so that they take no thread from whoever waits for something. */
  private last: Promise<unknown> = Promise.resolve();

  constructor(private readonly pool: WorkPool) {}

  of(passage: Passage): Promise<PlanSummary> {
    return this.remembered("summary", passage, () => this.pool.run("summary", passage));
  }

  /** Up to which tempo the hands keep up, and up to which nothing rings astray. */
  limitsOf(passage: Passage): Promise<Limits> {
    return this.remembered("limits", passage, () => this.pool.run("limits", passage));
  }

  /** What to begin with when it is practised next: a session's first drill, after what was practised; what is due later rests. */
  nextOf(passage: Passage, states: readonly DrillState[], by: number): Promise<NextStep> {
    const practised = { history: states.flatMap(({ lately }) => lately), resting: states.filter(({ due }) => due > by).map(({ id }) => id) };
    // Asked for before: what is remembered is made one after the other.
    const limits = this.limitsOf(passage);
    return this.remembered(`next${JSON.stringify(practised)}`, passage, async () =>
      this.pool.run("firstDrill", { passage, limits: await limits, ...practised }),
    );
  }

  private remembered<T>(kind: string, passage: Passage, make: () => Promise<T>): Promise<T> {
    const key = createHash("sha256")
      .update(`${ENGINE_VERSION}${kind}${canonical(passage)}`)
      .digest("hex");
    const known = this.known.get(key);
    if (known) return known as Promise<T>;
    const made = this.last.then(make, make);
    this.last = made;
    this.known.set(key, made);
    made.catch(() => this.known.delete(key));
    if (this.known.size > MOST_REMEMBERED) this.known.delete(this.known.keys().next().value as string);
    return made;
  }
}
