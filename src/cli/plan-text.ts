import { heardStrays, type PlanDocument } from "../core/document/plan.ts";
import { barLength } from "../core/music/beats.ts";
import { ticksOf } from "../core/music/ticks.ts";
import type { Passage } from "../core/passage/schema.ts";
import { settingsOf } from "../core/passage/settings.ts";
import { countOf } from "../core/timeline/counts.ts";
import { CAUSE_WORDS } from "../core/words/causes.ts";
import { touchWords } from "../core/words/contacts.ts";
import { limitsWords, NEVER } from "../core/words/limits.ts";
import { heardAs } from "../core/words/loudness.ts";
import { stateWords } from "../core/words/strings.ts";
import { tooFastBy } from "../core/words/time.ts";

/** "bar 2 at 3 &"; the end of the last bar by name. */
function placeWords(passage: Passage, bar: number, at: string): string {
  const { meter } = passage.bars[bar - 1]!;
  if (ticksOf(at) >= barLength(meter)) return `the end of bar ${bar}`;
  return `bar ${bar} at ${countOf(ticksOf(at), { meter })}`;
}

function upper(words: string): string {
  return `${words[0]!.toUpperCase()}${words.slice(1)}`;
}

/** A plan as readable text: one paragraph a step, then what still rings and the figures. */
export function planText(passage: Passage, plan: PlanDocument): string {
  const { gain } = settingsOf(passage);
  const lines = [`${passage.title} · ${passage.tempo} quarters a minute`, ""];
  for (const step of plan.steps) {
    const bar = passage.bars[step.bar - 1]!;
    lines.push(`Bar ${step.bar}, ${countOf(ticksOf(step.at), bar)}`);
    if (step.fretting) lines.push(`  Fretting hand: ${step.fretting}`);
    if (step.picking) lines.push(`  Picking hand: ${step.picking}`);
    for (const string of step.strings) {
      const contacts = string.touchedBy.filter((t) => t.part !== "press").map(touchWords);
      const why = string.whyNot ?? [];
      lines.push(
        `    string ${string.string}: ${stateWords(string)}${contacts.length > 0 ? ` by ${contacts.join(" + ")}` : ""}${string.strayDb === null ? "" : `, ${heardAs(string.strayDb, gain)}`}`,
      );
      for (const w of why) lines.push(`      not ${touchWords(w)}: ${w.reason}`);
    }
  }
  const heard = heardStrays(plan);
  lines.push("", heard.length === 0 ? "Nothing rings that should not." : `${heard.length} stray ring${heard.length === 1 ? "" : "s"}:`);
  for (const stray of heard)
    lines.push(
      `  string ${stray.string}, from ${placeWords(passage, stray.fromBar, stray.fromAt)} to ${placeWords(passage, stray.toBar, stray.toAt)}: ${CAUSE_WORDS[stray.cause]} (${heardAs(stray.db, gain)})`,
    );
  lines.push(
    plan.limits.hands?.says ?? NEVER.hands,
    ...(plan.limits.clean === undefined ? [] : [plan.limits.clean?.says ?? NEVER.clean]),
    `Up to which tempo: ${limitsWords(plan.limits)}${passage.goalTempo ? ` (goal ${passage.goalTempo})` : ""}`,
  );
  const { counts } = plan;
  lines.push(
    `Palm lifts ${counts.palmLiftsPerBar} a bar, index changes ${counts.indexChangesPerBar} a bar; strings stopped by the fretting hand ${counts.stoppedByFretting}, by the picking hand ${counts.stoppedByPicking}`,
  );
  if (plan.remedies?.length) lines.push("What would help:");
  for (const remedy of plan.remedies ?? []) lines.push(`  ${remedy.says}`);
  for (const pin of plan.pins ?? []) lines.push(`Pin ${Number(pin.path.split("/")[2]) + 1}: ${pin.met ? "" : "not possible everywhere. "}${pin.says}`);
  for (const issue of plan.issues) lines.push(`${upper(placeWords(passage, issue.bar, issue.at))}: ${issue.says}`);
  for (const neck of plan.bottlenecks)
    lines.push(`${upper(placeWords(passage, neck.bar, neck.at))}: no time for the ${neck.move}, it is too fast by ${tooFastBy(neck.needMs, neck.haveMs)}.`);
  return `${lines.join("\n")}\n`;
}
