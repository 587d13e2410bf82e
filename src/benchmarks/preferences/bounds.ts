import type { Price } from "../../core/hands/prices.ts";

/** Where a price starts, and what it may become. From memory; the pairs decide within. */
export interface Bounds {
  start: number;
  least: number;
  most: number;
}

/** The price that is not fitted: all others are so many of it. */
export const SCALE: Price = "bare";

/** From a fifth to five times of where it starts. */
const around = (start: number): Bounds => ({ start, least: start / 5, most: 5 * start });

export const BOUNDS: Readonly<Record<Price, Bounds>> = {
  bare: around(3),
  bareStruck: around(5),
  faint: around(4),
  // More would seek second contacts for their own sake.
  risk: { start: 0.1, least: 0.05, most: 0.2 },
  flat: around(3),
  flatter: around(2),
  spareFinger: around(8),
  together: around(2),
  across: around(4),
  slapped: around(4),
  thumbOver: around(3),
  thumbEdge: around(1),
  curled: around(4),
  // Dear enough that they pay only over two beats and more (common practice): for one beat at 100, two strings bare that answer 3 dB over do not.
  curl: { start: 18, least: 3, most: 30 },
  flatHand: around(6),
  replant: around(1),
  stays: around(0.5),
  stretched: around(0.5),
  thumbAway: around(1),
  offSchool: around(1),
  palmLand: around(12),
  palmLift: around(8),
  palmShift: around(3),
  release: around(4),
  repress: around(4),
  indexFlatten: around(2),
  indexArch: around(2),
  lay: around(15),
  restore: around(15),
  spare: around(12),
  thumbTravel: around(5),
  thumbTravelNext: around(2),
  settle: around(3),
  settleBeside: around(1),
};
