import { knownIn } from "../caching/known.ts";
import { harmOf, silenced, stateAfter, stateHandedOn, stayEffort } from "./costs.ts";
import type { ProblemStep } from "./problem.ts";

/** A string's state takes four bits of a memory, the top one spare. */
const STATE_BITS = 4;
const STATE = 7;

/** Two shapes together for a step, whatever came before. */
interface Pair {
  fretting: number;
  picking: number;
  silenced: number;
  harm: number;
  effort: number;
}

/** What a step's shapes and memories come to, each worked out once. */
export class Stakes {
  private readonly known = new Map<number, LeftOpen>();

  constructor(
    private readonly step: ProblemStep,
    private readonly strings: number,
  ) {}

  /** Pairs of shapes in the same postures, without those that another one before equals or betters in everything. */
  pairs(fretting: readonly number[], picking: readonly number[]): Pair[] {
    const { step } = this;
    let kept: Pair[] = [];
    for (const f of fretting)
      for (const p of picking) {
        const a = step.fretting[f]!;
        const b = step.picking[p]!;
        const mask = silenced(step, a, b);
        const harm = harmOf(step, a, b);
        const effort = stayEffort(step, a, b, mask);
        if (isBettered(kept, mask, harm, effort)) continue;
        const pair = { fretting: f, picking: p, silenced: mask, harm, effort };
        if (kept.length === 0) kept = [pair];
        else kept.push(pair);
      }
    return kept;
  }

  after(memory: number): LeftOpen {
    return knownIn(this.known, memory, () => new LeftOpen(this.step, this.strings, memory));
  }
}

function isBettered(kept: readonly Pair[], silencedMask: number, harm: number, effort: number): boolean {
  for (const pair of kept) if (pair.effort <= effort && pair.harm <= harm && (pair.silenced & silencedMask) === silencedMask) return true;
  return false;
}

/** What ringing on costs in a step after one memory, and what it leaves, per set of silenced strings. */
class LeftOpen {
  private readonly costs: number[];
  private readonly faints: number[];
  private readonly states: number[];
  private readonly known: { silenced: number; stray: number; faint: number; memory: number }[] = [];

  constructor(step: ProblemStep, strings: number, memory: number) {
    this.costs = new Array(strings);
    this.faints = new Array(strings);
    this.states = new Array(strings);
    for (let s = 0; s < strings; s++) {
      const stakes = step.strings[s]!;
      const state = stateAfter(stakes, (memory >>> (s * STATE_BITS)) & STATE);
      this.states[s] = stateHandedOn(stakes, state);
      this.costs[s] = stakes.cost[state]!;
      this.faints[s] = stakes.faint[state]!;
    }
  }

  left(silencedMask: number): { stray: number; faint: number; memory: number } {
    for (const known of this.known) if (known.silenced === silencedMask) return known;
    let stray = 0;
    let faint = 0;
    let memory = 0;
    for (let s = 0; s < this.costs.length; s++) {
      if ((silencedMask & (1 << s)) !== 0) continue;
      stray += this.costs[s]!;
      faint += this.faints[s]!;
      memory |= this.states[s]! << (s * STATE_BITS);
    }
    const made = { silenced: silencedMask, stray, faint, memory };
    this.known.push(made);
    return made;
  }
}
