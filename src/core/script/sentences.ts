import { FoldCache, fold, type Stage } from "../caching/fold.ts";
import type { Action } from "../document/plan.ts";
import type { Outcome, PlannedStages } from "../verdict/verdict.ts";
import { sentenceOf } from "../words/actions.ts";
import { actionsAt } from "./actions.ts";
import { type Known, sameKnown } from "./known.ts";

/** What either hand does at a step as data, and said in a player's words: only what changes; empty when nothing does. */
export interface Script {
  actions: Action[];
  fretting: string;
  picking: string;
}

export class ScriptCache extends FoldCache<Known | null, Script> {}

/** The script of every step. */
export function scriptsOf(planned: PlannedStages, outcomes: readonly Outcome[], cache?: ScriptCache): Script[] {
  const { timeline, fingering, wrap } = planned;
  const shapes = (["fretting", "picking"] as const).map((hand) => outcomes.map((outcome) => outcome[hand]));
  const beside = [...shapes, fingering.hands, timeline.steps.map((_, i) => i === 0 && wrap.on)];
  return fold(SCRIPTS, { planned, outcomes }, { keys: timeline.steps, beside, start: null, cache });
}

const SCRIPTS: Stage<{ planned: PlannedStages; outcomes: readonly Outcome[] }, Known | null, Script> = {
  same: sameKnown,
  work: (before, i, { planned, outcomes }) => {
    const { actions, known } = actionsAt(planned, outcomes[i]!, i, before);
    return [{ actions, fretting: sentenceOf(actions, "fretting"), picking: sentenceOf(actions, "picking") }, known];
  },
};
