import { groupedBy } from '../grouped';
import type { Block } from './blocks';

type Sized = Pick<Block, 'size' | 'capacityAh'>;

/**
 * An upper bound, Ah, on the weakest group of any arrangement of these blocks in `series` groups of `parallel`. For
 * each j: the j strongest blocks lie in at most j groups, so at least series − j groups hold none of them, and the
 * weakest of those is no better than the mean over the best whole blocks of the others that fill this many groups to
 * the last place. Leftovers and what fits where only narrow the choice, so the bound stays valid. -Infinity where no
 * whole blocks fill the pack.
 *
 * @param blocks strongest first by capacity per cell
 */
export function upperBoundAh(blocks: readonly Sized[], series: number, parallel: number): number {
  let bound = bestFill(blocks, series, parallel) / series;
  for (let j = 1; j < series; j++) {
    const best = bestFill(blocks.slice(j), series - j, parallel);
    if (best > -Infinity) bound = Math.min(bound, best / (series - j));
  }
  return bound;
}

/**
 * The most that whole blocks come to which hold exactly `groups` × `parallel` cells, Ah: of each size the strongest, of
 * no size more than the groups have room for. A knapsack with one class for each size.
 */
function bestFill(blocks: readonly Sized[], groups: number, parallel: number): number {
  const want = groups * parallel;
  let best = new Float64Array(want + 1).fill(-Infinity);
  best[0] = 0;
  for (const [size, alike] of groupedBy(blocks, (block) => block.size)) {
    const sums = [0];
    const most = Math.min(alike.length, groups * Math.floor(parallel / size));
    const strongest = alike.map(({ capacityAh }) => capacityAh).sort((a, b) => b - a);
    for (let k = 0; k < most; k++) sums.push((sums[k] as number) + (strongest[k] as number));
    const next = new Float64Array(want + 1).fill(-Infinity);
    for (let count = 0; count <= want; count++) {
      const before = best[count] as number;
      if (before === -Infinity) continue;
      for (let k = 0; k <= most && count + k * size <= want; k++) {
        const total = before + (sums[k] as number);
        if (total > (next[count + k * size] as number)) next[count + k * size] = total;
      }
    }
    best = next;
  }
  return best[want] as number;
}
