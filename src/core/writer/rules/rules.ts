import type { Rule } from "../../passage/schema.ts";
import type { Draft } from "../draft.ts";
import type { RuleReport } from "../report.ts";
import { backbeat, ghosts, rake } from "./dead-strokes.ts";
import { oneHandDamps } from "./hands.ts";
import type { RuleFor } from "./rule.ts";
import { plain, shuffleUps, strokes, throughAll } from "./strokes.ts";
import { boomBrush, pattern, thumbSwing } from "./strumming.ts";
import { mutedRoots, palmButAccents, pressedAccents, restAfterBass } from "./tones.ts";

/** Every rule of the Writer. */
const RULES: { [K in Rule["kind"]]: RuleFor<K> } = {
  pattern,
  "boom-brush": boomBrush,
  "thumb-swing": thumbSwing,
  plain,
  strokes,
  "shuffle-ups": shuffleUps,
  backbeat,
  ghosts,
  "muted-roots": mutedRoots,
  "palm-but-accents": palmButAccents,
  "rest-after-bass": restAfterBass,
  "pressed-accents": pressedAccents,
  rake,
  "through-all": throughAll,
  "one-hand-damps": oneHandDamps,
};

/** Applies a rule, whichever it is; see `RuleFor`. */
export function applyRule(draft: Draft, rule: Rule, bars: readonly number[], kept: ReadonlySet<string>): RuleReport {
  const apply = RULES[rule.kind] as (draft: Draft, rule: Rule, bars: readonly number[], kept: ReadonlySet<string>) => RuleReport;
  return apply(draft, rule, bars, kept);
}
