import type { FrettingPosture, PickingPosture, Posture } from "../../core/hands/postures.ts";
import { type PlanPath, planOf } from "../../core/plan/planner.ts";
import type { Problem } from "../../core/plan/problem.ts";
import type { HandShape } from "../../core/shapes/types.ts";

/*
 * What both hands do from the first step to the last, as text: a word for every posture, "word*3" where it is kept for three
 * steps. The words are these pages' own; players read other ones.
 */

export interface Sequence {
  fretting: string;
  picking: string;
}

export function sequenceOf({ steps }: Problem, { chosen }: PlanPath): Sequence {
  const words = (hand: "fretting" | "picking") => written(chosen.map((at, k) => wordOf(steps[k]![hand][at[hand]]!.posture)));
  return { fretting: words("fretting"), picking: words("picking") };
}

/** The cheapest plan in which both hands take these postures. Throws where a step has none of that name. */
export function pathThrough(problem: Problem, sequence: Sequence): PlanPath {
  const fretting = read(sequence.fretting, problem.steps.length);
  const picking = read(sequence.picking, problem.steps.length);
  const steps = problem.steps.map((step, k) => ({
    ...step,
    fretting: only(step.fretting, fretting[k]!, k),
    picking: only(step.picking, picking[k]!, k),
  }));
  const path = planOf({ ...problem, steps });
  if (path === null) throw new Error("no hand gets from one of these postures to the next in time");
  return path;
}

function only<S extends HandShape>(shapes: readonly S[], word: string, k: number): S[] {
  const found = shapes.filter((shape) => wordOf(shape.posture) === word);
  if (found.length === 0)
    throw new Error(`step ${k + 1} has no posture "${word}"; it has ${[...new Set(shapes.map((shape) => wordOf(shape.posture)))].join(", ")}`);
  return found;
}

function wordOf(posture: Posture): string {
  return posture.hand === "fretting" ? frettingWord(posture) : pickingWord(posture);
}

function frettingWord({ lean, across, thumb, spare }: FrettingPosture): string {
  const words = [
    across ? "across" : "",
    lean === 0 ? "" : `lean${strings(lean)}`,
    spare.kind === "laid" ? `laid${spare.strings.join("")}` : spare.kind === "along" ? `along${spare.string}` : "",
    thumb === "over" ? "over" : "",
  ].filter((word) => word !== "");
  return words.length > 0 ? words.join("+") : "home";
}

function pickingWord({ at, beside }: PickingPosture): string {
  const hand = `${at.kind}${"from" in at ? at.from : "string" in at ? at.string : ""}`;
  return beside ? `${hand}+${beside.part}${beside.at}` : hand;
}

function strings(mask: number): string {
  return Array.from({ length: 8 }, (_, s) => s + 1)
    .filter((s) => (mask & (1 << (s - 1))) !== 0)
    .join("");
}

function written(words: readonly string[]): string {
  const runs: { word: string; times: number }[] = [];
  for (const word of words) {
    const last = runs.at(-1);
    if (last?.word === word) last.times++;
    else runs.push({ word, times: 1 });
  }
  return runs.map(({ word, times }) => (times > 1 ? `${word}*${times}` : word)).join(" ");
}

function read(text: string, count: number): string[] {
  const words = text.split(" ").flatMap((run) => {
    const [word, times] = run.split("*");
    return new Array<string>(Number(times ?? 1)).fill(word!);
  });
  if (words.length !== count) throw new Error(`${words.length} postures for ${count} steps`);
  return words;
}
