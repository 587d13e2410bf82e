/** How much too fast something is, as players would say it, from the time it needs and the time there is. */
export function tooFastBy(needMs: number, haveMs: number): string {
  const share = needMs / haveMs - 1;
  if (share < 0.1) return "a hair";
  if (share < 0.2) return "a tenth or two";
  if (share < 0.4) return "a quarter";
  if (share < 0.75) return "half";
  return share < 1.5 ? "double" : "far more than double";
}
