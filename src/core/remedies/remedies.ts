import { AUDIBLE_DB } from "../acoustics/constants.ts";
import type { Passage } from "../passage/schema.ts";
import { settingsOf } from "../passage/settings.ts";
import type { Remedy, Stray } from "../verdict/document.ts";
import { outcomesOf, type Planned, straysOf } from "../verdict/verdict.ts";
import { loudnessWords } from "../words/loudness.ts";
import { type Candidate, candidatesFor, tempoChange } from "./candidates.ts";
import { patched } from "./patch.ts";

/** Loudest stray rings that remedies are sought for; the same one in a later bar mostly goes the same way. */
const MOST_STRAYS = 6;
/** Remedies told at most, the best first. */
const MOST_REMEDIES = 5;

/**
 * Tries changes against the loudest stray rings and plans each anew: those that take away more than they give up, the
 * best first. None does harm, rushes a hand or makes the music less playable. Yields after every plan, so that a caller can stop.
 */
export function* remediesFor(
  passage: Passage,
  planned: Planned,
  ceilingTempo: number | null,
  replan: (passage: Passage) => Planned,
): Generator<void, Remedy[], void> {
  const before = standing(planned);
  const { gain } = settingsOf(passage);
  if (before.strays.length === 0) return [];
  const loudest = [...before.strays].sort((a, b) => b.db - a.db).slice(0, MOST_STRAYS);
  const candidates = new Map<string, Candidate>();
  for (const candidate of [...loudest.flatMap((stray) => candidatesFor(passage, planned, stray)), ...tempoChange(passage, ceilingTempo)])
    candidates.set(JSON.stringify(candidate.patch), candidate);
  const found: { remedy: Remedy; worth: number }[] = [];
  for (const { kind, what, patch, price } of candidates.values()) {
    const changed = patched(passage, patch);
    if (!changed) throw new Error(`a remedy does not apply: ${what}`);
    const after = standing(replan(changed));
    yield;
    const ringRemovedDb = removedDb(before.strays, after.strays);
    const worse = after.harm > before.harm || after.rushed > before.rushed || after.unplayable > before.unplayable || after.stray >= before.stray;
    if (worse || ringRemovedDb <= price) continue;
    const left = new Set(after.strays.map(nameOf));
    const gone = before.strays.filter((stray) => !left.has(nameOf(stray)));
    const removes = gone.map(({ string, fromBar, fromAt }) => ({ string, fromBar, fromAt }));
    found.push({
      remedy: { kind, says: `${what}: ${effectWords(after.strays, AUDIBLE_DB[gain])}`, ringRemovedDb, removes, patch },
      worth: ringRemovedDb - price,
    });
  }
  // What is said alike is one line.
  const said = new Set<string>();
  return found
    .sort((a, b) => b.worth - a.worth)
    .map(({ remedy }) => remedy)
    .filter(({ says }) => !said.has(says) && said.add(says))
    .slice(0, MOST_REMEDIES);
}

function nameOf({ string, fromBar, fromAt }: Stray): string {
  return `${string}/${fromBar}/${fromAt}`;
}

/** Sum of the stray rings' dB over the threshold that are gone, to a tenth. */
export function removedDb(before: readonly Stray[], after: readonly Stray[]): number {
  const sum = (strays: readonly Stray[]) => strays.reduce((total, stray) => total + stray.db, 0);
  return Math.round((sum(before) - sum(after)) * 10) / 10;
}

function standing(planned: Planned) {
  const { harm, rushed, stray } = planned.path.cost;
  return {
    strays: straysOf(planned, outcomesOf(planned)),
    harm,
    rushed,
    stray,
    unplayable: planned.timeline.issues.length + planned.fingering.issues.length,
  };
}

/** What a change comes to, by what is left of the ringing. */
function effectWords(left: readonly Stray[], audibleDb: number): string {
  if (left.length === 0) return "then nothing rings astray.";
  const loudest = new Map<number, number>();
  for (const { string, db } of left) loudest.set(string, Math.max(db, loudest.get(string) ?? 0));
  const strings = [...loudest].sort((a, b) => b[1] - a[1]);
  if (strings.length > 2) return `then ${strings.length} strings still ring.`;
  return `then only ${strings.map(([string, db]) => `string ${string} (${loudnessWords(db, audibleDb)})`).join(" and ")} still ring${strings.length === 1 ? "s" : ""}.`;
}
