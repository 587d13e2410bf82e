/** One way to hold the notes of a moment. */
export interface HandWay {
  /** Fret of the index; 0 where all is open and the hand may stay where it is. */
  position: number;
  /** What it costs by itself. */
  cost: number;
}

interface Reached<W extends HandWay> {
  position: number;
  cost: number;
  path: { way: W; before: Reached<W>["path"] } | null;
}

/**
 * The cheapest way through all moments, where a hand that shifts by a fret pays for it: the shortest path of Sayegh, "Fingering
 * for string instruments with the optimum path paradigm", Computer Music Journal 13(3), 1989. The position is carried over open
 * strings. `waysOf` gives the ways of a moment, never none; of equals the first is taken.
 */
export function cheapestHandPath<W extends HandWay>(moments: number, waysOf: (moment: number) => readonly W[], shiftCost: number): W[] {
  /** Per position of the hand: the cheapest way there. */
  let reached = new Map<number, Reached<W>>([[0, { position: 0, cost: 0, path: null }]]);
  for (let m = 0; m < moments; m++) {
    const next = new Map<number, Reached<W>>();
    for (const way of waysOf(m))
      for (const before of reached.values()) {
        const position = way.position === 0 ? before.position : way.position;
        const cost = before.cost + way.cost + shiftCost * fretsMoved(before.position, way.position);
        const known = next.get(position);
        if (!known || cost < known.cost) next.set(position, { position, cost, path: { way, before: before.path } });
      }
    reached = next;
  }
  const end = [...reached.values()].reduce((a, b) => (b.cost < a.cost ? b : a));
  const ways: W[] = [];
  for (let path = end.path; path; path = path.before) ways.push(path.way);
  return ways.reverse();
}

/** From nowhere, and to open strings, the hand shifts for nothing. */
function fretsMoved(from: number, to: number): number {
  return from === 0 || to === 0 ? 0 : Math.abs(to - from);
}
