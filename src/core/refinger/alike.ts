import type { Figure } from "./figures.ts";
import { type Choice, PLACE_COSTS, type StrokeChoices, shiftMs, TOO_FAST } from "./places.ts";

/*
 * The cheapest places for all strokes where figures of one kind are played alike. Without that demand it is a shortest path through
 * the hand's positions, and cheaper than with it: a lower bound. Where that path plays one kind in two ways, the kind is tried in
 * each of its ways (branch and bound, Land and Doig, Econometrica 28(3), 1960), until nothing left can be cheaper by more than
 * the share that is asked for.
 */

/** One way to play a figure, as far as its neighbours see it: 0 where all of it is open. */
interface Way {
  /** Positions of the hand at its first and its last fretted stroke. */
  first: number;
  last: number;
  cost: number;
  /** Per stroke. */
  choices: readonly Choice[];
}

export interface Alike {
  /** Per figure and stroke. */
  choices: readonly (readonly Choice[])[];
  cost: number;
  /** Nothing is cheaper than this: the cost is at most so much above the least there is. */
  bound: number;
}

/** Nodes of the search at most; beyond them the bound tells how good the answer is. */
const MOST_NODES = 3000;

/** The cheapest way to play all figures, those of one kind alike, proved to a share of its cost. Yields how far it is. */
export function* cheapestAlike(figures: readonly Figure[], kinds: number, within = 0.03): Generator<{ done: number; of: number }, Alike, void> {
  if (figures.length === 0) return { choices: [], cost: 0, bound: 0 };
  const ways = Array.from({ length: kinds }, (_, kind) => waysOf(figures.find((figure) => figure.kind === kind)!.strokes));
  const repeated = new Set(ways.map((_, kind) => kind).filter((kind) => figures.filter((figure) => figure.kind === kind).length > 1));
  const free: Node = { ...solved(figures, ways, new Map()), fixed: new Map() };
  let best: { cost: number; chosen: readonly Way[] } = { cost: Number.POSITIVE_INFINITY, chosen: [] };
  const open: Node[] = [free];
  let nodes = 0;
  const consider = (node: Solved) => {
    if (node.cost < best.cost && torn(figures, node.chosen, repeated) === null) best = node;
  };
  for (;;) {
    open.sort((a, b) => b.cost - a.cost);
    const node = open.at(-1);
    const bound = Math.min(best.cost, node?.cost ?? best.cost);
    // A node that is consistent is the best one below it.
    if (!node || best.cost <= bound * (1 + within) || nodes >= MOST_NODES)
      return { choices: best.chosen.map(({ choices }) => choices), cost: best.cost, bound };
    open.pop();
    const kind = torn(figures, node.chosen, repeated);
    if (kind === null) {
      consider(node);
      continue;
    }
    // A guess that is alike everywhere, so that there is an answer at any time.
    consider(solved(figures, ways, majority(figures, node.chosen, repeated)));
    for (const way of ways[kind]!) {
      const fixed = new Map(node.fixed).set(kind, way);
      const child = { ...solved(figures, ways, fixed), fixed };
      nodes++;
      if (child.cost < best.cost) open.push(child);
      yield { done: nodes, of: MOST_NODES };
    }
  }
}

interface Solved {
  cost: number;
  /** Per figure. */
  chosen: readonly Way[];
}

interface Node extends Solved {
  fixed: ReadonlyMap<number, Way>;
}

/** The first kind that is played in two ways. */
function torn(figures: readonly Figure[], chosen: readonly Way[], repeated: ReadonlySet<number>): number | null {
  const seen = new Map<number, Way>();
  for (const [f, { kind }] of figures.entries()) {
    if (!repeated.has(kind)) continue;
    const before = seen.get(kind);
    if (before && before !== chosen[f]) return kind;
    seen.set(kind, chosen[f]!);
  }
  return null;
}

/** Every repeated kind as it is played most often. */
function majority(figures: readonly Figure[], chosen: readonly Way[], repeated: ReadonlySet<number>): Map<number, Way> {
  const counts = new Map<number, Map<Way, number>>();
  for (const [f, { kind }] of figures.entries()) {
    if (!repeated.has(kind)) continue;
    const own = counts.get(kind) ?? new Map<Way, number>();
    own.set(chosen[f]!, (own.get(chosen[f]!) ?? 0) + 1);
    counts.set(kind, own);
  }
  return new Map([...counts].map(([kind, own]) => [kind, [...own].reduce((a, b) => (b[1] > a[1] ? b : a))[0]]));
}

/** Per pair of first and last position the cheapest way through a figure. A stroke that is struck again stays where it is. */
function waysOf(strokes: readonly StrokeChoices[]): Way[] {
  let ways: Way[] = [{ first: 0, last: 0, cost: 0, choices: [] }];
  for (const [k, { choices, isRepeat }] of strokes.entries()) {
    const next = new Map<string, Way>();
    const untilMs = strokes[k - 1]?.untilMs ?? Number.POSITIVE_INFINITY;
    for (const way of ways)
      for (const choice of k > 0 && isRepeat ? [way.choices.at(-1)!] : choices) {
        const first = way.first || choice.position;
        const last = choice.position || way.last;
        const cost = way.cost + choice.cost + shiftCost(way.last, choice.position, untilMs);
        // Two ways that end alike may have come by different last strokes, which a repeat would take up.
        const key = `${first} ${last} ${strokes[k + 1]?.isRepeat ? choices.indexOf(choice) : ""}`;
        const known = next.get(key);
        if (!known || cost < known.cost) next.set(key, { first, last, cost, choices: [...way.choices, choice] });
      }
    ways = [...next.values()];
  }
  return ways;
}

/** The shortest path through the figures' ways, some of them fixed. */
function solved(figures: readonly Figure[], ways: readonly (readonly Way[])[], fixed: ReadonlyMap<number, Way>): Solved {
  type Reached = { cost: number; path: { way: Way; before: Reached["path"] } | null };
  let reached = new Map<number, Reached>([[0, { cost: 0, path: null }]]);
  let untilMs = Number.POSITIVE_INFINITY;
  for (const { kind, strokes } of figures) {
    const next = new Map<number, Reached>();
    const own = fixed.get(kind);
    for (const way of own ? [own] : ways[kind]!)
      for (const [position, before] of reached) {
        const cost = before.cost + way.cost + shiftCost(position, way.first, untilMs);
        const last = way.last || position;
        const known = next.get(last);
        if (!known || cost < known.cost) next.set(last, { cost, path: { way, before: before.path } });
      }
    reached = next;
    untilMs = strokes.at(-1)!.untilMs;
  }
  const end = [...reached.values()].reduce((a, b) => (b.cost < a.cost ? b : a));
  const chosen: Way[] = [];
  for (let path = end.path; path; path = path.before) chosen.push(path.way);
  return { cost: end.cost, chosen: chosen.reverse() };
}

/** From nowhere, and to open strings, the hand shifts for nothing; faster than a hand can is never worth it. */
export function shiftCost(from: number, to: number, haveMs: number): number {
  const frets = from === 0 || to === 0 ? 0 : Math.abs(to - from);
  return PLACE_COSTS.shift * frets + (frets > 0 && shiftMs(frets) > haveMs ? TOO_FAST : 0);
}
