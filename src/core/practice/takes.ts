import type { KeptFinding, KeptTake } from "./record.ts";

/* What takes come to, as a log has them. */

/** What went wrong in a take; what the plan itself lets ring is not counted. */
export function wrongIn({ findings }: Pick<KeptTake, "findings">): KeptFinding[] {
  return findings.filter(({ planned }) => !planned);
}

const isSame = (a: KeptFinding, b: KeptFinding) => a.kind === b.kind && a.bar === b.bar && a.tick === b.tick && a.string === b.string;

/** One take against an earlier one: what went wrong then and not now, and the other way round. */
export function againstOf(before: KeptTake, now: KeptTake): { gone: KeptFinding[]; come: KeptFinding[] } {
  const [then, since] = [wrongIn(before), wrongIn(now)];
  return {
    gone: then.filter((one) => !since.some((other) => isSame(one, other))),
    come: since.filter((one) => !then.some((other) => isSame(one, other))),
  };
}

/** A take without its findings, one by one. */
export interface TakeCounts extends Pick<KeptTake, "id" | "at" | "says" | "seconds" | "written" | "played" | "evenMs"> {
  wrong: number;
  /** How often each string rang that should be still, from string 1 on; strings after the last that did are left out. */
  strays: number[];
}

export function countsOf(take: KeptTake): TakeCounts {
  const { id, at, says, seconds, written, played, evenMs } = take;
  const wrong = wrongIn(take);
  const strays: number[] = [];
  for (const { kind, string } of wrong) {
    if (kind !== "stray" || string === null) continue;
    while (strays.length < string) strays.push(0);
    strays[string - 1]!++;
  }
  return { id, at, says, seconds, written, played, evenMs, wrong: wrong.length, strays };
}
