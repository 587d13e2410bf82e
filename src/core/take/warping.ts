/*
 * Dynamic time warping: which frame of one sound is which of another. Our own, since the package that was tried knows no slopes and no
 * beginning or end anywhere in the second; where neither matters it finds the same (`warping.test.ts`).
 */

/** Features of every frame, one after the other. */
export interface Features {
  /** Figures of a frame: a multiple of four. */
  width: number;
  values: Float32Array;
  frames: number;
}

/** For every frame of the plan the frames of the take that are looked at: from the first up to the last, which is none of them. */
export interface Band {
  from: Int32Array;
  to: Int32Array;
}

/** All frames. */
export function everywhere(a: Features, b: Features): Band {
  return { from: new Int32Array(a.frames), to: new Int32Array(a.frames).fill(b.frames) };
}

/** The way through the pairs of frames that costs least. */
export function cheapestWay(a: Features, b: Features, { from: first, to: last }: Band): { pairs: [number, number][]; cost: number } {
  const [rows, columns] = [a.frames, b.frames];
  // Steps of (1,1), (1,2) and (2,1): never slower or faster than half and twice. It begins and ends anywhere in the take; what sounds
  // before and after costs something, or one stroke of many that are alike would be as good a first one as another.
  const outside = outsideOf(b);
  const NONE = Number.POSITIVE_INFINITY;
  const rowOf = (i: number) => ({ at: first[i]!, cost: new Float32Array(last[i]! - first[i]!), sum: new Float32Array(last[i]! - first[i]!) });
  const get = (row: { at: number }, of: Float32Array, j: number) => of[j - row.at] ?? NONE;
  const ways = Array.from({ length: rows }, (_, i) => new Int8Array(last[i]! - first[i]!));
  let [before, now] = [rowOf(0), rowOf(0)];
  for (let i = 0; i < rows; i++) {
    const row = i === 0 ? now : rowOf(i);
    for (let j = row.at; j < last[i]!; j++) {
      const here = distance(a, i, b, j);
      row.cost[j - row.at] = here;
      if (i === 0) {
        row.sum[j - row.at] = here + outside[j]!;
        continue;
      }
      let best = get(now, now.sum, j - 1) + here;
      let way = 0;
      const skip = get(now, now.sum, j - 2) + here * (1 + SLOPE_COST);
      if (skip < best) {
        best = skip;
        way = 1;
      }
      if (i > 1) {
        const wait = get(before, before.sum, j - 1) + get(now, now.cost, j) + here * (1 + SLOPE_COST);
        if (wait < best) {
          best = wait;
          way = 2;
        }
      }
      row.sum[j - row.at] = best;
      ways[i]![j - row.at] = way;
    }
    if (i > 0) [before, now] = [now, row];
  }
  const total = (j: number) => get(now, now.sum, j) + outside[columns]! - outside[j + 1]!;
  let end = now.at;
  for (let j = now.at + 1; j < last[rows - 1]!; j++) if (total(j) < total(end)) end = j;
  const pairs: [number, number][] = [];
  for (let [i, j] = [rows - 1, end]; i >= 0 && j >= 0; ) {
    pairs.push([i, j]);
    if (i === 0 || j === 0) break;
    const way = ways[i]![j - first[i]!]!;
    i -= way === 2 ? 2 : 1;
    j -= way === 1 ? 2 : 1;
  }
  pairs.reverse();
  return { pairs, cost: get(now, now.sum, end) - outside[pairs[0]![1]]! };
}

/** What it costs that frames of the take are no part of the passage: all those before each one; the last sum is that of all. */
function outsideOf({ values, frames, width }: Features): Float64Array {
  const sums = new Float64Array(frames + 1);
  for (let frame = 0; frame < frames; frame++) {
    let square = 0;
    for (let k = frame * width; k < (frame + 1) * width; k++) square += values[k]! * values[k]!;
    sums[frame + 1] = sums[frame]! + OUTSIDE_COST * Math.sqrt(square);
  }
  return sums;
}
/** Against what it would cost if the plan were silent there. */
const OUTSIDE_COST = 0.4;

/** How far a frame of one is from a frame of the other. */
export function distance(a: Features, i: number, b: Features, j: number): number {
  const { width } = a;
  const x = a.values;
  const y = b.values;
  const from = i * width;
  const to = j * width;
  // Four sums at once: none waits for another.
  let p = 0;
  let q = 0;
  let r = 0;
  let s = 0;
  for (let k = 0; k < width; k += 4) {
    const c = x[from + k]! - y[to + k]!;
    const d = x[from + k + 1]! - y[to + k + 1]!;
    const e = x[from + k + 2]! - y[to + k + 2]!;
    const f = x[from + k + 3]! - y[to + k + 3]!;
    p += c * c;
    q += d * d;
    r += e * e;
    s += f * f;
  }
  return Math.sqrt(p + q + r + s);
}

/** What another tempo costs from moment to moment. */
const SLOPE_COST = 0.4;
