import { harmOf, silenced, stateAfter, stateHandedOn, stayEffort } from "./costs.ts";
import type { ProblemStep } from "./problem.ts";

/** A string's state takes four bits of a memory, the top one spare. */
const STATE_BITS = 4;
const STATE = 7;

/** Two shapes together for a step, whatever came before. */
class Pair {
  fretting = 0;
  picking = 0;
  silenced = 0;
  harm = 0;
  effort = 0;
}

/** Pairs of shapes in the same postures. Their places are used again for the next. */
export class Pairs {
  count = 0;
  private readonly places: Pair[] = [];

  at(k: number): Pair {
    return this.places[k]!;
  }

  /** Takes up all of two postures, without those that another one before equals or betters in everything. */
  take(step: ProblemStep, fretting: readonly number[], picking: readonly number[]): void {
    this.count = 0;
    for (const f of fretting)
      for (const p of picking) {
        const a = step.fretting[f]!;
        const b = step.picking[p]!;
        const mask = silenced(step, a, b);
        const harm = harmOf(step, a, b);
        const effort = stayEffort(step, a, b, mask);
        if (this.isBettered(mask, harm, effort)) continue;
        if (this.count === this.places.length) this.places.push(new Pair());
        const pair = this.places[this.count++]!;
        pair.fretting = f;
        pair.picking = p;
        pair.silenced = mask;
        pair.harm = harm;
        pair.effort = effort;
      }
  }

  private isBettered(silencedMask: number, harm: number, effort: number): boolean {
    for (let k = 0; k < this.count; k++) {
      const pair = this.places[k]!;
      if (pair.effort <= effort && pair.harm <= harm && (pair.silenced & silencedMask) === silencedMask) return true;
    }
    return false;
  }
}

/** What ringing on costs in a step, and what it leaves, after what was left before and under the hands that silence some strings. */
export class Stakes {
  stray = 0;
  faint = 0;
  memory = 0;
  /** Of the memory they were last worked out for. */
  private remembered = Number.NaN;
  private readonly costs: number[] = [];
  private readonly faints: number[] = [];
  private readonly states: number[] = [];
  /** Strings, as bits, on which anything is left if they are left alone. */
  private open = 0;

  constructor(
    private readonly step: ProblemStep,
    private readonly strings: number,
  ) {}

  /** What is silenced after a memory; the answer stands in `stray`, `faint` and `memory`. */
  leave(memory: number, silencedMask: number): void {
    if (memory !== this.remembered) this.remember(memory);
    this.stray = 0;
    this.faint = 0;
    this.memory = 0;
    for (let open = this.open & ~silencedMask; open !== 0; open &= open - 1) {
      const s = 31 - Math.clz32(open & -open);
      this.stray += this.costs[s]!;
      this.faint += this.faints[s]!;
      this.memory |= this.states[s]!;
    }
  }

  private remember(memory: number): void {
    this.remembered = memory;
    this.open = 0;
    for (let s = 0; s < this.strings; s++) {
      const stakes = this.step.strings[s]!;
      const state = stateAfter(stakes, (memory >>> (s * STATE_BITS)) & STATE);
      this.costs[s] = stakes.cost[state]!;
      this.faints[s] = stakes.faint[state]!;
      this.states[s] = stateHandedOn(stakes, state) << (s * STATE_BITS);
      if (this.costs[s] !== 0 || this.faints[s] !== 0 || this.states[s] !== 0) this.open |= 1 << s;
    }
  }
}
