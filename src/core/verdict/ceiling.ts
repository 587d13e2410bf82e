import { TEMPO } from "../music/tempo.ts";

/** Faster than anyone is asked to play: what holds up to here is called "300+". */
export const HIGHEST_CEILING = 300;
const STRIDE = 10;

/** Whether a passage comes out clean at a tempo: no stray ring, no rushed move. */
export type CleanAt = (tempo: number) => boolean;

/**
 * The highest whole tempo up to which every tested tempo is clean; null when the lowest is not. Goes up in tens, then halves the
 * first ten that fails until a clean tempo has a failing one right above it. Yields after every plan, so that the caller can stop.
 */
export function* ceilingSearch(isClean: CleanAt): Generator<number, number | null, void> {
  let clean: number | null = null;
  let failing = HIGHEST_CEILING + 1;
  for (let tempo: number = TEMPO.lowest; tempo <= HIGHEST_CEILING; tempo += STRIDE) {
    if (!isClean(tempo)) {
      failing = tempo;
      break;
    }
    clean = tempo;
    yield tempo;
  }
  if (clean === null) return null;
  while (failing - clean > 1) {
    const middle = Math.floor((clean + failing) / 2);
    if (isClean(middle)) clean = middle;
    else failing = middle;
    yield middle;
  }
  return clean;
}
