import type { KnownLimits, Limit } from "../document/plan.ts";

/** Up to which tempo something still comes off: "to 146", "300+", "never". */
export function limitWords(limit: Limit | null): string {
  if (limit === null) return "never";
  return limit.bar === undefined ? `${limit.tempo}+` : `to ${limit.tempo}`;
}

/** What the hands can do and what is clean, side by side, as far as it is known. */
export function limitsWords({ hands, clean }: KnownLimits): string {
  return `hands ${limitWords(hands)}${clean === undefined ? "" : `, clean ${limitWords(clean)}`}`;
}

/** That nothing gives out up to the highest tempo looked at. */
export const NO_LIMIT = { hands: "No gesture runs out of time up to 300.", clean: "Nothing rings astray up to 300." } as const;
/** That it fails at the lowest tempo already. */
export const NEVER = { hands: "There is no time for some gesture even at 20.", clean: "Something rings astray even at 20." } as const;

/** What gives out first beyond a limit. */
export const FIRST_BEYOND = {
  hands: (tempo: number, move: string, bar: number, count: string) => `Faster than ${tempo} there is no time for the ${move} in bar ${bar} at ${count}.`,
  clean: (tempo: number, string: number, bar: number, count: string) => `Faster than ${tempo} string ${string} rings in bar ${bar} at ${count}.`,
} as const;
