const MOST_REMEMBERED = 50000;

/** Lists of whole numbers of which many are equal: each is kept once, since what is kept costs more than finding it again. */
export class SharedLists {
  private readonly known = new Map<number, readonly number[]>();

  /** A list like this one, which may be written over afterwards. */
  of(list: readonly number[]): readonly number[] {
    let hash = list.length;
    for (let k = 0; k < list.length; k++) hash = (Math.imul(hash, 31) + list[k]!) | 0;
    const known = this.known.get(hash);
    if (known !== undefined && areEqual(known, list)) return known;
    const kept = list.slice();
    if (this.known.size >= MOST_REMEMBERED) this.known.clear();
    // One that happens to have the same number as another takes its place: that one is merely found no more.
    this.known.set(hash, kept);
    return kept;
  }
}

function areEqual(a: readonly number[], b: readonly number[]): boolean {
  if (a.length !== b.length) return false;
  for (let k = 0; k < a.length; k++) if (a[k] !== b[k]) return false;
  return true;
}
