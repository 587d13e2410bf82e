import type { Ends } from "./common-ends.ts";

/**
 * What a stage found at every step of the last version of a passage. Steps that an edit left
 * alone are the same objects as before, so what was found there holds as long as what comes from
 * the neighbouring steps is the same too.
 */
export class FoldCache<State, Out> {
  /** The keys, then the columns beside them. */
  columns: readonly (readonly unknown[])[] = [];
  /** Per step: the state it was reached with, the state it left, and what was found. */
  before: State[] = [];
  after: State[] = [];
  outs: Out[] = [];
  /** Steps worked out in the last fold; the rest was remembered. */
  worked = 0;
}

/**
 * What a stage does at a step. A stage is made once, not for every passage: what is made anew each time has to be compiled anew
 * each time its code was thrown away with the passage before.
 */
export interface Stage<Context, State, Out> {
  /** Whether two states lead to the same results. */
  same: (a: State, b: State) => boolean;
  /** Whether two results say the same: then the remembered one stands, and what later stages found for it too. */
  equal?: (old: Out, now: Out) => boolean;
  /**
   * For a step that is reached with another state than before: the state it leaves where that makes no difference to what is found
   * there; undefined where it does, or may.
   */
  passOn?: (state: State, before: State, after: State, found: Out) => State | undefined;
  /** Must depend on the state, the key and the columns at that index alone; states are never changed in place. */
  work: (state: State, index: number, context: Context) => readonly [out: Out, after: State];
  /** Steps are taken from the last to the first. */
  backward?: boolean;
}

/** A stage whose steps hand nothing on. */
export function onItsOwn<Context, Out>(work: (index: number, context: Context) => Out): Stage<Context, null, Out> {
  return { same: () => true, work: (_, i, context) => [work(i, context), null] };
}

export interface Steps<State, Out> {
  /** One object per step. */
  keys: readonly object[];
  /** Further inputs per step, compared by identity: whole columns, each as long as `keys`. */
  beside?: readonly (readonly unknown[])[];
  start: State;
  cache?: FoldCache<State, Out> | undefined;
}

/**
 * Carries a state through all steps and gives what was found at each, in the order of the steps. Where nothing at all is
 * new, the list is the same one as the time before, so that the stages after it need not look either.
 */
export function fold<Context, State, Out>(stage: Stage<Context, State, Out>, context: Context, steps: Steps<State, Out>): Out[] {
  const { same, equal, passOn, backward = false } = stage;
  const { keys, beside = [], start, cache = new FoldCache<State, Out>() } = steps;
  const now = new Lasting([keys, ...beside], cache);
  const { before, after, count } = now;
  const [lead, trail] = backward ? [now.ends.suffix, now.ends.prefix] : [now.ends.prefix, now.ends.suffix];
  const at = (n: number) => (backward ? count - 1 - n : n);
  const alike = (a: State, b: State) => a === b || same(a, b);

  // The steps before the first change stand, if they were begun alike.
  let n = lead > 0 && alike(before[at(0)]!, start) ? lead : 0;
  let state = n > 0 ? after[at(n - 1)]! : start;
  let worked = 0;
  for (; n < count; n++) {
    const i = at(n);
    // Behind the last change all stands from where the state is what it was.
    if (n >= count - trail && alike(before[i]!, state)) break;
    const then = now.placeThen(i);
    const isAsThen = then >= 0 && now.isAsThen(then, i);
    if (isAsThen && alike(cache.before[then]!, state)) now.keep(then, i);
    else {
      const passed = isAsThen ? passOn?.(state, cache.before[then]!, cache.after[then]!, cache.outs[then]!) : undefined;
      const [made, next] = passed === undefined ? stage.work(state, i, context) : [cache.outs[then]!, passed];
      before[i] = state;
      after[i] = next;
      now.put(i, then >= 0 && equal?.(cache.outs[then]!, made) ? cache.outs[then]! : made);
      if (passed === undefined) worked++;
    }
    state = after[i]!;
  }
  return now.handOn(worked);
}

/**
 * What the last version of a passage knew, laid out over the steps of this one; what lies between its ends is still to be found.
 * Where there are as many steps as before, states are written over in place, and results are copied when the first of them is
 * another: most stages find little or nothing, and copies of whole lists would be a good part of an edit.
 */
class Lasting<State, Out> {
  readonly count: number;
  /** Steps at either end that have the same in every column. */
  readonly ends: Ends;
  readonly before: State[];
  readonly after: State[];
  /** How many steps fewer there are now. */
  private readonly shift: number;
  private readonly columnsThen: readonly (readonly unknown[])[];
  private outs: Out[];
  /** Steps at either end that are the same ones, whatever stands beside them. */
  private readonly keys: Ends;

