import type { PlannedString, TouchedBy } from "../document/plan.ts";
import { fractionOf, TICKS_PER_WHOLE } from "../music/ticks.ts";
import type { Passage, Pin, Stroke } from "../passage/schema.ts";
import { ofFinger, wordsOf } from "../words/contacts.ts";
import { emptyLike } from "./figure-passage.ts";
import { type At, excess, type Found, isSounding, keepers } from "./found.ts";
import type { Candidate, DrillContact, Strain } from "./types.ts";

const MINUTES = 2;
/** Contacts that can be tried by striking both strings at once; a finger that only rests after its note, or a thumb that has just struck, cannot. */
const BY_NEIGHBOUR: ReadonlySet<string> = new Set(["fretting tip", "fretting underside", "fretting flat"]);
const BY_HAND: ReadonlySet<string> = new Set(["fretting thumb", "picking palm", "picking thumb-edge", "picking spare"]);
/** Contacts of one plan that are drilled at most: those that keep the loudest rings away. */
const MOST = 4;

interface Kept {
  contact: DrillContact;
  sumDb: number;
  /** Where it keeps the loudest ring beside a note that sounds. */
  best: { at: At; damped: PlannedString; sounding: PlannedString; db: number } | null;
}

/** One contact at a time: the note that is held and the string that it keeps still are struck together, until only the note speaks. */
export function bothStrings(found: Found): Candidate[] {
  const kept = new Map<string, Kept>();
  for (const at of found.steps)
    for (const damped of at.step.strings) {
      const db = excess(damped);
      if (db === 0) continue;
      for (const touch of keepers(damped)) {
        const kind = `${touch.hand} ${touch.part}`;
        if (!BY_NEIGHBOUR.has(kind) && !BY_HAND.has(kind)) continue;
        const sounding = nearestSounding(at, damped.string, BY_NEIGHBOUR.has(kind) ? touch : null);
        const contact = contactOf(touch);
        const known = kept.get(keyOf(contact)) ?? { contact, sumDb: 0, best: null };
        known.sumDb += db;
        if (sounding && (!known.best || db > known.best.db)) known.best = { at, damped, sounding, db };
        kept.set(keyOf(contact), known);
      }
    }
  return [...kept.values()]
    .flatMap((one) => (one.best ? [{ ...one, best: one.best }] : []))
    .sort((a, b) => b.sumDb - a.sumDb)
    .slice(0, MOST)
    .flatMap((one) => drillFor(found, one) ?? []);
}

function contactOf({ hand, part, finger }: TouchedBy): DrillContact {
  return { hand, part, ...(finger === undefined ? {} : { finger }) } as DrillContact;
}

function keyOf({ hand, part, finger }: DrillContact): string {
  return `${hand} ${part}${finger === undefined ? "" : ` ${finger}`}`;
}

/** "index tip on string 5". */
function contactWords(contact: DrillContact, on: string): string {
  return wordsOf(contact)
    .lies(contact.finger === undefined ? "" : ofFinger(contact.finger), on)
    .trim();
}

/** The string beside it that sounds; pressed by the same finger, where that keeps both. */
function nearestSounding(at: At, string: number, presser: TouchedBy | null): PlannedString | null {
  const isPressed = ({ touchedBy }: PlannedString) =>
    touchedBy.some(({ hand, part, finger }) => part === "press" && hand === presser?.hand && finger === presser.finger);
  const found = at.step.strings.filter((other) => isSounding(other) && (presser === null || isPressed(other)));
  return found.sort((a, b) => Math.abs(a.string - string) - Math.abs(b.string - string))[0] ?? null;
}

function drillFor(found: Found, { contact, sumDb, best }: Kept & { best: NonNullable<Kept["best"]> }): Candidate | null {
  const { at, damped, sounding } = best;
  const written = noteOn(found, at, sounding.string);
  if (!written) return null;
  const presses = BY_NEIGHBOUR.has(`${contact.hand} ${contact.part}`) && written.fret > 0;
  const note = presses ? { ...written, finger: contact.finger as 1 } : written;
  const low = Math.max(damped.string, sounding.string);
  const high = Math.min(damped.string, sounding.string);
  const strings = Array.from({ length: low - high + 1 }, (_, i) => low - i);
  // What lies between belongs to the chord, if it sounds, else it is struck dead as well.
  const isBetween = (one: PlannedString) => one.string > high && one.string < low && isSounding(one);
  const between = at.step.strings.filter(isBetween).flatMap(({ string }) => noteOn(found, at, string) ?? []);
  // At the bridge a palm muffles what is struck under it, and does not deaden it.
  const isPalm = contact.hand === "picking" && contact.part === "palm";
  const muffled = isPalm ? [{ string: damped.string, fret: 0, tone: "palm" as const }] : [];
  const quarter = TICKS_PER_WHOLE / 4;
  const strokes = [0, 1, 2, 3].map(
    (k): Stroke => ({ at: fractionOf(k * quarter), length: fractionOf(quarter), strings, notes: [note, ...between, ...muffled].map((one) => ({ ...one })) }),
  );
  const pin: Pin = { want: "demand", string: damped.string, from: { bar: 1, at: "0" }, to: { bar: 1, at: "3/4" }, contact: contact as Pin["contact"] };
  const title = `Both strings: ${contactWords(contact, String(damped.string))}`;
  const passage: Passage = { ...emptyLike(found.passage, title), bars: [{ meter: [4, 4], strokes }], ...(isPalm ? {} : { pins: [pin] }) };
  const strain = strainOf(contact);
  return {
    id: `both-strings ${keyOf(contact)}`,
    kind: "both-strings",
    title,
    does: `Hold ${note.fret === 0 ? `string ${sounding.string} open` : `string ${sounding.string} at fret ${note.fret}`}, ${contactWords(contact, `string ${damped.string}`)}, and strike both together.`,
    listensFor: `Only string ${sounding.string} speaks; string ${damped.string} is a ${isPalm ? "short muffled" : "dull"} knock.`,
    hand: contact.hand === "picking" ? "picking" : "fretting",
    focus: { ...placeOf(at), strings: [damped.string], contact },
    strokes: "play",
    sounds: { right: { damping: "planned" }, fails: { without: contact } },
    why: `it keeps string ${damped.string} from ringing${best.db >= LOUD_DB ? " as loud as a note" : ""}`,
    ...(strain ? { strain } : {}),
    value: sumDb / found.bars,
    usual: MINUTES,
    passage,
  };
}

/** So far over what is heard it sounds like a note (see words of loudness). */
const LOUD_DB = 20;

/** The note that sounds on a string at a step, as it is written where it began. */
function noteOn(found: Found, at: At, string: number): Stroke["notes"][number] | null {
  for (let i = at.index; i >= 0; i--) {
    const note = found.steps[i]!.stroke?.notes.find((one) => one.string === string);
    if (!note) continue;
    const { id: _, length: _length, from: _from, bend: _bend, letRing: _ring, ...rest } = note;
    return rest;
  }
  return null;
}

export function placeOf(from: At, to = from): { fromBar: number; fromAt: string; toBar: number; toAt: string } {
  return { fromBar: from.step.bar, fromAt: from.step.at, toBar: to.step.bar, toAt: to.step.at };
}

function strainOf({ hand, part }: DrillContact): Strain | null {
  if (hand !== "fretting") return null;
  return part === "thumb" ? "thumb over" : part === "lay" || part === "slap" ? "across" : null;
}
