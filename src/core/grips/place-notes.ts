import { knownIn } from "../caching/known.ts";
import type { NeckPlace } from "../music/neck.ts";
import type { Instrument } from "../passage/schema.ts";
import { lastFret, openPitches } from "../passage/settings.ts";
import { cheapestHandPath, type HandWay } from "./hand-path.ts";

/** A note with a pitch, a place on the neck, or both. */
export interface Unplaced {
  pitch: number | null;
  string?: number | undefined;
  fret?: number | undefined;
}

/** Cost of a fret between neighbouring chords' positions, of a fret up the neck, and of a stretch; from memory, only the order matters. */
const PER_FRET_MOVED = 1;
const PER_FRET_UP = 0.15;
const PER_FRET_STRETCHED = 1.5;
/** A narrow hold is a little better than a wide one, even within a finger a fret. */
const PER_FRET_WIDE = 0.2;
/** Frets that four fingers cover without a stretch, less one. */
const UNSTRETCHED = 3;
/** Cost of a fret away from where the hand is asked to lie; an open string counts as so many frets away at most. */
const PER_FRET_AWAY = 2;
const OPEN_AWAY = 3;
const MOST_WAYS = 60;
/** Moments between two words of how far it is. */
const MOMENTS_A_WORD = 500;

/**
 * Places on the neck for notes that have only a pitch: for every moment the ways to play it, and over all moments the
 * cheapest path through them, near the nut and near what was played before. What has a place keeps it; what the neck
 * does not have is undefined. With `near` the hand lies about that fret instead of near the nut.
 */
export function placed(
  moments: readonly (readonly Unplaced[])[],
  instrument: Instrument,
  { near, onProgress = () => {} }: { near?: number | undefined; onProgress?: ((done: number, of: number) => void) | undefined } = {},
): (NeckPlace | undefined)[][] {
  const open = openPitches(instrument);
  const last = lastFret(instrument);
  const known = new Map<string, Way[]>();
  const waysAt = (m: number) => {
    if (m % MOMENTS_A_WORD === 0) onProgress(m, moments.length);
    const notes = moments[m]!;
    return knownIn(known, JSON.stringify(notes), () => waysOf(notes, open, last, near));
  };
  return cheapestHandPath(moments.length, waysAt, PER_FRET_MOVED).map(({ places }) => [...places]);
}

interface Way extends HandWay {
  places: readonly (NeckPlace | undefined)[];
}

function waysOf(notes: readonly Unplaced[], open: readonly number[], last: number, near: number | undefined): Way[] {
  const costOf = near === undefined ? costFromNut : (way: readonly (NeckPlace | undefined)[]) => costAbout(way, near);
  let ways: (NeckPlace | undefined)[][] = [[]];
  // The highest note first: it has the fewest strings to choose from.
  const order = notes.map((_, i) => i).sort((a, b) => (notes[b]!.pitch ?? 0) - (notes[a]!.pitch ?? 0));
  for (const i of order) {
    const { pitch, string, fret } = notes[i]!;
    const isGiven = string !== undefined && fret !== undefined;
    const all = isGiven
      ? string <= open.length && string >= 1 && fret <= last && fret >= 0
        ? [{ string, fret }]
        : []
      : pitch === null
        ? []
        : open.flatMap((own, s) => (pitch >= own && pitch - own <= last ? [{ string: s + 1, fret: pitch - own }] : []));
    const next = ways.flatMap((way) => {
      const free = all.filter((place) => !way.some((other) => other?.string === place.string));
      return free.length > 0 ? free.map((place) => [...way, place]) : [[...way, isGiven ? all[0] : undefined]];
    });
    const fullest = Math.max(...next.map(count));
    ways = next
      .filter((way) => count(way) === fullest)
      .sort((a, b) => costOf(a) - costOf(b))
      .slice(0, MOST_WAYS);
  }
  return ways.map((way) => {
    const places = new Array<NeckPlace | undefined>(notes.length);
    order.forEach((i, k) => {
      places[i] = way[k];
    });
    const frets = pressed(way);
    return { places, position: frets.length > 0 ? Math.min(...frets) : 0, cost: costOf(way) };
  });
}

function count(way: readonly (NeckPlace | undefined)[]): number {
  return way.filter((place) => place !== undefined).length;
}

function pressed(way: readonly (NeckPlace | undefined)[]): number[] {
  return way.flatMap((place) => (place && place.fret > 0 ? [place.fret] : []));
}

function costFromNut(way: readonly (NeckPlace | undefined)[]): number {
  return PER_FRET_UP * Math.max(0, ...pressed(way)) + stretchOf(way);
}

/** A finger a fret from there on costs nothing; open strings are another sound and another place. */
function costAbout(way: readonly (NeckPlace | undefined)[], near: number): number {
  const beyond = (fret: number) => Math.max(0, near - fret, fret - near - UNSTRETCHED);
  const away = pressed(way).reduce((sum, fret) => sum + beyond(fret), 0);
  const open = way.filter((place) => place?.fret === 0).length;
  return PER_FRET_AWAY * (away + Math.min(near, OPEN_AWAY) * open) + stretchOf(way);
}

function stretchOf(way: readonly (NeckPlace | undefined)[]): number {
  const frets = pressed(way);
  if (frets.length === 0) return 0;
  const stretch = Math.max(...frets) - Math.min(...frets);
  return PER_FRET_STRETCHED * Math.max(0, stretch - UNSTRETCHED) + PER_FRET_WIDE * stretch;
}
