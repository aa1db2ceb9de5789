/** Everything by its key, in the order in which keys and members come. */
export function groupedBy<T, Key>(all: Iterable<T>, keyOf: (one: T) => Key): Map<Key, [T, ...T[]]> {
  const grouped = new Map<Key, [T, ...T[]]>();
  for (const one of all) {
    const key = keyOf(one);
    const own = grouped.get(key);
    if (own) own.push(one);
    else grouped.set(key, [one]);
  }
  return grouped;
}
