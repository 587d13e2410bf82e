/** How many items two lists have in common at their beginnings and at their ends. */
export interface Ends {
  prefix: number;
  suffix: number;
}

/** How many items two lists have in common at either end; what is common to both is counted once. */
export function commonEnds<T>(old: readonly T[], now: readonly T[], same: (a: T, b: T) => boolean): Ends {
  const most = Math.min(old.length, now.length);
  let prefix = 0;
  while (prefix < most && same(old[prefix]!, now[prefix]!)) prefix++;
  let suffix = 0;
  while (suffix < most - prefix && same(old[old.length - 1 - suffix]!, now[now.length - 1 - suffix]!)) suffix++;
  return { prefix, suffix };
}
