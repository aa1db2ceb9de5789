import { ImpossibleInput } from '../impossibleInput';
import type { Chance } from '../statistics/random';
import { type Block, strongestFirst } from './blocks';

/** Groups of blocks and what is left over. */
export interface Arrangement {
  groups: Block[][];
  sums: number[];
  left: Block[];
}

export const weakest = (sums: readonly number[]): number => {
  let at = 0;
  for (let i = 1; i < sums.length; i++) if ((sums[i] as number) < (sums[at] as number)) at = i;
  return at;
};

/**
 * Longest first: the strongest blocks that fill the pack, each into the weakest group with room.
 * Bonded sets are placed before singles, since only they can fail to fit.
 *
 * @throws ImpossibleInput when the bonds do not fit into groups of that size
 */
export function longestFirst(blocks: readonly Block[], series: number, parallel: number): Arrangement {
  const wanted = series * parallel;
  const strongest: Block[] = [];
  let count = 0;
  for (const block of blocks) {
    if (count + block.size > wanted) continue;
    strongest.push(block);
    count += block.size;
  }
  const arrangement = place(strongest, blocks, series, parallel) ?? place(blocks, blocks, series, parallel);
  if (!arrangement) throw new ImpossibleInput('cells', `The bonded cells do not fit into ${series} groups of ${parallel}. Take a bond apart or change the group size.`);
  return arrangement;
}

function place(chosen: readonly Block[], all: readonly Block[], series: number, parallel: number): Arrangement | null {
  const groups: Block[][] = Array.from({ length: series }, () => []);
  const sums = new Array<number>(series).fill(0);
  const room = new Array<number>(series).fill(parallel);
  const placed = new Set<Block>();
  const put = (block: Block): void => {
    let best = -1;
    for (let g = 0; g < series; g++) if ((room[g] as number) >= block.size && (best < 0 || (sums[g] as number) < (sums[best] as number))) best = g;
    const group = groups[best];
    if (!group) return;
    group.push(block);
    sums[best] = (sums[best] as number) + block.capacityAh;
    room[best] = (room[best] as number) - block.size;
    placed.add(block);
  };
  [...chosen].sort((a, b) => b.size - a.size || strongestFirst(a, b)).forEach(put);
  // Bonds may have left odd places that only singles outside the choice can take.
  all.filter((block) => block.size === 1 && !placed.has(block)).forEach(put);
  if (room.some((places) => places > 0)) return null;
  return { groups, sums, left: all.filter((block) => !placed.has(block)) };
}

/** Blocks that change place together. */
interface Bundle {
  blocks: readonly Block[];
  size: number;
  capacityAh: number;
}

interface Move {
  gain: number;
  mine: Bundle;
  theirs: Bundle;
  /** The other group, or -1 for what is left over. */
  g: number;
}

/**
 * Exchanges blocks of equal size between the weakest group and any other, or with what is left over, as long as the
 * weaker of the two groups gains; each time the exchange that gains most. Changes the arrangement in place.
 */
export function exchange(arrangement: Arrangement): void {
  for (;;) {
    const w = weakest(arrangement.sums);
    const move = bestMove(arrangement, w);
    if (!move) return;
    apply(arrangement, w, move);
  }
}

function bestMove({ groups, sums, left }: Arrangement, w: number): Move | null {
  const paired = groups.some((group) => group.some((block) => block.size > 1)) || left.some((block) => block.size > 1);
  const mine = bundlesOf(groups[w] as Block[], paired);
  const base = sums[w] as number;
  let best: Move | null = null;
  let bestGain = 1e-12;
  const weigh = (theirs: readonly Bundle[], g: number) => {
    const spare = g < 0 ? Infinity : (sums[g] as number) - base;
    for (const a of mine) {
      for (const b of theirs) {
        const rise = b.capacityAh - a.capacityAh;
        const gain = Math.min(rise, spare - rise);
        if (gain > bestGain && a.size === b.size) {
          bestGain = gain;
          best = { gain, mine: a, theirs: b, g };
        }
      }
    }
  };
  groups.forEach((group, g) => {
    if (g !== w) weigh(bundlesOf(group, paired), g);
  });
  weigh(bundlesOf(left.slice(0, mostLeftTried), paired), -1);
  return best;
}

/** The strongest of what is left over are the only ones worth trying. */
const mostLeftTried = 40;

/** Every block; with bonds about also every pair of singles, so that a bonded pair can change place with two cells. */
function bundlesOf(group: readonly Block[], paired: boolean): Bundle[] {
  const bundles: Bundle[] = group.map((block) => ({ blocks: [block], size: block.size, capacityAh: block.capacityAh }));
  if (!paired) return bundles;
  const singles = group.filter((block) => block.size === 1);
  singles.forEach((a, i) => singles.slice(i + 1).forEach((b) => bundles.push({ blocks: [a, b], size: 2, capacityAh: a.capacityAh + b.capacityAh })));
  return bundles;
}

function swapBlocks(list: Block[], out: readonly Block[], into: readonly Block[]): void {
  out.forEach((block) => list.splice(list.indexOf(block), 1));
  list.push(...into);
}

function apply({ groups, sums, left }: Arrangement, w: number, { mine, theirs, g }: Omit<Move, 'gain'>): void {
  const rise = theirs.capacityAh - mine.capacityAh;
  swapBlocks(groups[w] as Block[], mine.blocks, theirs.blocks);
  sums[w] = (sums[w] as number) + rise;
  if (g < 0) {
    swapBlocks(left, theirs.blocks, mine.blocks);
    left.sort(strongestFirst);
  } else {
    swapBlocks(groups[g] as Block[], theirs.blocks, mine.blocks);
    sums[g] = (sums[g] as number) - rise;
  }
}

export const copyOf = ({ groups, sums, left }: Arrangement): Arrangement => ({ groups: groups.map((group) => [...group]), sums: [...sums], left: [...left] });

/** Swaps a few blocks of equal size at random between groups, to leave a local best. Changes the arrangement in place. */
export function shake(arrangement: Arrangement, chance: Chance, swaps: number): void {
  const { groups } = arrangement;
  const pick = <T>(list: readonly T[]): T => list[Math.floor(chance.uniform() * list.length)] as T;
  const indices = groups.map((_, i) => i);
  for (let n = 0; n < swaps && groups.length > 1; n++) {
    const [w, g] = [pick(indices), pick(indices)];
    const [mine, theirs] = [pick(groups[w] as Block[]), pick(groups[g] as Block[])];
    if (w === g || mine.size !== theirs.size) continue;
    const bundle = (block: Block): Bundle => ({ blocks: [block], size: block.size, capacityAh: block.capacityAh });
    apply(arrangement, w, { mine: bundle(mine), theirs: bundle(theirs), g });
  }
}
