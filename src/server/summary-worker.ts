import { parentPort } from "node:worker_threads";
import { finished, limits } from "../core/engine.ts";
import type { Passage } from "../core/passage/schema.ts";
import { summaryOf } from "../core/summary.ts";

/** What can be asked of a passage, and how it is worked out. */
const FIGURES = {
  summary: summaryOf,
  limits: (passage: Passage) => finished(limits(passage)),
} as const;
export type FigureKind = keyof typeof FIGURES;
export type FigureOf<K extends FigureKind> = ReturnType<(typeof FIGURES)[K]>;

parentPort!.on("message", ({ job, kind, passage }: { job: number; kind: FigureKind; passage: Passage }) => {
  try {
    parentPort!.postMessage({ job, figure: FIGURES[kind](passage) });
  } catch (error) {
    parentPort!.postMessage({ job, error: (error as Error).message });
  }
});
