/**
 * An upper bound, Ah, on the weakest group of any arrangement of these cells in `series` groups of `parallel`.
 * For each j: the j strongest cells lie in at most j groups, so at least series − j groups hold none of them, and the
 * weakest of those is no better than the mean over the strongest (series − j) · parallel of the others. Bonds and
 * leftovers only narrow the choice, so the bound stays valid.
 */
export function upperBoundAh(capacitiesAh: readonly number[], series: number, parallel: number): number {
  const sorted = [...capacitiesAh].sort((a, b) => b - a);
  const sums = [0];
  sorted.forEach((capacity, i) => sums.push((sums[i] as number) + capacity));
  let bound = Infinity;
  for (let j = 0; j < series; j++) {
    const last = Math.min(sorted.length, j + (series - j) * parallel);
    bound = Math.min(bound, ((sums[last] as number) - (sums[j] as number)) / (series - j));
  }
  return bound;
}
