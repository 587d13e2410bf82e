/**
 * Musical time as exact integers: 40320 ticks to the whole note, so that triplets,
 * quintuplets and septuplets of sixteenths all fall on whole ticks.
 */
export const TICKS_PER_WHOLE = 40320;

export type Ticks = number;

export type TicksResult = { ok: true; ticks: Ticks } | { ok: false; says: string };

const FRACTION = /^(\d{1,6})(?:\/(\d{1,6}))?$/;

/** Reads a fraction of a whole note ("3/8", "0", "1") as ticks; says why when it cannot. */
export function parseTicks(text: string): TicksResult {
  const match = FRACTION.exec(text.trim());
  if (!match) return { ok: false, says: `"${text}" is not a fraction such as "3/8"` };
  const numerator = Number(match[1]);
  const denominator = match[2] === undefined ? 1 : Number(match[2]);
  if (denominator === 0) return { ok: false, says: `"${text}" divides by zero` };
  const ticks = (numerator * TICKS_PER_WHOLE) / denominator;
  if (!Number.isInteger(ticks))
    return {
      ok: false,
      says: `"${text}" is finer than the grid of 1/${TICKS_PER_WHOLE} of a whole note`,
    };
  return { ok: true, ticks };
}

/** Fractions read before; a passage has few different ones. */
const known = new Map<string, Ticks>();
const MOST_KNOWN = 10000;

/** Ticks of a fraction that is already known to be valid. Throws on any other text. */
export function ticksOf(text: string): Ticks {
  const before = known.get(text);
  if (before !== undefined) return before;
  const result = parseTicks(text);
  if (!result.ok) throw new Error(result.says);
  if (known.size >= MOST_KNOWN) known.clear();
  known.set(text, result.ticks);
  return result.ticks;
}

/** Writes ticks as a fraction of a whole note in lowest terms. */
export function fractionOf(ticks: Ticks): string {
  if (ticks === 0) return "0";
  const divisor = gcd(ticks, TICKS_PER_WHOLE);
  const denominator = TICKS_PER_WHOLE / divisor;
  return denominator === 1 ? `${ticks / divisor}` : `${ticks / divisor}/${denominator}`;
}

export function gcd(a: number, b: number): number {
  let x = Math.abs(a);
  let y = Math.abs(b);
  while (y > 0) [x, y] = [y, x % y];
  return x;
}
