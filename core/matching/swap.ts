/** Which cell is where, by code: the groups from the negative end, and what is left over. */
export interface CellPlaces {
  groups: readonly (readonly string[])[];
  left: readonly string[];
}

/** Why two cells cannot change place. */
export type SwapRefusal =
  | { code: 'not-there'; cell: string }
  | { code: 'same-place' }
  /** It is welded to others, and the other is not as many. */
  | { code: 'welded'; cell: string; with: string[] };

/**
 * Two cells change place, each with what it is welded to; a cell may also change place with one that is left over.
 *
 * @param bonds of each welded cell the name of its bond
 */
export function swapped(
  { groups, left }: CellPlaces,
  one: string,
  other: string,
  bonds: ReadonlyMap<string, string>,
): CellPlaces | SwapRefusal {
  const lists = [...groups, left];
  const placeOf = (cell: string): number => lists.findIndex((list) => list.includes(cell));
  const [from, to] = [placeOf(one), placeOf(other)];
  const missing = [one, other].find((cell) => placeOf(cell) < 0);
  if (missing !== undefined) return { code: 'not-there', cell: missing };
  if (from === to) return { code: 'same-place' };
  const together = (cell: string, list: number): string[] => {
    const bond = bonds.get(cell);
    return bond === undefined ? [cell] : (lists[list] ?? []).filter((each) => bonds.get(each) === bond);
  };
  const [mine, theirs] = [together(one, from), together(other, to)];
  if (mine.length !== theirs.length) {
    const [cell, whole] = mine.length > theirs.length ? [one, mine] : [other, theirs];
    return { code: 'welded', cell, with: whole.filter((each) => each !== cell) };
  }
  const swap = (list: readonly string[], out: readonly string[], into: readonly string[]): string[] => {
    const at = list.indexOf(out[0] ?? '');
    const kept = list.filter((cell) => !out.includes(cell));
    return [...kept.slice(0, at), ...into, ...kept.slice(at)];
  };
  const next = lists.map((list, i) => {
    if (i === from) return swap(list, mine, theirs);
    return i === to ? swap(list, theirs, mine) : [...list];
  });
  return { groups: next.slice(0, -1), left: next.at(-1) ?? [] };
}
