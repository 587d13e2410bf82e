import type { Finding, TakeResult } from "./take.ts";

const isSame = (a: Finding, b: Finding) => a.kind === b.kind && a.step === b.step && a.string === b.string;

/** One take against the one before it: what went wrong then and not now, and the other way round. What the plan itself lets ring counts for neither. */
export function againstOf(before: TakeResult, now: TakeResult): { gone: Finding[]; come: Finding[] } {
  const wrong = (result: TakeResult) => (result.kind === "judged" ? result.findings.filter(({ planned }) => !planned) : []);
  const [then, since] = [wrong(before), wrong(now)];
  return {
    gone: then.filter((one) => !since.some((other) => isSame(one, other))),
    come: since.filter((one) => !then.some((other) => isSame(one, other))),
  };
}
