import { ticksOf } from "../core/music/ticks.ts";
import type { Passage } from "../core/passage/schema.ts";
import { countOf } from "../core/timeline/timeline.ts";
import { heardStrays, type PlanDocument, type PlannedString } from "../core/verdict/document.ts";

const STATE_SIGNS: Readonly<Record<PlannedString["state"], string>> = {
  ring: "sounds",
  muffled: "palm-muted",
  thud: "dead stroke",
  free: "may ring on",
  damped: "damped",
  still: "still",
  stray: "STRAY RING",
};

/** A plan as readable text: one paragraph a step, then what still rings and the figures. */
export function planText(passage: Passage, plan: PlanDocument): string {
  const lines = [`${passage.title} · ${passage.tempo} quarters a minute`, ""];
  for (const step of plan.steps) {
    const bar = passage.bars[step.bar - 1]!;
    lines.push(`Bar ${step.bar}, ${countOf(ticksOf(step.at), bar)}`);
    if (step.fretting) lines.push(`  Fretting hand: ${step.fretting}`);
    if (step.picking) lines.push(`  Picking hand: ${step.picking}`);
    for (const string of step.strings) {
      const contacts = string.touchedBy.filter((t) => t.part !== "press").map((t) => `${t.part}${t.finger ? ` ${t.finger}` : ""} (${t.hand})`);
      const why = string.whyNot ?? [];
      lines.push(
        `    string ${string.string}: ${STATE_SIGNS[string.state]}${contacts.length > 0 ? ` by ${contacts.join(" + ")}` : ""}${string.strayDb === null ? "" : `, ${string.strayDb} dB over the threshold`}`,
      );
      for (const w of why) lines.push(`      not ${w.part}${w.finger ? ` ${w.finger}` : ""} (${w.hand}): ${w.reason}`);
    }
  }
  const heard = heardStrays(plan);
  lines.push("", heard.length === 0 ? "Nothing rings that should not." : `${heard.length} stray ring${heard.length === 1 ? "" : "s"}:`);
  for (const stray of heard)
    lines.push(`  string ${stray.string}, bar ${stray.fromBar} at ${stray.fromAt} to bar ${stray.toBar} at ${stray.toAt}: ${stray.cause}, ${stray.db} dB`);
  lines.push(
    plan.limits?.hands?.says ?? "There is no time for some gesture even at 20.",
    plan.limits?.clean?.says ?? "Something rings astray even at 20.",
    `Ceiling tempo: ${plan.ceilingTempo ?? "none"}${passage.goalTempo ? ` (goal ${passage.goalTempo})` : ""}`,
  );
  const { counts } = plan;
  lines.push(
    `Palm lifts ${counts.palmLiftsPerBar} a bar, index changes ${counts.indexChangesPerBar} a bar; strings stopped by the fretting hand ${counts.stoppedByFretting}, by the picking hand ${counts.stoppedByPicking}`,
  );
  if (plan.remedies?.length) lines.push("What would help:");
  for (const remedy of plan.remedies ?? []) lines.push(`  ${remedy.says}`);
  for (const pin of plan.pins ?? []) lines.push(`Pin ${pin.path}: ${pin.met ? "" : "not possible everywhere. "}${pin.says}`);
  for (const issue of plan.issues) lines.push(`Bar ${issue.bar} at ${issue.at}: ${issue.says}`);
  for (const neck of plan.bottlenecks)
    lines.push(`Bar ${neck.bar} at ${neck.at}: no time for ${neck.move} (${neck.needMs} ms needed, ${neck.haveMs} ms there)`);
  return `${lines.join("\n")}\n`;
}
