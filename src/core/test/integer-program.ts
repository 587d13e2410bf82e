import type { Highs } from "highs";
import type { Posture } from "../hands/postures.ts";
import { harmOf, moveCost, silenced, stayEffort } from "../plan/costs.ts";
import type { Cost } from "../plan/planner.ts";
import type { Problem, ProblemStep } from "../plan/problem.ts";

/*
 * The planning problem written a second time, as a mixed integer program for HiGHS. It shares
 * the shape list and the cost table with the planner and nothing else: no labels, no dominance,
 * no packed cache. Levels are fixed one after the other.
 */

interface Term {
  name: string;
  harm: number;
  rushed: number;
  stray: number;
  effort: number;
  changes: number;
}

interface Model {
  terms: Term[];
  constraints: string[];
  binaries: string[];
}

const LEVELS = ["harm", "rushed", "stray", "effort", "changes"] as const;

/** Optimal cost of a problem, level by level, by HiGHS. Throws when it finds none. */
export function optimumByHighs(highs: Highs, problem: Problem): Cost {
  const model = modelOf(problem);
  const fixed: string[] = [];
  const cost = { harm: 0, rushed: 0, stray: 0, effort: 0, changes: 0 };
  for (const level of LEVELS) {
    const terms = model.terms.filter((t) => t[level] !== 0).map((t) => `${t[level]} ${t.name}`);
    // Nothing at this level can cost anything.
    if (terms.length === 0) continue;
    const objective = sum(terms);
    const solution = highs.solve(
      [
        "Minimize",
        ` obj: ${objective}`,
        "Subject To",
        ...model.constraints.map((c, i) => ` c${i}: ${c}`),
        ...fixed,
        "Binary",
        ` ${model.binaries.join("\n ")}`,
        "End",
      ].join("\n"),
      { presolve: "off", mip_rel_gap: 0, mip_abs_gap: 0, output_flag: false },
    );
    if (solution.Status !== "Optimal") throw new Error(`HiGHS: ${solution.Status} at ${level}`);
    cost[level] = Math.round(solution.ObjectiveValue);
    fixed.push(` fix_${level}: ${objective} <= ${cost[level] + 0.25}`);
  }
  return cost;
}

/** Long lines are broken: the LP format allows it and the reader needs it. */
function sum(terms: readonly string[]): string {
  return terms.map((t, i) => (i > 0 && i % 8 === 0 ? `\n + ${t}` : i > 0 ? ` + ${t}` : t)).join("");
}

function modelOf(problem: Problem): Model {
  const model: Model = { terms: [], constraints: [], binaries: [] };
  problem.steps.forEach((step, k) => {
    chooseOnePair(model, step, k);
    if (k > 0) {
      flows(model, "F", problem.steps[k - 1]!, step, k);
      flows(model, "P", problem.steps[k - 1]!, step, k);
    }
    for (let s = 0; s < problem.strings; s++) remember(model, problem, step, k, s);
  });
  return model;
}

const pairName = (k: number, f: number, p: number) => `z_${k}_${f}_${p}`;

function chooseOnePair(model: Model, step: ProblemStep, k: number): void {
  const all: string[] = [];
  step.fretting.forEach((f, i) => {
    step.picking.forEach((p, j) => {
      const name = pairName(k, i, j);
      all.push(name);
      model.binaries.push(name);
      model.terms.push({ name, harm: harmOf(step, f, p), rushed: 0, stray: 0, effort: stayEffort(step, f, p, silenced(step, f, p)), changes: 0 });
    });
  });
  model.constraints.push(`${sum(all)} = 1`);
}

