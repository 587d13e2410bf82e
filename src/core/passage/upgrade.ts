import { type Hand, partsOf } from "../hands/parts.ts";
import { PASSAGE_VERSION } from "./schema.ts";

/*
 * Documents of older versions, brought up to date one version at a time. What is not shaped as that version had it is left
 * as it is: the schema says what is wrong with it. Every step has a fixture in `fixtures/`.
 */

type Json = Record<string, unknown>;

/** By version: what makes the next version of a document. */
const STEPS: Readonly<Record<number, (document: Json) => Json>> = { 1: toVersion2 };

/** A passage document in the present version; one that is newer, or none at all, unchanged. */
export function upgraded(document: Json): Json {
  let now = document;
  for (let version = now.version; typeof version === "number" && version < PASSAGE_VERSION; version++) {
    const step = STEPS[version];
    if (!step) return now;
    now = { ...step(now), version: version + 1 };
  }
  return now;
}

/** Version 1 let a fretted note name finger 0, which no hand has, and pins name parts that their hand has not: neither said anything. */
function toVersion2(document: Json): Json {
  const bars = each(document.bars, (bar) => ({
    ...bar,
    ...listed("strokes", bar.strokes, (stroke) => ({
      ...stroke,
      ...listed("notes", stroke.notes, (note) => {
        const { finger, ...rest } = note;
        return finger === 0 && note.fret !== 0 ? rest : note;
      }),
    })),
  }));
  const pins = Array.isArray(document.pins) ? { pins: document.pins.filter((pin) => !namesNoPart(pin)) } : {};
  return { ...document, bars, ...pins };
}

function namesNoPart(pin: unknown): boolean {
  const contact = isJson(pin) && isJson(pin.contact) ? pin.contact : {};
  const { hand, part } = contact;
  if (typeof part !== "string" || !isHand(hand)) return false;
  return !(partsOf(hand) as string[]).includes(part) && HANDS.some((other) => (partsOf(other) as string[]).includes(part));
}

const HANDS = ["fretting", "picking", "aid"] as const satisfies readonly Hand[];

function isHand(value: unknown): value is Hand {
  return (HANDS as readonly unknown[]).includes(value);
}

function isJson(value: unknown): value is Json {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}

/** Every object of a list changed; anything else as it is. */
function each(list: unknown, change: (item: Json) => Json): unknown {
  return Array.isArray(list) ? list.map((item) => (isJson(item) ? change(item) : item)) : list;
}

/** The same for a field that may be left out. */
function listed(key: string, list: unknown, change: (item: Json) => Json): Json {
  return list === undefined ? {} : { [key]: each(list, change) };
}
