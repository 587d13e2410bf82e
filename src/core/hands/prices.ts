/**
 * What every choice of a hand costs, in tenths of effort: contacts by the second they are held, gestures each, the rest as it says.
 * Written by `npm run preferences` from pairs of plans of which players take one (docs/preferences.md); nobody tunes a price here.
 */
export const PRICES = {
  /** A quiet string that nobody holds, a second; the scale of all others. */
  bare: 3,
  /** A string struck under no hand, each time. */
  bareStruck: 5,
  /** A ring too faint to be heard as a stray, for every dB over the threshold and second. */
  faint: 4,
  /** Of what a failing contact would let ring, this share. */
  risk: 0.1,
  /** A finger flattened over one string, and what the second one adds. */
  flat: 3,
  flatter: 2,
  /** One finger by itself laid on strings; idle fingers together where the index usually leans. */
  spareFinger: 8,
  together: 2,
  across: 4,
  slapped: 4,
  thumbOver: 3,
  thumbEdge: 1,
  curled: 4,
  /** Curling them there in the first place. */
  curl: 18,
  flatHand: 6,
  replant: 1,
  /** A heel that stays at the bridge, and every string beyond three that it is stretched over. */
  stays: 0.5,
  stretched: 0.5,
  /** The thumb on another bass string than its last one. */
  thumbAway: 1,
  /** A palm one string nearer or further than the player's school has it, each stroke. */
  offSchool: 1,
  palmLand: 12,
  palmLift: 8,
  palmShift: 3,
  release: 4,
  repress: 4,
  indexFlatten: 2,
  indexArch: 2,
  lay: 15,
  restore: 15,
  spare: 12,
  thumbTravel: 5,
  thumbTravelNext: 2,
  /** What happens within a stroke or the placing of a finger; fingers beside the picking hand. */
  settle: 3,
  settleBeside: 1,
};

export type Price = keyof typeof PRICES;
