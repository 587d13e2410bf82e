import type { Finger } from "../passage/schema.ts";
import type { TimelineNote } from "../timeline/types.ts";

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

type Pressing = 1 | 2 | 3 | 4;

/** Frets from the index at which fingers 1-4 fall naturally; bassists use 1-2-4 low on the neck. */
const ONE_PER_FRET = [0, 1, 2, 3] as const;
const LOW_BASS = [0, 1, 2, 2] as const;
const LOW_BASS_BELOW = 5;

/** What makes a grip awkward. From memory, adjustable; only the order matters. */
const REACH_UP = 4;
/** Per finger, for each fret: the ring finger goes along with the middle one more easily than that with the index. */
const DRAWN_IN = [0, 1, 1, 0.95, 1] as const;
const SPARED_RING = 0.5;
const IDLE_INDEX = 1;
/** Two notes and more are held from the index: power chords and octaves move up and down with index and ring or little finger. */
const IDLE_INDEX_IN_CHORD = 3.5;
const INDEX_BARRE = 2;
const OTHER_BARRE = 6;
const PER_BARRED_STRING = 0.4;
const ARCHED_BACK = 5;
const OTHER_THAN_NATURAL = 3;
/** More than any awkwardness: no hand does it, but the document asks for it or nothing else is left. */
export const UNPLAYABLE = 40;

/**
 * Ways to finger a set of fretted notes: for every hand position the least awkward one. Common practice: a finger is at
 * one fret; a higher finger is never nearer the nut; at one fret the lower finger is on the bass side; one finger may
 * lie across strings that no note or open string needs lower down. `open` are strings that sound open.
 */
export function gripOptions(notes: readonly GripNote[], isBass: boolean, open: readonly number[] = []): GripOption[] {
  const fretted = notes.filter((n) => n.finger !== "T");
  if (fretted.length === 0) return [{ position: 1, fingers: notes.map((n) => n.finger ?? "T"), cost: 0 }];
  const lowest = Math.min(...fretted.map((n) => n.fret));
  const options: GripOption[] = [];
  for (let position = Math.max(1, lowest - 3); position <= lowest; position++) options.push(gripAt(notes, position, isBass, open));
  return options;
}

function gripAt(notes: readonly GripNote[], position: number, isBass: boolean, open: readonly number[]): GripOption {
  const natural = isBass && position < LOW_BASS_BELOW ? LOW_BASS : ONE_PER_FRET;
  // The index at its post is the hand's rest; but two notes at one fret beside open strings are for the middle and the ring finger.
  const isPair = notes.length === 2 && notes[0]!.fret === notes[1]!.fret && open.length > 0;
  const order = notes.map((_, i) => i).sort((a, b) => notes[a]!.fret - notes[b]!.fret || notes[b]!.string - notes[a]!.string);
  const fingers: Finger[] = new Array(notes.length).fill(0);
  let best: { fingers: readonly Finger[]; cost: number } | null = null;
  const search = (k: number, cost: number): void => {
    if (best && cost >= best.cost) return;
    const i = order[k];
    if (i === undefined) {
      const whole = cost + (fingers.includes(1) || isPair ? 0 : notes.length > 1 ? IDLE_INDEX_IN_CHORD : IDLE_INDEX);
      if (!best || whole < best.cost) best = { fingers: [...fingers], cost: whole };
      return;
    }
    const note = notes[i]!;
    const wishes: readonly Finger[] = note.finger === undefined ? [1, 2, 3, 4] : [note.finger];
    for (const finger of wishes) {
      fingers[i] = finger;
      search(k + 1, cost + added(notes, order, k, fingers, natural, position, open));
    }
    fingers[i] = 0;
  };
  search(0, 0);
  const found = best as { fingers: readonly Finger[]; cost: number } | null;
  return { position, fingers: found!.fingers, cost: found!.cost };
}

/** What the k-th note adds, given the fingers of those before it. */
function added(
  notes: readonly GripNote[],
  order: readonly number[],
  k: number,
  fingers: readonly Finger[],
  natural: readonly number[],
  position: number,
  open: readonly number[],
): number {
  const i = order[k]!;
  const note = notes[i]!;
  const finger = fingers[i]!;
  if (finger === "T" || finger === 0) return 0;
  const off = note.fret - position - natural[finger - 1]!;
  let cost = off > 0 ? REACH_UP * off : -DRAWN_IN[finger] * off;
  if (natural === LOW_BASS && finger === 3) cost += SPARED_RING;
  if (note.finger !== undefined) cost = OTHER_THAN_NATURAL * Math.abs(finger - naturalFinger(natural, note.fret - position));
  let joins = false;
  for (let before = 0; before < k; before++) {
    const j = order[before]!;
    const other = fingers[j]!;
    if (other === "T" || other === 0) continue;
    if (other === finger && notes[j]!.fret === note.fret) {
      if (!joins) cost += barreCost(notes, note, notes[j]!, finger, isFirstOf(order, k, notes, fingers, finger), open);
      joins = true;
    } else if (other === finger || other > finger) cost += UNPLAYABLE;
  }
  return cost;
}

/** Whether the finger has pressed one note so far, so that this one makes it a barre. */
function isFirstOf(order: readonly number[], k: number, notes: readonly GripNote[], fingers: readonly Finger[], finger: Finger): boolean {
  let count = 0;
  for (let before = 0; before < k; before++) if (fingers[order[before]!] === finger && notes[order[before]!]!.fret === notes[order[k]!]!.fret) count++;
  return count === 1;
}

function barreCost(notes: readonly GripNote[], a: GripNote, b: GripNote, finger: Pressing, begins: boolean, open: readonly number[]): number {
  const low = Math.min(a.string, b.string);
  const high = Math.max(a.string, b.string);
  const lies = (string: number) => string > low && string < high;
  // It would press what should sound lower.
  const stops = open.some(lies) || notes.some((n) => lies(n.string) && n.fret < a.fret);
  // The finger comes from the treble side: it has to arch back over strings there that sound open.
  const archesBack = begins && open.some((string) => string < high);
  return (stops ? UNPLAYABLE : 0) + (begins ? (finger === 1 ? INDEX_BARRE : OTHER_BARRE) : 0) + (archesBack ? ARCHED_BACK : 0) + PER_BARRED_STRING;
}

function naturalFinger(natural: readonly number[], offset: number): Pressing {
  if (offset < 0) return 1;
  const at = natural.indexOf(offset);
  return (at < 0 ? 4 : natural === LOW_BASS && offset === 2 ? 4 : at + 1) as Pressing;
}

/** A finger of the fretting hand is there: it is neither open nor tapped by the other hand. */
export function isFretted({ fret, from }: TimelineNote): boolean {
  return fret > 0 && from !== "tap";
}
