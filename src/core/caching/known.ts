interface Table<K, V> {
  get(key: K): V | undefined;
  set(key: K, value: V): unknown;
}

/** What a table holds for a key; made and put there where it holds nothing yet. */
export function knownIn<K, V>(table: Table<K, V>, key: K, make: (key: K) => V): V {
  const known = table.get(key);
  if (known !== undefined) return known;
  const made = make(key);
  table.set(key, made);
  return made;
}
