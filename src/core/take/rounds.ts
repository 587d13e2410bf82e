import type { Passage } from "../passage/schema.ts";
import type { PlannedStages } from "../verdict/verdict.ts";
import type { Clock } from "./align.ts";
import { saidOf } from "./said.ts";
import { takeOf } from "./take.ts";

/*
 * Takes of somebody who plays a passage over and over to a click: each time through is judged by itself as soon as its sound is there.
 * Where each begins is known, so that what a stroke is cannot be mistaken for the one beside it.
 */

/** One time through: when it begins and ends, in ms of what comes in. */
export interface Due {
  fromMs: number;
  toMs: number;
}

/** The sound of one time through. */
export interface RoundSound<D extends Due = Due> {
  due: D;
  samples: Float32Array;
  clock: Clock;
}

/** So much of the sound before and after it is looked at as well. */
const BEFORE_MS = 200;
const AFTER_MS = 250;
/** Nobody who plays to a click is further off, in ms. */
const WITHIN_MS = 90;
/** What ends so shortly before the passage begins anew ends because of that. */
const LOOP_MS = 250;

/** Sound as it comes in, cut into times through. */
export class Rounds<D extends Due = Due> {
  private pieces: Float32Array[] = [];
  /** The sample at which the first piece begins, and that after the last one. */
  private from = 0;
  private to = 0;
  private waiting: D[] = [];

  constructor(private readonly sampleRate: number) {}

  /** A time through that has begun, or soon will. */
  expect(due: D): void {
    this.waiting.push(due);
  }

  /** None of those that wait is of use any more. */
  forget(): void {
    this.waiting = [];
  }

  /** What came in next; `at` is its first sample where some before it may be lost. Gives every time through that is there now. */
  push(piece: Float32Array, at = this.to): RoundSound<D>[] {
    if (this.pieces.length === 0) this.from = this.to = at;
    else if (at > this.to) this.add(new Float32Array(at - this.to));
    this.add(piece);
    const ready = this.waiting.filter(({ toMs }) => this.sampleOf(toMs + AFTER_MS) <= this.to);
    this.waiting = this.waiting.filter((due) => !ready.includes(due));
    const heard = ready.map((due): RoundSound<D> => {
      const begins = Math.max(0, this.sampleOf(due.fromMs - BEFORE_MS));
      const samples = this.between(begins, this.sampleOf(due.toMs + AFTER_MS));
      return { due, samples, clock: { atMs: due.fromMs - (1000 * begins) / this.sampleRate, withinMs: WITHIN_MS } };
    });
    this.drop();
    return heard;
  }

  private add(piece: Float32Array): void {
    this.pieces.push(piece);
    this.to += piece.length;
  }

  private sampleOf(ms: number): number {
    return Math.round((ms * this.sampleRate) / 1000);
  }

  private between(from: number, to: number): Float32Array {
    const found = new Float32Array(Math.max(0, to - from));
    let at = this.from;
    for (const piece of this.pieces) {
      const [first, last] = [Math.max(from, at), Math.min(to, at + piece.length)];
      if (first < last) found.set(piece.subarray(first - at, last - at), first - from);
      at += piece.length;
    }
    return found;
  }

  /** Lets go what no time through needs any more; one that is not announced yet begins shortly before what comes next at the earliest. */
  private drop(): void {
    const needed = Math.min(this.to - this.sampleOf(1000), ...this.waiting.map(({ fromMs }) => this.sampleOf(fromMs - BEFORE_MS)));
    while (this.pieces[0] && this.from + this.pieces[0].length <= needed) this.from += this.pieces.shift()!.length;
  }
}

/** How one time through was; `unclear` where nothing, or something else, was heard. */
export type Judgement = { kind: "clean" } | { kind: "wrong"; says: string[] } | { kind: "unclear"; says: string };

/** Judges one time through of a passage at the tempo at which it was played. */
export function judgedRound(
  { samples, clock }: Pick<RoundSound, "samples" | "clock">,
  sampleRate: number,
  passage: Passage,
  planned: PlannedStages,
): Judgement {
  const result = takeOf(samples, sampleRate, passage, planned, clock);
  if (result.kind === "silence") return { kind: "unclear", says: "Nothing was heard." };
  if (result.kind !== "judged") return { kind: "unclear", says: "What was heard could not be told." };
  const endsMs = clock.atMs + planned.timeline.endMs;
  const { wrong } = saidOf(passage, planned, { ...result, findings: result.findings.filter(({ kind, toMs }) => kind !== "hole" || toMs < endsMs - LOOP_MS) });
  return wrong.length === 0 ? { kind: "clean" } : { kind: "wrong", says: wrong.map(({ place, says }) => `${place}: ${says}`) };
}
