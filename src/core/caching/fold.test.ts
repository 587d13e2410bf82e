import { describe, expect, it } from "vitest";
import { seeded } from "../test/random-passages.ts";
import { commonEnds } from "./common-ends.ts";
import { FoldCache, fold, type Stage, type Steps } from "./fold.ts";

interface Key {
  is: number;
}

/** A sum that forgets: what a step finds depends on the ones before it, but not for long. */
const SUMS: Stage<Summed, number, { sum: number }> = {
  same: (a, b) => a === b,
  work: (state, i, { keys, beside }) => {
    const after = (state + keys[i]!.is) % 7 === 0 ? 0 : Math.min(20, state + keys[i]!.is);
    return [{ sum: state + beside[i]! }, after];
  },
};

interface Summed {
  keys: readonly Key[];
  beside: readonly number[];
}

type SumCache = FoldCache<number, { sum: number }>;

function sums(keys: readonly Key[], beside: readonly number[], more: Partial<Steps<number, { sum: number }>> = {}, stage = SUMS) {
  return fold(stage, { keys, beside }, { keys, beside: [beside], start: 0, ...more });
}

describe("a fold with a cache", () => {
  it.each([false, true])("finds what one without finds, over random insertions, removals and changes (backward: %s)", (backward) => {
    const random = seeded(backward ? 11 : 12);
    const below = (n: number) => Math.floor(random() * n);
    const cache: SumCache = new FoldCache();
    const stage = { ...SUMS, backward };
    let keys: Key[] = Array.from({ length: 60 }, () => ({ is: below(9) }));
    let beside = keys.map(() => below(3));
    let worked = 0;
    for (let n = 0; n < 400; n++) {
      const at = below(keys.length);
      const [cut, put] = [below(3), below(3)];
      keys = [...keys.slice(0, at), ...Array.from({ length: put }, () => ({ is: below(9) })), ...keys.slice(at + cut)];
      beside = [...beside.slice(0, at), ...Array.from({ length: put }, () => below(3)), ...beside.slice(at + cut)];
      if (below(4) === 0) beside[below(beside.length)] = below(3);
      const found = sums(keys, [...beside], { cache }, stage);
      expect(found).toEqual(sums(keys, beside, {}, stage));
      if (n > 0) worked += cache.worked / keys.length;
    }
    expect(worked / 400).toBeLessThan(0.5);
  });
  it("passes on a state that makes no difference to what is found, without working there", () => {
    const random = seeded(13);
    const below = (n: number) => Math.floor(random() * n);
    // The newest mark is carried to the next step that reads it; what a step finds otherwise does not depend on it.
    const stage: Stage<readonly number[], number, string> = {
      same: (a, b) => a === b,
      work: (mark, i, kinds) => (kinds[i] === 0 ? ["nothing", mark] : kinds[i] === 1 ? [`after ${mark}`, mark] : ["marks", kinds[i]!]),
      passOn: (mark, _before, after, found) => (found === "nothing" ? mark : found === "marks" ? after : undefined),
    };
    const [cache, plain] = [new FoldCache<number, string>(), new FoldCache<number, string>()];
    let keys = Array.from({ length: 80 }, () => ({ kind: below(12) }));
    let [worked, without] = [0, 0];
    for (let n = 0; n < 300; n++) {
      const at = below(keys.length);
      keys = [...keys.slice(0, at), ...[below(12), below(12)].slice(below(3)).map((kind) => ({ kind })), ...keys.slice(at + 1)];
      const kinds = keys.map(({ kind }) => (kind > 2 && kind < 9 ? 0 : kind));
      expect(fold(stage, kinds, { keys, start: -1, cache })).toEqual(fold(stage, kinds, { keys, start: -1 }));
      fold({ same: stage.same, work: stage.work }, kinds, { keys, start: -1, cache: plain });
      if (n > 0) [worked, without] = [worked + cache.worked, without + plain.worked];
    }
    expect(worked).toBeLessThan(0.6 * without);
  });
  it("gives the very list of the time before where nothing is new, so that whoever reads it need not look", () => {
    const keys = Array.from({ length: 20 }, (_, i) => ({ is: i }));
    const beside = keys.map(() => 1);
    const cache: SumCache = new FoldCache();
    const first = sums(keys, beside, { cache });
    expect(sums([...keys], [...beside], { cache })).toBe(first);
    expect(cache.worked).toBe(0);
  });
  it("keeps a result that says the same as before, as the object it was", () => {
    const keys = Array.from({ length: 20 }, (_, i) => ({ is: i }));
    const cache: SumCache = new FoldCache();
    const atMostOne: typeof SUMS = {
      ...SUMS,
      equal: (a, b) => a.sum === b.sum,
      work: (state, i, { beside }) => [{ sum: Math.min(1, beside[i]!) }, state],
    };
    const first = sums(keys, new Array(20).fill(1), { cache }, atMostOne);
    const again = sums(keys, new Array(20).fill(2), { cache }, atMostOne);
    expect(cache.worked).toBe(20);
    expect(again).toBe(first);
  });
  it.each([false, true])("knows a key that comes again from its own earlier place, however many of it there are (backward: %s)", (backward) => {
    const again = { is: 3 };
    const stage = { ...SUMS, backward };
    const cache: SumCache = new FoldCache();
    for (const beside of [[0, 1, 2, 1, 0], [0, 1, 0], [0, 1, 2, 1, 0], [2, 2], [2, 2, 2, 2], [], [1]]) {
      const keys = beside.map(() => again);
      expect(sums(keys, beside, { cache }, stage)).toEqual(sums(keys, beside, {}, stage));
    }
  });
  it("begins anew where it starts from another state", () => {
    const keys = Array.from({ length: 5 }, () => ({ is: 1 }));
    const beside = keys.map(() => 0);
    const cache: SumCache = new FoldCache();
    sums(keys, beside, { cache });
    expect(sums(keys, beside, { cache, start: 3 }).map(({ sum }) => sum)).toEqual([3, 4, 5, 6, 0]);
  });
  it("knows nothing of a version at which the stage failed half-way, and the lists given before stay as they were", () => {
    const keys = Array.from({ length: 9 }, (_, i) => ({ is: i }));
    const cache: SumCache = new FoldCache();
    const first = sums(keys, new Array(9).fill(0), { cache });
    const copy = structuredClone(first);
    const failing: typeof SUMS = {
      ...SUMS,
      work: (state, i, context) => {
        if (i === 6) throw new Error("no");
        return SUMS.work(state + 1, i, context);
      },
    };
    expect(() => sums(keys, new Array(9).fill(1), { cache }, failing)).toThrow("no");
    expect(first).toEqual(copy);
    // As the first version up to the fourth step: there the failed one has left states of its own.
    const fourth = new Array(9).fill(0).with(3, 1);
    for (const beside of [fourth, new Array(9).fill(0), new Array(9).fill(1)]) expect(sums(keys, beside, { cache })).toEqual(sums(keys, beside));
    expect(first).toEqual(copy);
  });
  it("holds the last state, remembered or not", () => {
    const keys = Array.from({ length: 5 }, () => ({ is: 1 }));
    const cache: SumCache = new FoldCache();
    const beside = keys.map(() => 0);
    for (let n = 0; n < 2; n++) {
      sums(keys, beside, { cache });
      expect(cache.after.at(-1)).toBe(5);
    }
  });
});

it("counts what is common to both ends once", () => {
  const same = (a: number, b: number) => a === b;
  expect(commonEnds([1, 1, 1], [1, 1], same)).toEqual({ prefix: 2, suffix: 0 });
  expect(commonEnds([1, 2, 3, 4], [1, 9, 9, 4], same)).toEqual({ prefix: 1, suffix: 1 });
  expect(commonEnds([1, 2], [11, 12], (a, b) => a % 10 === b % 10)).toEqual({ prefix: 2, suffix: 0 });
  expect(commonEnds([], [1], same)).toEqual({ prefix: 0, suffix: 0 });
});
