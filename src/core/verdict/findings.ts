import { SIDE } from "../hands/parts.ts";
import { fractionOf } from "../music/ticks.ts";
import type { Passage, Pin } from "../passage/schema.ts";
import { covers, isUnmet } from "../shapes/pins.ts";
import type { StepShapes } from "../shapes/shapes.ts";
import type { Issue, Step, Timeline } from "../timeline/types.ts";
import type { PlannedStages } from "./verdict.ts";

/** All that the stages of a plan found wrong with the passage or could not do for it. */
export function issuesOf(passage: Passage, planned: PlannedStages): Issue[] {
  const { timeline, grips, fingering, wrap } = planned;
  return [...timeline.issues, ...grips.issues, ...fingering.issues, ...wrap.issues, ...palmIssues(planned), ...pinIssues(passage, planned)];
}

/** Palm-muted notes that no palm can cover, because a string on its way has to ring. */
function palmIssues({ timeline, problem, path }: PlannedStages): Issue[] {
  const issues: Issue[] = [];
  timeline.steps.forEach((step, i) => {
    const k = problem.stepOf[i]!;
    const stakes = problem.steps[k]!;
    if (stakes.muffled === 0 || !step.stroke) return;
    const { fretting, picking } = path.chosen[k]!;
    const bare = stakes.muffled & ~(stakes.picking[picking]!.muffles | stakes.fretting[fretting]!.muffles);
    if (bare === 0) return;
    step.sounding.forEach((note, s) => {
      if (!note || !step.begins[s] || (bare & (1 << s)) === 0) return;
      issues.push({
        code: "palm-cannot-cover",
        path: `/bars/${note.bar}/strokes/${note.stroke}/notes/${note.note}`,
        bar: step.bar + 1,
        at: fractionOf(step.atTicks),
        says: `The palm cannot mute string ${s + 1} here: it would have to lie on a string that should ring, or your school keeps it off.`,
      });
    });
  });
  return issues;
}

function pinIssues(passage: Passage, { timeline, shapes, pinsClash }: PlannedStages): Issue[] {
  if (pinsClash)
    return [{ code: "pin-unmet", path: "/pins", bar: 1, at: "0", says: "These pins cannot all be met one after the other; the plan leaves them aside." }];
  return (passage.pins ?? []).flatMap((pin, p) => {
    const step = unmetAt(pin, timeline, shapes);
    if (!step) return [];
    return [
      {
        code: "pin-unmet",
        path: `/pins/${p}`,
        bar: step.bar + 1,
        at: fractionOf(step.atTicks),
        says:
          pin.want === "demand"
            ? `The ${pin.contact.part} you asked for on string ${pin.string} is not possible here.`
            : `The ${pin.contact.part} on string ${pin.string} that you ruled out cannot be left out here.`,
      },
    ];
  });
}

/** The first step at which a pin asks for what no shape can do. */
export function unmetAt(pin: Pin, timeline: Timeline, shapes: readonly StepShapes[]): Step | undefined {
  return timeline.steps.find((step, i) => covers(pin, step, timeline) && isUnmet(pin, shapes[i]![SIDE[pin.contact.hand]].shapes));
}
