import type { PlanDocument, PlannedStep } from "../../document/plan.ts";
import { ticksOf } from "../../music/ticks.ts";
import type { Bar, Passage } from "../../passage/schema.ts";
import { placeOf } from "../../timeline/counts.ts";
import { clauseOf } from "../../words/actions.ts";
import { figureOf } from "../../words/figures.ts";

/** A line of what hands do, as it stands on the page. */
export interface WordLine {
  says: string;
  bold: boolean;
  indent: boolean;
}

/** What each hand does in one bar, a line a hand. */
export interface BarWords {
  lines: readonly string[];
  /** The first bar, counted from 0, that is like this one; null when this is it. */
  like: number | null;
}

/** What each hand does in every bar. */
export function wordsByBar(passage: Passage, plan: PlanDocument): BarWords[] {
  const steps = passage.bars.map((): PlannedStep[] => []);
  for (const step of plan.steps) steps[step.bar - 1]!.push(step);
  const said = new Map<string, number>();
  return passage.bars.map((bar, b) => {
    const lines = barWords(bar, steps[b]!);
    const key = lines.join("\n");
    const like = said.get(key) ?? null;
    if (like === null) said.set(key, b);
    return { lines, like };
  });
}

/** The words of some bars, broken to the page; a bar like an earlier one is named after it. */
export function handWords(words: readonly BarWords[], first: number, last: number, letters: number): WordLine[] {
  return words.slice(first, last).flatMap(({ lines, like }, i): WordLine[] => {
    const number = first + i + 1;
    if (lines.length === 0) return [];
    if (like !== null) return [{ says: `${number}: as bar ${like + 1}`, bold: true, indent: false }];
    return lines.flatMap((line) => broken(`${number} ${line}`, letters - 4).map((says, k) => ({ says, bold: false, indent: k > 0 })));
  });
}

/** A line for each hand that does something in a bar, and one for what still rings. */
function barWords(bar: Bar, steps: readonly PlannedStep[]): string[] {
  const lineOf = (title: string, of: (step: PlannedStep) => string) => {
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
