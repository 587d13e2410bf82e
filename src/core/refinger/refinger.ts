import type { Stray } from "../document/plan.ts";
import { excerptOf } from "../edit/excerpt.ts";
import { ticksOf } from "../music/ticks.ts";
import type { Patch } from "../passage/patch.ts";
import { patched } from "../passage/patch.ts";
import type { Bar, Passage } from "../passage/schema.ts";
import { candidatesFor } from "../remedies/candidates.ts";
import { countOf } from "../timeline/counts.ts";
import { outcomesOf, type PlannedStages, straysOf } from "../verdict/verdict.ts";
import { saysOf } from "../words/remedies.ts";
import { cheapestPlaces, choicesOf } from "./places.ts";

export interface Refingered {
  passage: Passage;
  /** What changed, a sentence each. */
  changes: string[];
  before: readonly Stray[];
  after: readonly Stray[];
}

export interface Progress {
  /** Stray rings looked at, of how many. */
  done: number;
  of: number;
}

/**
 * Re-fingers a whole passage: places by the shortest path through the hand's positions, then, stray ring by stray ring,
 * other fingers and places judged by the damping plan itself. A change is kept only when the whole plan is better level by
 * level (harm, rushed, stray, effort), and tone and open strings are not given up for little. Equal bars are changed alike. Yields
 * its progress, so that a caller can stop.
 */
export function* refingerPassage(passage: Passage, replan: (passage: Passage) => PlannedStages): Generator<Progress, Refingered, void> {
  const changes: string[] = [];
  let best = passage;
  let planned = replan(passage);
  const before = straysOf(planned, outcomesOf(planned));
  yield { done: 0, of: before.length };

  const moved = withCheapestPlaces(passage, planned);
  if (moved.changes.length > 0) {
    const then = replan(moved.passage);
    if (isBetter(then, planned)) {
      best = moved.passage;
      planned = then;
      changes.push(...moved.changes);
    }
  }

  const looked = new Set<string>();
  for (;;) {
    const strays = straysOf(planned, outcomesOf(planned));
    const stray = strays.sort((a, b) => b.db - a.db).find((s) => !looked.has(kindOf(best, s)));
    if (!stray) break;
    looked.add(kindOf(best, stray));
    const change = bestChange(best, planned, stray, replan);
    if (change) {
      const everywhere = inEqualBars(best, change.patch, stray.fromBar - 1);
      const then = replan(everywhere.passage);
      if (isBetter(then, planned)) {
        best = everywhere.passage;
        planned = then;
        changes.push(`${change.what}${everywhere.bars > 1 ? `, and in ${everywhere.bars - 1} bar${everywhere.bars > 2 ? "s" : ""} like it` : ""}.`);
      }
    }
    yield { done: looked.size, of: Math.max(before.length, looked.size) };
  }
  return { passage: best, changes, before, after: straysOf(planned, outcomesOf(planned)) };
}

/** The places of the shortest path, written into the document. */
function withCheapestPlaces(passage: Passage, planned: PlannedStages): { passage: Passage; changes: string[] } {
  const strokes = choicesOf(passage, planned.timeline);
  const path = cheapestPlaces(strokes);
  const changes: string[] = [];
  const bars = [...passage.bars];
  strokes.forEach(({ bar, stroke }, k) => {
    const { places } = path[k]!;
    const written = bars[bar]!.strokes[stroke]!;
    if (written.notes.every((note, n) => note.string === places[n]!.string)) return;
    const notes = written.notes.map((note, n) => {
      const { string, fret } = places[n]!;
      if (string === note.string) return note;
      changes.push(
        `Bar ${bar + 1}, ${countOf(ticksOf(written.at), bars[bar]!)}: string ${note.string}, fret ${note.fret} goes to string ${string}, fret ${fret}.`,
      );
      const { finger: _, ...rest } = note;
      return { ...rest, string, fret };
    });
    bars[bar] = { ...bars[bar]!, strokes: bars[bar]!.strokes.map((s, i) => (i === stroke ? { ...written, notes } : s)) };
  });
  return { passage: { ...passage, bars }, changes };
}

const BARS_AROUND = 1;

/** The best other fingering or place against a stray ring, judged on the bars around it. */
function bestChange(
  passage: Passage,
  planned: PlannedStages,
  stray: Stray,
  replan: (passage: Passage) => PlannedStages,
): { what: string; patch: Patch } | null {
  const bar = stray.fromBar - 1;
  const excerpt = excerptOf(passage, bar - BARS_AROUND, bar + BARS_AROUND);
  const now = replan(excerpt);
  const strays = straysOf(now, outcomesOf(now));
  let best: { what: string; patch: Patch; worth: number } | null = null;
  for (const candidate of candidatesFor(passage, planned, stray)) {
    const { kind, patch, price } = candidate;
    if (kind !== "finger" && kind !== "barre" && kind !== "place") continue;
    const changed = patched(passage, patch);
    if (!changed) continue;
    const then = replan(excerptOf(changed, bar - BARS_AROUND, bar + BARS_AROUND));
    const worth = sumDb(strays) - sumDb(straysOf(then, outcomesOf(then))) - price;
    if (worth > (best?.worth ?? 0) && isBetter(then, now)) best = { what: saysOf([candidate]), patch, worth };
  }
  return best;
}

/** How much rings that should not, to compare fingerings by. */
function sumDb(strays: readonly Stray[]): number {
  return strays.reduce((sum, { db }) => sum + db, 0);
}

/** A patch of one bar's notes, made in every bar with the same strokes. */
function inEqualBars(passage: Passage, patch: Patch, bar: number): { passage: Passage; bars: number } {
  const target = Number(/^\/bars\/(\d+)\//.exec(patch[0]!.path)?.[1] ?? bar);
  const model = strokesOf(passage.bars[target]!);
  let changed = passage;
  let bars = 0;
  passage.bars.forEach((here, b) => {
    if (b !== target && strokesOf(here) !== model) return;
    const moved = patch.map((op) => ({ ...op, path: op.path.replace(`/bars/${target}/`, `/bars/${b}/`) }));
    const next = patched(changed, moved);
    if (!next) return;
    changed = next;
    bars++;
  });
  return { passage: changed, bars };
}

/** A bar's strokes without their names. */
function strokesOf(bar: Bar): string {
  return JSON.stringify(bar.strokes, (key, value) => (key === "id" ? undefined : value));
}

/** Stray rings of the same kind in equal bars are one. */
function kindOf(passage: Passage, stray: Stray): string {
  return `${stray.string}/${stray.fromAt}/${stray.cause}/${strokesOf(passage.bars[stray.fromBar - 1]!)}`;
}

const LEVELS = ["harm", "rushed", "stray", "effort"] as const;

function isBetter(a: PlannedStages, b: PlannedStages): boolean {
  if (unplayable(a) > unplayable(b)) return false;
  for (const level of LEVELS) if (a.path.cost[level] !== b.path.cost[level]) return a.path.cost[level] < b.path.cost[level];
  return false;
}

function unplayable({ timeline, fingering }: PlannedStages): number {
  return timeline.issues.length + fingering.issues.length;
}