/** A unit of flow from the posture before to the posture now; moves nobody can make have no arc. */
function flows(model: Model, hand: "F" | "P", before: ProblemStep, now: ProblemStep, k: number): void {
  const side = hand === "F" ? "fretting" : "picking";
  const from = posturesOf(before, side);
  const to = posturesOf(now, side);
  const outgoing = new Map<Posture, string[]>([...from.keys()].map((key) => [key, []]));
  const incoming = new Map<Posture, string[]>([...to.keys()].map((key) => [key, []]));
  let arc = 0;
  for (const [a] of from)
    for (const [b] of to) {
      const cost = moveCost(now, a, b);
      if (cost === null) continue;
      const name = `y${hand}_${k}_${arc++}`;
      model.terms.push({ name, harm: 0, rushed: cost.rushedMs, stray: 0, effort: cost.effort, changes: cost.changes });
      outgoing.get(a)!.push(name);
      incoming.get(b)!.push(name);
    }
  const balance = (arcs: string[], pairs: string[]) =>
    model.constraints.push(`${sum([...arcs, ...pairs.map((p) => `-1 ${p}`)]).replaceAll("+ -1", "- 1")} = 0`);
  for (const [posture, shapes] of from) balance(outgoing.get(posture)!, pairsOf(before, k - 1, side, shapes));
  for (const [posture, shapes] of to) balance(incoming.get(posture)!, pairsOf(now, k, side, shapes));
}

function posturesOf(step: ProblemStep, side: "fretting" | "picking"): Map<Posture, number[]> {
  const postures = new Map<Posture, number[]>();
  step[side].forEach((shape, i) => {
    const known = postures.get(shape.posture);
    if (known) known.push(i);
    else postures.set(shape.posture, [i]);
  });
  return postures;
}

function pairsOf(step: ProblemStep, k: number, side: "fretting" | "picking", shapes: readonly number[]): string[] {
  const other = side === "fretting" ? step.picking : step.fretting;
  return shapes.flatMap((shape) => other.map((_, o) => (side === "fretting" ? pairName(k, shape, o) : pairName(k, o, shape))));
}

/** v_k_s_j is 1 when string s ends step k in state j: left alone it follows `next`, silenced it is 0. */
function remember(model: Model, problem: Problem, step: ProblemStep, k: number, s: number): void {
  const stakes = step.strings[s]!;
  const states = stakes.cost.length;
  if (states === 1) return;
  const silencing: string[] = [];
  step.fretting.forEach((f, i) => {
    step.picking.forEach((p, j) => {
      if ((silenced(step, f, p) & (1 << s)) !== 0) silencing.push(pairName(k, i, j));
    });
  });
  const before = k > 0 ? problem.steps[k - 1]!.strings[s]!.cost.length : 1;
  const handedOn = k > 0 ? problem.steps[k - 1]!.strings[s]!.last : [];
  const into = new Map<number, number[]>();
  for (let i = 0; i < before; i++) {
    const next = stakes.next[handedOn[i] ?? i] ?? stakes.fresh;
    into.set(next, [...(into.get(next) ?? []), i]);
  }
  const v = (step_: number, j: number) => `v_${step_}_${s}_${j}`;
  for (let j = 1; j < states; j++) {
    const sources = into.get(j) ?? [];
    model.terms.push({ name: v(k, j), harm: 0, rushed: 0, stray: stakes.cost[j]!, effort: stakes.faint[j]!, changes: 0 });
    if (sources.length === 0) {
      model.constraints.push(`${v(k, j)} = 0`);
      continue;
    }
    // From silence (state 0) the weight is one minus that of all other states.
    const positive = sources.filter((i) => i > 0).map((i) => v(k - 1, i));
    const others = sources.includes(0) ? Array.from({ length: before - 1 }, (_, i) => i + 1).filter((i) => !sources.includes(i)) : null;
    const terms = [v(k, j), ...silencing];
    if (others === null) {
      const line = `${sum(terms)}${positive.map((p) => ` - ${p}`).join("")} >= 0`;
      model.constraints.push(line);
    } else model.constraints.push(`${sum([...terms, ...others.map((i) => v(k - 1, i))])} >= 1`);
  }
}