  constructor(
    private readonly columns: readonly (readonly unknown[])[],
    private readonly cache: FoldCache<State, Out>,
  ) {
    const keys = columns[0]!;
    this.count = keys.length;
    this.shift = cache.outs.length - this.count;
    this.columnsThen = cache.columns;
    const { prefix, suffix } = endsOf(cache.columns[0] ?? NOTHING, keys);
    this.keys = { prefix, suffix: Math.min(suffix, this.count - prefix, cache.outs.length - prefix) };
    this.ends = endsOfAll(cache.columns, columns, this.shift === 0 ? this.count : this.keys.suffix);
    const { ends, count, shift } = this;
    this.before = shift === 0 ? cache.before : withEnds(cache.before, count, ends);
    this.after = shift === 0 ? cache.after : withEnds(cache.after, count, ends);
    this.outs = shift === 0 ? cache.outs : withEnds(cache.outs, count, ends);
    // A stage may fail half-way: until all is found nothing is known.
    cache.columns = [];
  }

  /** Where a step stood in the last version; -1 when it is a new one. */
  placeThen(i: number): number {
    if (i < this.keys.prefix) return i;
    return i >= this.count - this.keys.suffix ? i + this.shift : -1;
  }

  /** Whether all that stands beside a step stood beside it then. */
  isAsThen(then: number, i: number): boolean {
    const { columns, columnsThen } = this;
    for (let c = 1; c < columns.length; c++) if (columnsThen[c]![then] !== columns[c]![i]) return false;
    return true;
  }

  keep(then: number, i: number): void {
    this.before[i] = this.cache.before[then]!;
    this.after[i] = this.cache.after[then]!;
    this.put(i, this.cache.outs[then]!);
  }

  put(i: number, out: Out): void {
    if (this.outs === this.cache.outs) {
      if (this.outs[i] === out) return;
      this.outs = this.outs.slice();
    }
    this.outs[i] = out;
  }

  /** What the next version will find; the very list of results where nothing in it is new. */
  handOn(worked: number): Out[] {
    const { cache, columns, before, after, outs } = this;
    return Object.assign(cache, { columns, before, after, outs, worked }).outs;
  }
}

const NOTHING: readonly never[] = [];

/** By identity: this is what most of an edit's time would go into. */
function commonStart(old: readonly unknown[], now: readonly unknown[]): number {
  const most = Math.min(old.length, now.length);
  if (old === now) return most;
  let count = 0;
  while (count < most && old[count] === now[count]) count++;
  return count;
}

function commonEnd(old: readonly unknown[], now: readonly unknown[]): number {
  const most = Math.min(old.length, now.length);
  if (old === now) return most;
  const shift = old.length - now.length;
  const end = now.length - most;
  let at = now.length;
  while (at > end && old[at - 1 + shift] === now[at - 1]) at--;
  return now.length - at;
}

const knownEnds = new WeakMap<readonly unknown[], { old: readonly unknown[]; ends: Ends }>();

/**
 * How many items two lists have in common at either end, each counted by itself. Lists go into many stages and are never changed
 * once they are made, so two of them are compared once.
 */
function endsOf(old: readonly unknown[], now: readonly unknown[]): Ends {
  const known = knownEnds.get(now);
  if (known?.old === old) return known.ends;
  const ends = { prefix: commonStart(old, now), suffix: commonEnd(old, now) };
  knownEnds.set(now, { old, ends });
  // Else every version would keep the one before it.
  knownEnds.delete(old);
  return ends;
}

/** How many steps at either end have the same in every column; at the end no more than so many. */
function endsOfAll(old: readonly (readonly unknown[])[], now: readonly (readonly unknown[])[], mostAtEnd: number): Ends {
  if (old.length !== now.length) return { prefix: 0, suffix: 0 };
  let prefix = Number.POSITIVE_INFINITY;
  let suffix = mostAtEnd;
  for (let c = 0; c < now.length; c++) {
    const ends = endsOf(old[c]!, now[c]!);
    prefix = Math.min(prefix, ends.prefix);
    suffix = Math.min(suffix, ends.suffix);
  }
  return { prefix, suffix };
}

/** A list of another length with the ends of an old one; what lies between is written over. */
function withEnds<T>(old: readonly T[], count: number, { prefix, suffix }: Ends): T[] {
  const list: T[] = old.slice(0, prefix);
  list.length = count;
  for (let k = 1; k <= suffix; k++) list[count - k] = old[old.length - k]!;
  return list;
}

/** Lists one after the other as one: by hand, since this is done for whole passages at every edit. */
export function inARow<T>(lists: readonly (readonly T[])[]): T[] {
  const all: T[] = [];
  for (const list of lists) for (let k = 0; k < list.length; k++) all.push(list[k]!);
  return all;
}

/** Equal lengths and identical elements. */
export function sameItems(a: readonly unknown[], b: readonly unknown[]): boolean {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}
