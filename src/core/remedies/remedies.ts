import { AUDIBLE_DB } from "../acoustics/constants.ts";
import type { Remedy, RemedyKind, Stray } from "../document/plan.ts";
import { ticksOf } from "../music/ticks.ts";
import { patched } from "../passage/patch.ts";
import type { Passage } from "../passage/schema.ts";
import { settingsOf } from "../passage/settings.ts";
import { outcomesOf, type PlannedStages, straysOf } from "../verdict/verdict.ts";
import { effectWords, saysOf, whatOf } from "../words/remedies.ts";
import { type Candidate, candidatesFor, tempoChange } from "./candidates.ts";

/** Loudest stray rings that remedies are sought for; the same one in a later bar mostly goes the same way. */
const MOST_STRAYS = 6;
/** Remedies said at most, the best first. */
const MOST_REMEDIES = 5;

/** What a player tries first (common practice): a habit, other fingers, another place, the stroke, shorter notes; last what changes the music or hides technique. */
const ORDER: readonly RemedyKind[] = ["school", "finger", "barre", "place", "stroke", "shorten", "tempo", "palm-mute", "fret-wrap"];

/**
 * Tries changes against the loudest stray rings and plans each anew: those that take away more than they give up, in the order in
 * which a player would try them. None does harm, rushes a hand or makes the music less playable. Yields after every plan, so that a
 * caller can stop.
 */
export function* remediesFor(
  passage: Passage,
  planned: PlannedStages,
  ceilingTempo: number | null,
  replan: (passage: Passage) => PlannedStages,
): Generator<void, Remedy[], void> {
  const before = standing(planned);
  if (before.strays.length === 0) return [];
  const loudest = [...before.strays].sort((a, b) => b.db - a.db).slice(0, MOST_STRAYS);
  const candidates = new Map<string, Candidate>();
  for (const candidate of [...loudest.flatMap((stray) => candidatesFor(passage, planned, stray)), ...tempoChange(passage, ceilingTempo)])
    candidates.set(JSON.stringify(candidate.patch), candidate);
  const found: Tried[] = [];
  for (const candidate of candidates.values()) {
    const tried = tryOut(candidate, passage, before, replan);
    yield;
    if (tried) found.push(tried);
  }
  // What helps alike at several places is one remedy for all of them.
  const alike = new Map<string, Tried[]>();
  for (const tried of found) {
    const name = whatOf(tried.candidate);
    alike.set(name, [...(alike.get(name) ?? []), tried]);
  }
  const remedies: Tried[] = [];
  for (const same of alike.values()) {
    const joined = same.length > 1 ? tryOut(together(same), passage, before, replan) : undefined;
    if (same.length > 1) yield;
    remedies.push(...(joined ? [joined] : same));
  }
  const rank = ({ candidate: { kind } }: Tried) => ORDER.indexOf(kind);
  // Choices that come to the same are one line: the best of them is taken, the others are named.
  const lines = new Map<string, Tried[]>();
  for (const tried of remedies.sort((a, b) => rank(a) - rank(b) || a.left.length - b.left.length || b.worth - a.worth)) {
    const { kind, what, where } = tried.candidate;
    const line = JSON.stringify([kind, what, where, tried.effect]);
    lines.set(line, [...(lines.get(line) ?? []), tried]);
  }
  return [...lines.values()]
    .slice(0, MOST_REMEDIES)
    .map((same) => ({ ...same[0]!.remedy, says: `${saysOf(same.map(({ candidate }) => candidate))}: ${same[0]!.effect}` }));
}

/** A change that helps, and what is left then. */
interface Tried {
  candidate: Candidate;
  remedy: Remedy;
  /** What then still rings. */
  effect: string;
  left: readonly Stray[];
  worth: number;
}

/** A change planned anew; null where it takes away less than it gives up, or makes anything worse. */
function tryOut(candidate: Candidate, passage: Passage, before: Standing, replan: (passage: Passage) => PlannedStages): Tried | null {
  const { kind, patch, price } = candidate;
  const changed = patched(passage, patch);
  if (!changed) throw new Error(`a remedy does not apply: ${whatOf(candidate)}`);
  const after = standing(replan(changed));
  const ringRemovedDb = fallDb(before.strays, after.strays);
  const worse = after.harm > before.harm || after.rushed > before.rushed || after.unplayable > before.unplayable || after.stray >= before.stray;
  if (worse || ringRemovedDb <= price) return null;
  const left = new Set(after.strays.map(nameOf));
  const removes = before.strays.filter((stray) => !left.has(nameOf(stray))).map(({ string, fromBar, fromAt }) => ({ string, fromBar, fromAt }));
  const effect = effectWords(after.strays, AUDIBLE_DB[settingsOf(passage).gain]);
  const remedy = { kind, says: `${saysOf([candidate])}: ${effect}`, ringRemovedDb, removes, patch };
  return { candidate, remedy, effect, left: after.strays, worth: ringRemovedDb - price };
}

/** The same change at several places. */
function together(same: readonly Tried[]): Candidate {
  const [{ candidate: first }] = same as [Tried];
  const places = [...new Set(same.flatMap(({ candidate: { where } }) => (where ? [where] : [])))];
  const where = places.length > 2 ? `${places[0]} and ${places.length - 1} places more` : places.join(" and ");
  return { ...first, where, patch: same.flatMap(({ candidate: { patch } }) => patch), price: Math.max(...same.map(({ candidate: { price } }) => price)) };
}

function nameOf({ string, fromBar, fromAt }: Stray): string {
  return `${string}/${fromBar}/${fromAt}`;
}

/** The most that one string falls at one moment, in dB over what is heard, to a tenth. */
export function fallDb(before: readonly Stray[], after: readonly Stray[]): number {
  const falls = before.map((stray) => {
    const still = after.filter((other) => other.string === stray.string && overlap(stray, other));
    return stray.db - Math.max(0, ...still.map(({ db }) => db));
  });
  return Math.round(Math.max(0, ...falls) * 10) / 10;
}

function overlap(a: Stray, b: Stray): boolean {
  return isBefore(a.fromBar, a.fromAt, b.toBar, b.toAt) && isBefore(b.fromBar, b.fromAt, a.toBar, a.toAt);
}

function isBefore(bar: number, at: string, otherBar: number, otherAt: string): boolean {
  return bar < otherBar || (bar === otherBar && ticksOf(at) < ticksOf(otherAt));
}

interface Standing {
  strays: readonly Stray[];
  harm: number;
  rushed: number;
  stray: number;
  unplayable: number;
}

function standing(planned: PlannedStages): Standing {
  const { harm, rushed, stray } = planned.path.cost;
  return {
    strays: straysOf(planned, outcomesOf(planned)),
    harm,
    rushed,
    stray,
    unplayable: planned.timeline.issues.length + planned.fingering.issues.length,
  };
}
