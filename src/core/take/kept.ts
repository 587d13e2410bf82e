import type { Passage } from "../passage/schema.ts";
import type { KeptFinding, KeptTake } from "../practice/record.ts";
import { evenMsOf, type Judged, type Said, type SaidTake, summaryOf } from "./said.ts";

/** The log keeps no more of one take. */
const MOST_FINDINGS = 1000;

/** As much of a take as a log keeps. */
export function keptTakeOf(
  passage: Pick<Passage, "tempo">,
  result: Judged,
  said: SaidTake,
  { id, at, file, seconds }: Pick<KeptTake, "id" | "at" | "file" | "seconds">,
): KeptTake {
  return {
    ...{ id, at, file, seconds },
    written: passage.tempo,
    played: result.tempo,
    says: summaryOf(passage, result),
    findings: [...said.wrong, ...said.planned].flatMap(keptOf).slice(0, MOST_FINDINGS),
    notes: result.notes.length,
    untold: result.untold.length,
    evenMs: evenMsOf(result.strokes),
  };
}

function keptOf({ bar, tick, says, finding }: Said): KeptFinding[] {
  if (!finding) return [];
  const { kind, string = null, fromMs, toMs, planned } = finding;
  return [{ kind, ...(planned ? { planned } : {}), bar, tick, string, fromMs: Math.round(fromMs), toMs: Math.round(toMs), says }];
}
