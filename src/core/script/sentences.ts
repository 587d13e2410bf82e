import { FoldCache, fold, type Stage } from "../caching/fold.ts";
import type { Action } from "../document/plan.ts";
import { type Chosen, chosenBy } from "../plan/chosen.ts";
import type { PlannedStages } from "../verdict/verdict.ts";
import { sentenceOf } from "../words/actions.ts";
import { actionsAt } from "./actions.ts";
import { comesBackLater, type Known, sameKnown } from "./known.ts";

/** What either hand does at a step as data, and said in a player's words: only what changes; empty when nothing does. */
export interface Script {
  actions: Action[];
  fretting: string;
  picking: string;
}

export class ScriptCache extends FoldCache<Known | null, Script> {}

/** The script of every step. */
export function scriptsOf(planned: PlannedStages, cache?: ScriptCache): Script[] {
  const { timeline, fingering, wrap, problem, path } = planned;
  const chosen = chosenBy(path, problem);
  const beside = [chosen.fretting, chosen.picking, fingering.hands, timeline.steps.map((_, i) => i === 0 && wrap.on)];
  return fold(SCRIPTS, { planned, chosen }, { keys: timeline.steps, beside, start: null, cache });
}

const SCRIPTS: Stage<{ planned: PlannedStages; chosen: Chosen }, Known | null, Script> = {
  same: sameKnown,
  passOn: (now, before, after, { actions }) => comesBackLater(now, before, after, actions),
  work: (before, i, { planned, chosen: { fretting, picking } }) => {
    const { actions, known } = actionsAt(planned, { fretting: fretting[i]!, picking: picking[i]! }, i, before);
    return [{ actions, fretting: sentenceOf(actions, "fretting"), picking: sentenceOf(actions, "picking") }, known];
  },
};
