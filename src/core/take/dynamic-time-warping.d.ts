declare module "dynamic-time-warping" {
  /** Of two series under a distance. */
  export default class DynamicTimeWarping<T> {
    constructor(first: readonly T[], second: readonly T[], distance: (a: T, b: T) => number);
    /** Pairs of places, from the first to the last of both. */
    getPath(): [number, number][];
    getDistance(): number;
  }
}
