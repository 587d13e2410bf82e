import { heardStrays, type PlanDocument } from "../../core/document/plan.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { limitWords } from "../../core/words/limits.ts";

/** What players compare, in the order of the table; null while it is not known. */
export const FIGURES: readonly { title: string; of(passage: Passage, plan: PlanDocument): number | string | null | undefined }[] = [
  { title: "stray rings", of: (_, plan) => heardStrays(plan).length },
  { title: "faint", of: (_, { strays }) => strays.filter(({ faint }) => faint).length },
  { title: "hands keep up", of: (_, { limits }) => limitWords(limits.hands) },
  { title: "clean", of: (_, { limits: { clean } }) => (clean === undefined ? null : limitWords(clean)) },
  { title: "rushed moves", of: (_, plan) => plan.bottlenecks.length },
  { title: "gestures a bar", of: ({ bars }, { cost }) => rounded(cost.changes / bars.length) },
  { title: "palm lifts a bar", of: (_, { counts }) => rounded(counts.palmLiftsPerBar) },
  { title: "index changes a bar", of: (_, { counts }) => rounded(counts.indexChangesPerBar) },
  { title: "strokes", of: (passage) => strokes(passage).length },
  { title: "open", of: (passage) => tones(passage, "open") },
  { title: "palm-muted", of: (passage) => tones(passage, "palm") },
  { title: "dead strokes", of: (passage) => strokes(passage).filter((stroke) => stroke.as && stroke.as !== "play").length },
  { title: "accents", of: (passage) => strokes(passage).filter((stroke) => stroke.accent).length },
];

function strokes(passage: Passage) {
  return passage.bars.flatMap((bar) => bar.strokes);
}

/** Notes of one tone in strokes that play. */
function tones(passage: Passage, tone: "open" | "palm"): number {
  return strokes(passage)
    .filter((stroke) => (stroke.as ?? "play") === "play")
    .flatMap((stroke) => stroke.notes)
    .filter((note) => (note.tone ?? "open") === tone).length;
}

function rounded(figure: number): number {
  return Number(figure.toFixed(1));
}
