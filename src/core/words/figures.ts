import type { CountedPlace } from "../timeline/counts.ts";

/** What one hand does at one moment of a bar. */
export interface Moment {
  place: CountedPlace;
  /** What it does, without its count; empty where it goes on. */
  says: string;
}

/** What a hand goes back to between what is said: to say it once more changes nothing. */
const BETWEEN: readonly string[] = ["let go", "press"];

/**
 * What a hand does in one bar, in the fewest words that still say all of it: what is done at several places once with all of
 * them, what it goes back to in between as "else", what every beat has alike as one beat. The first of the shortest is taken, so
 * that it is the same on every run.
 */
export function figureOf(moments: readonly Moment[], beats: number): string {
  if (moments.every(({ says }) => says === "")) return "";
  const ways = [plain(moments), ...BETWEEN.map((back) => withElse(moments, back)), everyBeat(moments, beats)];
  const said = ways.filter((way) => way !== null);
  return said.reduce((best, way) => (wordsIn(way) < wordsIn(best) ? way : best));
}

export function wordsIn(text: string): number {
  return text.split(/\s+/).filter((word) => /[\p{L}\p{N}&]/u.test(word)).length;
}

/** "1, 2 & (press) · 1 e (let go)". */
function plain(moments: readonly Moment[]): string {
  const places = new Map<string, string[]>();
  for (const { place, says } of moments) if (says !== "") places.set(says, [...(places.get(says) ?? []), place.says]);
  return [...places].map(([says, counts]) => `${counts.join(", ")} (${says})`).join(" · ");
}

/** The same without the places of what the hand goes back to right after everything else; null where it does not. */
function withElse(moments: readonly Moment[], back: string): string | null {
  if (moments.every(({ says }) => says !== back)) return null;
  const returns = moments.every(({ says }, i) => {
    const before = moments[i - 1];
    if (says === back) return before === undefined || (before.says !== "" && before.says !== back);
    return says !== "" || before === undefined || before.says === "" || before.says === back;
  });
  const others = moments.filter(({ says }) => says !== back && says !== "");
  return returns && others.length > 0 ? `${plain(others)}, else ${back}` : null;
}

/** One beat for all of them: "every beat: (press) · e (let go)"; null where they differ, or where something is done at a place that has no name. */
function everyBeat(moments: readonly Moment[], count: number): string | null {
  const beats = new Map<number, string[]>();
  for (const { place, says } of moments) {
    if (place.part === null) return null;
    const said = says === "" ? [] : [`${place.part} (${says})`.trim()];
    beats.set(place.beat, [...(beats.get(place.beat) ?? []), ...said]);
  }
  const [first, ...others] = [...beats.values()].map((said) => said.join(" · "));
  // A beat through which everything goes on is not like the others.
  return first && beats.size === count && others.length > 0 && others.every((said) => said === first) ? `every beat: ${first}` : null;
}
