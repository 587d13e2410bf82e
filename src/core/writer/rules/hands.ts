import type { RuleFor } from "./rule.ts";

/** One hand damps, the other only plays or only presses. It is how someone plays, so it holds for the whole passage. */
export const oneHandDamps: RuleFor<"one-hand-damps"> = (draft, { hand, bars }) => {
  const isSo = draft.settings.damps === hand;
  draft.player = { ...draft.player, damps: hand };
  const other = hand === "fretting" ? "the picking hand only plays" : "the fretting hand only presses";
  const everywhere = bars ? " For all bars: a hand does not change its ways in between." : "";
  return { changed: isSo ? 0 : 1, says: isSo ? "So it is already." : `The ${hand} hand damps, ${other}.${everywhere}`, clashes: [] };
};
