import type { RoundStart } from "../../core/drills/metronome.ts";
import type { Drill } from "../../core/drills/types.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { atTempo } from "../../core/passage/tempo.ts";
import type { Damping } from "../../core/sound/score.ts";
import type { Samples } from "../jobs/jobs.ts";
import type { BackingChoice } from "./choices.ts";

/** A drill once through as samples. */
export type Render = (passage: Passage, how: { damping: Damping; string: number | null }) => Promise<Samples>;

/** As many as are kept: a minute of one takes 10 MB. */
const MOST_KEPT = 8;

/** What lies under the clicks of a drill, made ahead, tempo by tempo: it is never stretched. */
export class Backings<Buffer> {
  /** By drill, tempo and string; the one asked for longest ago first. Null while it is made, or where it could not be. */
  private readonly made = new Map<string, Buffer | null>();

  constructor(
    private readonly render: Render,
    private readonly bufferOf: (samples: Samples) => Buffer,
    private readonly choice: BackingChoice,
    private readonly onTrouble: (says: string) => void,
  ) {}

  /** What lies under a time through; null where there is nothing, or not yet. */
  under(drill: Drill, { round, tempo }: Pick<RoundStart, "round" | "tempo">): Buffer | null {
    this.prepare(drill, tempo, round + 1);
    return this.of(drill, tempo, this.stringIn(drill, round));
  }

  /** Makes what will be under a time through. */
  prepare(drill: Drill, tempo: number, round: number): void {
    this.of(drill, tempo, this.stringIn(drill, round));
  }

  private of(drill: Drill, tempo: number, string: number | null): Buffer | null {
    if (this.choice === "none" || drill.strokes === "silent") return null;
    const key = `${drill.id} ${tempo} ${string}`;
    const known = this.made.get(key);
    if (known !== undefined) {
      this.made.delete(key);
      this.made.set(key, known);
      return known;
    }
    this.made.set(key, null);
    if (this.made.size > MOST_KEPT) this.made.delete(this.made.keys().next().value!);
    const damping = this.choice === "apart" ? "planned" : this.choice;
    this.render(atTempo(drill.passage, tempo), { damping, string }).then(
      (samples) => this.made.has(key) && this.made.set(key, this.bufferOf(samples)),
      (error: Error) => this.onTrouble(error.message),
    );
    return null;
  }

  /** One string after the other, the lowest first, where they are heard apart. */
  private stringIn({ passage }: Drill, round: number): number | null {
    if (this.choice !== "apart") return null;
    const played = [...new Set(passage.bars.flatMap(({ strokes }) => strokes.flatMap(({ notes }) => notes.map(({ string }) => string))))].sort((a, b) => b - a);
    return played[round % played.length] ?? null;
  }
}
