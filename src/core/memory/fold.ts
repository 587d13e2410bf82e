/**
 * What a stage found at every step of the last version of a passage. Steps that an edit left
 * alone are the same objects as before, so what was found there holds as long as what comes from
 * the neighbouring steps is the same too.
 */
export class FoldMemory<State, Out> {
  keys: readonly object[] = [];
  found: Found<State, Out>[] = [];
  /** Steps worked out in the last fold; the rest was remembered. */
  worked = 0;
}

interface Found<State, Out> {
  beside: readonly unknown[];
  before: State;
  after: State;
  out: Out;
}

export interface Fold<State, Out> {
  /** One object per step. */
  keys: readonly object[];
  /** Further inputs per step, compared by identity: whole columns, each as long as `keys`. */
  beside?: readonly (readonly unknown[])[];
  start: State;
  /** Whether two states lead to the same results. */
  same: (a: State, b: State) => boolean;
  /** Whether two results say the same: then the remembered one stands, and what later stages found for it too. */
  equal?: (old: Out, now: Out) => boolean;
  /** Must depend on the state, the key and the columns at that index alone; states are never changed in place. */
  work: (state: State, index: number) => readonly [out: Out, after: State];
  /** Steps are taken from the last to the first. */
  backward?: boolean;
  memory?: FoldMemory<State, Out> | undefined;
  /** Told the state after the last step. */
  end?: (state: State) => void;
}

/** Carries a state through all steps and gives what was found at each, in the order of the steps. */
export function fold<State, Out>({ keys, beside = [], start, same, equal, work, backward = false, memory, end }: Fold<State, Out>): Out[] {
  const count = keys.length;
  const old = memory?.found ?? [];
  const { prefix, suffix } = commonEnds(memory?.keys ?? [], keys);
  const shift = old.length - count;
  const founds: Found<State, Out>[] = new Array(count);
  const outs: Out[] = new Array(count);
  let worked = 0;
  let state = start;
  for (let n = 0; n < count; n++) {
    const i = backward ? count - 1 - n : n;
    const known = i < prefix ? old[i] : i >= count - suffix ? old[i + shift] : undefined;
    if (known && (known.before === state || same(known.before, state)) && isBeside(beside, i, known.beside)) {
      founds[i] = known;
      outs[i] = known.out;
      state = known.after;
      continue;
    }
    const [made, after] = work(state, i);
    const out = known && equal?.(known.out, made) ? known.out : made;
    if (memory) founds[i] = { beside: beside.map((column) => column[i]), before: state, after, out };
    worked++;
    outs[i] = out;
    state = after;
  }
  if (memory) Object.assign(memory, { keys, found: founds, worked });
  end?.(state);
  return outs;
}

/** How many items two lists have in common at either end; what is common to both is counted once. */
export function commonEnds(old: readonly unknown[], now: readonly unknown[]): { prefix: number; suffix: number } {
  const most = Math.min(old.length, now.length);
  let prefix = 0;
  while (prefix < most && old[prefix] === now[prefix]) prefix++;
  let suffix = 0;
  while (suffix < most - prefix && old[old.length - 1 - suffix] === now[now.length - 1 - suffix]) suffix++;
  return { prefix, suffix };
}

function isBeside(columns: readonly (readonly unknown[])[], i: number, known: readonly unknown[]): boolean {
  for (let c = 0; c < columns.length; c++) if (columns[c]![i] !== known[c]) return false;
  return true;
}

/** A fold whose steps hand nothing on. */
export function each<Out>(
  keys: readonly object[],
  beside: readonly (readonly unknown[])[],
  work: (index: number) => Out,
  memory?: FoldMemory<null, Out>,
): Out[] {
  return fold<null, Out>({ keys, beside, start: null, same: () => true, work: (_, i) => [work(i), null], memory });
}

/** Equal lengths and identical elements. */
export function sameItems(a: readonly unknown[], b: readonly unknown[]): boolean {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}
