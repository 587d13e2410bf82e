import type { Finger } from "../passage/schema.ts";

/** A fretted note a hand has to hold, with the finger the document asks for, if any. */
export interface GripNote {
  string: number;
  fret: number;
  finger: Finger | undefined;
}

export interface GripOption {
  /** Fret at which the index belongs. */
  position: number;
  fingers: readonly Finger[];
  /** Stretch and awkwardness; comparable between options of the same grip. */
  cost: number;
}

/** Offsets in frets from the index at which fingers fall naturally; bassists use 1-2-4 low on the neck. */
const ONE_PER_FRET = [1, 2, 3, 4] as const;
const LOW_BASS = [1, 2, 4] as const;

/** Ways to finger a set of fretted notes: one option per hand position that can hold it at all. */
export function gripOptions(notes: readonly GripNote[], isBass: boolean): GripOption[] {
  const fretted = notes.filter((n) => n.finger !== "T");
  if (fretted.length === 0) return [{ position: 1, fingers: notes.map((n) => n.finger ?? "T"), cost: 0 }];
  const lowest = Math.min(...fretted.map((n) => n.fret));
  const options: GripOption[] = [];
  for (let position = Math.max(1, lowest - 3); position <= lowest; position++) options.push(gripAt(notes, position, isBass));
  return options;
}

function gripAt(notes: readonly GripNote[], position: number, isBass: boolean): GripOption {
  const natural = isBass && position < 5 ? LOW_BASS : ONE_PER_FRET;
  const order = notes.map((_, i) => i).sort((a, b) => notes[a]!.fret - notes[b]!.fret || notes[b]!.string - notes[a]!.string);
  const fingers: Finger[] = new Array(notes.length).fill(0);
  const used = new Map<Finger, number>();
  let cost = 0;
  for (const i of order) {
    const given = notes[i]!.finger;
    if (given !== undefined) {
      fingers[i] = given;
      used.set(given, notes[i]!.fret);
      const expected = naturalFinger(natural, notes[i]!.fret - position).finger;
      if (given !== "T" && given !== 0) cost += 3 * Math.abs(given - expected);
    }
  }
  for (const i of order) {
    const { fret, finger: given } = notes[i]!;
    if (given !== undefined) continue;
    const wish = naturalFinger(natural, fret - position);
    cost += wish.stretch * 4;
    const together = order.filter((k) => notes[k]!.fret === fret && notes[k]!.finger === undefined).length;
    const barre = used.get(wish.finger) === fret && (wish.finger === 1 ? together >= 3 || used.size + together > 5 : false);
    const finger = barre ? wish.finger : (freeFinger(wish.finger, used) ?? wish.finger);
    if (!barre && finger === wish.finger && used.has(finger)) cost += used.get(finger) === fret ? 3 : 40;
    cost += finger - wish.finger;
    fingers[i] = finger;
    used.set(finger, fret);
  }
  // The index at its post is the hand's rest.
  if (!used.has(1)) cost += 1;
  return { position, fingers, cost };
}

function naturalFinger(natural: readonly number[], offset: number): { finger: 1 | 2 | 3 | 4; stretch: number } {
  if (offset < 0) return { finger: 1, stretch: -offset };
  const finger = natural[Math.min(offset, natural.length - 1)] as 1 | 2 | 3 | 4;
  return { finger, stretch: Math.max(0, offset - natural.length + 1) };
}

function freeFinger(from: 1 | 2 | 3 | 4, used: ReadonlyMap<Finger, number>): 1 | 2 | 3 | 4 | null {
  for (let finger = from; finger <= 4; finger++) if (!used.has(finger as Finger)) return finger as 1 | 2 | 3 | 4;
  return null;
}
