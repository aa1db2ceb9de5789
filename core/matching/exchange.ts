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
  if (!arrangement) throw new ImpossibleInput('cells', { code: 'bonds-do-not-fit', series, parallel });
  return arrangement;
}

function place(chosen: readonly Block[], all: readonly Block[], series: number, parallel: number): Arrangement | null {
  const groups: Block[][] = Array.from({ length: series }, () => []);
  const sums = new Array<number>(series).fill(0);
  const room = new Array<number>(series).fill(parallel);
  const placed = new Set<Block>();
  const put = (block: Block): void => {
    let best = -1;
    for (let g = 0; g < series; g++)
      if ((room[g] as number) >= block.size && (best < 0 || (sums[g] as number) < (sums[best] as number))) best = g;
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

interface Move {
  gain: number;
  mine: readonly Block[];
  theirs: readonly Block[];
  /** The other group, or -1 for what is left over. */
  g: number;
}

/**
 * Exchanges blocks between the weakest group and any other, or with what is left over, as long as the weaker of the two
 * groups gains; each time the exchange that gains most. A bonded pair changes place with another or with two singles.
 * Changes the arrangement in place.
 */
export function exchange(arrangement: Arrangement, isOver: () => boolean = () => false): void {
  const { groups, sums } = arrangement;
  const sorted = groups.map(bySize);
  let left = bySize(arrangement.left);
  while (!isOver()) {
    const w = weakest(sums);
    const move = bestMove(sorted, sums, left, w);
    if (!move) return;
    apply(arrangement, w, move);
    sorted[w] = bySize(groups[w] as Block[]);
    if (move.g < 0) left = bySize(arrangement.left);
    else sorted[move.g] = bySize(groups[move.g] as Block[]);
  }
}

/** An exchange that gains less is rounding, Ah. */
const leastGain = 1e-12;

function bestMove(groups: readonly BySize[], sums: readonly number[], left: BySize, w: number): Move | null {
  const mine = groups[w] as BySize;
  const base = sums[w] as number;
  let best: Move | null = null;
  const weigh = (theirs: BySize, spare: number, g: number): void => {
    movesBetween(mine, theirs, spare, (gain, out, into) => {
      if (gain > (best?.gain ?? leastGain)) best = { gain, mine: out, theirs: into, g };
    });
  };
  groups.forEach((group, g) => {
    const spare = (sums[g] as number) - base;
    // No exchange gains more than half of what the other has to spare.
    if (g !== w && spare / 2 > (best?.gain ?? leastGain)) weigh(group, spare, g);
  });
  weigh(left, Infinity, -1);
  return best;
}

type Offer = (gain: number, mine: readonly Block[], theirs: readonly Block[]) => void;

/** Blocks by how many cells they hold, weakest first. */
type BySize = Map<number, Block[]>;

function bySize(blocks: readonly Block[]): BySize {
  const sizes: BySize = new Map();
  for (const block of blocks) {
    const alike = sizes.get(block.size);
    if (alike) alike.push(block);
    else sizes.set(block.size, [block]);
  }
  for (const alike of sizes.values()) alike.sort(weakestFirst);
  return sizes;
}

const weakestFirst = (a: Block, b: Block): number => a.capacityAh - b.capacityAh;

/**
 * The best exchange of each kind between a weak group and another that is stronger by `spare`. Both end nearest to each
 * other when the weak one rises by half of that, so for each block the one wanted is known, and one walk through both
 * sorted lists finds them all.
 */
function movesBetween(mine: BySize, theirs: BySize, spare: number, offer: Offer): void {
  const rise = spare / 2;
  const gainOf = (risen: number): number => Math.min(risen, spare - risen);
  for (const [size, own] of mine) {
    const other = theirs.get(size);
    if (other) nearest(own, other, rise, (a, b) => offer(gainOf(b.capacityAh - a.capacityAh), [a], [b]));
  }
  const [ownSingles, ownPairs] = [mine.get(1) ?? [], mine.get(2) ?? []];
  const [otherSingles, otherPairs] = [theirs.get(1) ?? [], theirs.get(2) ?? []];
  for (const pair of ownPairs) {
    const two = twoNearest(otherSingles, pair.capacityAh + rise);
    if (two) offer(gainOf(two.sum - pair.capacityAh), [pair], two.blocks);
  }
  for (const pair of otherPairs) {
    const two = twoNearest(ownSingles, pair.capacityAh - rise);
    if (two) offer(gainOf(pair.capacityAh - two.sum), two.blocks, [pair]);
  }
}

/** For each own block the other that is nearest to it and `rise` more; both lists weakest first. */
function nearest(
  own: readonly Block[],
  other: readonly Block[],
  rise: number,
  offer: (own: Block, other: Block) => void,
): void {
  let at = 0;
  for (const block of own) {
    const wanted = block.capacityAh + rise;
    const off = (i: number): number => Math.abs((other[i] as Block).capacityAh - wanted);
    while (at + 1 < other.length && (rise === Infinity || off(at + 1) <= off(at))) at += 1;
    offer(block, other[at] as Block);
  }
}

/** The two singles, of a list with the weakest first, whose sum is nearest to what is wanted. */
function twoNearest(singles: readonly Block[], wantedAh: number): { blocks: Block[]; sum: number } | null {
  let best: { blocks: Block[]; sum: number } | null = null;
  let [low, high] = [0, singles.length - 1];
  if (wantedAh === Infinity) low = Math.max(0, high - 1);
  if (wantedAh === -Infinity) high = Math.min(high, 1);
  while (low < high) {
    const blocks = [singles[low] as Block, singles[high] as Block];
    const sum = (blocks[0] as Block).capacityAh + (blocks[1] as Block).capacityAh;
    if (!best || Math.abs(sum - wantedAh) < Math.abs(best.sum - wantedAh)) best = { blocks, sum };
    if (sum < wantedAh) low += 1;
    else high -= 1;
  }
  return best;
}

function swapBlocks(list: Block[], out: readonly Block[], into: readonly Block[]): void {
  out.forEach((block) => list.splice(list.indexOf(block), 1));
  list.push(...into);
}

const sumOf = (blocks: readonly Block[]): number => blocks.reduce((sum, block) => sum + block.capacityAh, 0);

function apply({ groups, sums, left }: Arrangement, w: number, { mine, theirs, g }: Omit<Move, 'gain'>): void {
  const rise = sumOf(theirs) - sumOf(mine);
  swapBlocks(groups[w] as Block[], mine, theirs);
  sums[w] = (sums[w] as number) + rise;
  if (g < 0) {
    swapBlocks(left, theirs, mine);
    left.sort(strongestFirst);
  } else {
    swapBlocks(groups[g] as Block[], theirs, mine);
    sums[g] = (sums[g] as number) - rise;
  }
}

export const copyOf = ({ groups, sums, left }: Arrangement): Arrangement => ({
  groups: groups.map((group) => [...group]),
  sums: [...sums],
  left: [...left],
});

/**
 * Swaps a few blocks of equal size at random between groups, to leave a local best. Changes the arrangement in place.
 */
export function shake(arrangement: Arrangement, chance: Chance, swaps: number): void {
  const { groups } = arrangement;
  const pick = <T>(list: readonly T[]): T => list[Math.floor(chance.uniform() * list.length)] as T;
  const indices = groups.map((_, i) => i);
  for (let n = 0; n < swaps && groups.length > 1; n++) {
    const [w, g] = [pick(indices), pick(indices)];
    const [mine, theirs] = [pick(groups[w] as Block[]), pick(groups[g] as Block[])];
    if (w === g || mine.size !== theirs.size) continue;
    apply(arrangement, w, { mine: [mine], theirs: [theirs], g });
  }
}
