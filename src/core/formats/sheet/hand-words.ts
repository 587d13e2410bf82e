import type { PlanDocument, PlannedStep } from "../../document/plan.ts";
import { ticksOf } from "../../music/ticks.ts";
import type { Passage } from "../../passage/schema.ts";
import { placeOf } from "../../timeline/counts.ts";
import { clauseOf } from "../../words/actions.ts";
import { figureOf } from "../../words/figures.ts";

/** A line of what hands do, as it stands on the page. */
export interface WordLine {
  says: string;
  bold: boolean;
  indent: boolean;
}

/** What each hand does in some bars, a paragraph a hand, broken to the page; a bar like an earlier one is named after it. */
export function handWords(passage: Passage, plan: PlanDocument, first: number, last: number, letters: number): WordLine[] {
  const said = new Map<string, number>();
  const bars = Array.from({ length: last }, (_, b) => barWords(passage, plan, b));
  return bars.flatMap((lines, b): WordLine[] => {
    if (lines.length === 0) return [];
    const like = said.get(lines.join("\n"));
    if (like === undefined) said.set(lines.join("\n"), b + 1);
    if (b < first) return [];
    if (like !== undefined) return [{ says: `${b + 1}: as bar ${like}`, bold: true, indent: false }];
    return lines.flatMap((line) => broken(`${b + 1} ${line}`, letters - 4).map((says, i) => ({ says, bold: false, indent: i > 0 })));
  });
}

/** A line for each hand that does something in a bar, and one for what still rings. */
function barWords(passage: Passage, plan: PlanDocument, b: number): string[] {
  const steps = plan.steps.filter((step) => step.bar - 1 === b);
  const lineOf = (title: string, of: (step: PlannedStep) => string) => {
    const bar = passage.bars[b]!;
    const figure = figureOf(
      steps.map((step) => ({ place: placeOf(ticksOf(step.at), bar), says: of(step) })),
      bar.meter[0],
    );
    return figure === "" ? [] : [`${title}: ${figure}`];
  };
  return [
    ...lineOf("fretting", ({ actions }) => clauseOf(actions.filter(({ hand }) => hand === "fretting"))),
    // Strokes stand over the lines as signs.
    ...lineOf("picking", ({ actions }) => clauseOf(actions.filter(({ hand, does }) => hand === "picking" && does !== "stroke"))),
    ...lineOf("STILL RINGS", (step) => rings(step)),
  ];
}

function rings(step: PlannedStep): string {
  const strings = step.strings.filter((string) => string.state === "stray").map((string) => string.string);
  return strings.length > 0 ? `string ${strings.join(", ")}` : "";
}

function broken(line: string, letters: number): string[] {
  const lines: string[] = [];
  let now = "";
  for (const word of line.split(" ")) {
    if (now !== "" && now.length + 1 + word.length > letters) {
      lines.push(now);
      now = word;
    } else now = now === "" ? word : `${now} ${word}`;
  }
  return [...lines, now];
}
