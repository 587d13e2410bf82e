import type { PlanDocument } from "../../document/plan.ts";
import type { View } from "../../drawing/hands.ts";
import type { Passage } from "../../passage/schema.ts";
import { stepsByBar } from "../../verdict/steps-by-bar.ts";
import { wordsByBar } from "./hand-words.ts";
import { movedTo, svgOf, text } from "./ink.ts";
import { legend } from "./legend.ts";
import { newPostures } from "./pictures.ts";
import { barsInLine, type Drawn, type System, systemOf } from "./systems.ts";

/** A4 and Letter upright with 15 mm margins, in CSS pixels (96 to the inch). */
export const PAPERS = { a4: { says: "A4", widthPx: 680 }, letter: { says: "Letter", widthPx: 702 } } as const;
export type Paper = keyof typeof PAPERS;

/** Room for the title, and between two lines of music, in px. */
const TITLE = 44;
const BETWEEN = 18;

/** The plan as systems for the music stand, black on white; pictures of the hands mirrored where the right one frets. */
export function sheetOf(passage: Passage, plan: PlanDocument, widthPx: number = PAPERS.a4.widthPx, frets: View["frets"] = "left"): System[] {
  const systems: System[] = [];
  const drawn: Drawn = { passage, inBars: stepsByBar(plan, passage), words: wordsByBar(passage, plan), postures: newPostures(plan.steps), widthPx, frets };
  for (let first = 0; first < passage.bars.length; ) {
    const last = first + barsInLine(passage.bars, first, widthPx);
    systems.push(systemOf(drawn, first, last));
    first = last;
  }
  return systems;
}

/** All systems under one another in one drawing, with title and legend. */
export function sheetSvg(passage: Passage, plan: PlanDocument, paper: Paper = "a4", frets: View["frets"] = "left"): string {
  const { widthPx } = PAPERS[paper];
  let y = TITLE;
  const lines = sheetOf(passage, plan, widthPx, frets).map(({ content, heightPx }) => {
    const placed = movedTo(0, y, content);
    y += heightPx + BETWEEN;
    return placed;
  });
  const head = text(0, 26, passage.title, { size: 22, bold: true }) + text(widthPx, 26, `${passage.tempo} bpm`, { size: 14, anchor: "end" });
  const signs = legend(widthPx);
  return svgOf(widthPx, y + signs.heightPx, head + lines.join("") + movedTo(0, y, signs.content));
}
