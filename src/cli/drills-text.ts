import type { DrillPlan } from "../core/drills/types.ts";

/** A session as readable text: a paragraph a drill. */
export function drillsText(title: string, { minutes, drills }: DrillPlan): string {
  const lines = [`${title} · ${minutes} minutes`];
  if (drills.length === 0) lines.push("", "Nothing is played yet: there is nothing to drill.");
  for (const [i, drill] of drills.entries()) {
    const { tempo, ends } = drill;
    const times = `clean ${ends.times} ${ends.times === 1 ? "time" : "times"} at ${ends.cleanAt}`;
    lines.push(
      "",
      `${i + 1}. ${drill.title} (${drill.minutes} min), because ${drill.why}`,
      `   ${drill.does}`,
      `   Listen for: ${drill.listensFor}`,
      `   From ${tempo.start}, ${tempo.stepPercent}% up after ${tempo.cleanInARow} clean, ${-tempo.afterTwoFails}% down after two that are not; until ${times}${drill.strokes === "silent" ? "; without strokes" : ""}.`,
    );
  }
  return `${lines.join("\n")}\n`;
}
