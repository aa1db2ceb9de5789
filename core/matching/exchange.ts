import { groupedBy } from '../grouped';
import { ImpossibleInput } from '../impossibleInput';
import type { Chance } from '../statistics/random';
import { type Block, strongestFirst } from './blocks';
import { searchAbove } from './exact';

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

const sumOf = (blocks: readonly Block[]): number => blocks.reduce((sum, block) => sum + block.capacityAh, 0);

/** These groups, and what they leave over. */
export function arrangementOf(groups: Block[][], blocks: readonly Block[]): Arrangement {
  const placed = new Set(groups.flat());
  const left = blocks.filter((block) => !placed.has(block)).sort(strongestFirst);
  return { groups, sums: groups.map(sumOf), left };
}

/** Steps of the search for any arrangement at all. */
const placingSteps = 300_000;

/**
 * Longest first: the strongest blocks that fill the pack, each into the weakest group with room. Pinned ones come
 * before all, then bonded sets before singles, since only they can fail to fit. Where that fails, a search finds an
 * arrangement if there is one.
 *
 * @throws ImpossibleInput when the bonds do not fit into groups of that size
 */
export function longestFirst(blocks: readonly Block[], series: number, parallel: number): Arrangement {
  const wanted = series * parallel;
  const chosen: Block[] = [];
  let count = 0;
  for (const block of [...blocks].sort((a, b) => Number(b.isPinned ?? false) - Number(a.isPinned ?? false))) {
    if (count + block.size > wanted) continue;
    chosen.push(block);
    count += block.size;
  }
  const arrangement = place(chosen, blocks, series, parallel) ?? place(blocks, blocks, series, parallel);
  if (arrangement) return arrangement;
  const found = searchAbove(blocks.toSorted(strongestFirst), series, parallel, -Infinity, placingSteps);
  if (!Array.isArray(found)) throw new ImpossibleInput('cells', { code: 'bonds-do-not-fit', series, parallel });
  return arrangementOf(found, blocks);
}

/** Into a given group first, then what must be in it at all, then by size. */
const urgency = ({ group, isPinned }: Block): number => Number(group !== undefined) * 2 + Number(isPinned ?? false);

function place(chosen: readonly Block[], all: readonly Block[], series: number, parallel: number): Arrangement | null {
  const groups: Block[][] = Array.from({ length: series }, () => []);
  const sums = new Array<number>(series).fill(0);
  const room = new Array<number>(series).fill(parallel);
  const placed = new Set<Block>();
  const put = (block: Block): void => {
    let best = block.group ?? -1;
    for (let g = 0; g < series && block.group === undefined; g++)
      if ((room[g] as number) >= block.size && (best < 0 || (sums[g] as number) < (sums[best] as number))) best = g;
    const group = groups[best];
    if (!group) return;
    group.push(block);
    sums[best] = (sums[best] as number) + block.capacityAh;
    room[best] = (room[best] as number) - block.size;
    placed.add(block);
  };
  [...chosen].sort((a, b) => urgency(b) - urgency(a) || b.size - a.size || strongestFirst(a, b)).forEach(put);
  // Bonds may have left odd places that only singles outside the choice can take.
  all.filter((block) => block.size === 1 && !placed.has(block)).forEach(put);
  if (room.some((places) => places > 0) || all.some((block) => block.isPinned && !placed.has(block))) return null;
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
 * groups gains; each time the exchange that gains most. A bonded pair changes place with another or with two singles;
 * where no single exchange gains, two blocks change place with two. Changes the arrangement in place.
 */
export function exchange(arrangement: Arrangement, isOver: () => boolean = () => false): void {
  const { groups, sums } = arrangement;
  const sorted = groups.map((group) => bySize(group.filter(isFree)));
  const twos = new Map<number, BySize<Two>>();
  const twosOf = (g: number): BySize<Two> => {
    const known = twos.get(g) ?? twosBySize((groups[g] as Block[]).filter(isFree));
    twos.set(g, known);
    return known;
  };
  let left = bySize(arrangement.left);
  while (!isOver()) {
    const w = weakest(sums);
    const leaving = bySize((groups[w] as Block[]).filter((block) => !block.isPinned));
    const move = bestMove(sorted, sums, { leaving, left }, w) ?? bestDouble(twosOf, sums, w);
    if (!move) return;
    apply(arrangement, w, move);
    for (const g of move.g < 0 ? [w] : [w, move.g]) {
      sorted[g] = bySize((groups[g] as Block[]).filter(isFree));
      twos.delete(g);
    }
    if (move.g < 0) left = bySize(arrangement.left);
  }
}

/** Not pinned to its group. */
export const isFree = ({ group }: Block): boolean => group === undefined;

/** An exchange that gains less is rounding, Ah. */
const leastGain = 1e-12;

const gainOf = (risen: number, spare: number): number => Math.min(risen, spare - risen);

function bestMove(
  groups: readonly BySize[],
  sums: readonly number[],
  { leaving, left }: { leaving: BySize; left: BySize },
  w: number,
): Move | null {
  const base = sums[w] as number;
  let best: Move | null = null;
  const weigh = (mine: BySize, theirs: BySize, spare: number, g: number): void => {
    movesBetween(mine, theirs, spare, (gain, out, into) => {
      if (gain > (best?.gain ?? leastGain)) best = { gain, mine: out, theirs: into, g };
    });
  };
  groups.forEach((group, g) => {
    const spare = (sums[g] as number) - base;
    // No exchange gains more than half of what the other has to spare.
    if (g !== w && spare / 2 > (best?.gain ?? leastGain)) weigh(groups[w] as BySize, group, spare, g);
  });
  weigh(leaving, left, Infinity, -1);
  return best;
}

/** Two blocks against two of another group. */
function bestDouble(twosOf: (g: number) => BySize<Two>, sums: readonly number[], w: number): Move | null {
  let best: Move | null = null;
  sums.forEach((sum, g) => {
    const spare = sum - (sums[w] as number);
    if (g === w || spare / 2 <= (best?.gain ?? leastGain)) return;
    const theirs = twosOf(g);
    for (const [size, own] of twosOf(w)) {
      const other = theirs.get(size);
      if (!other) continue;
      nearest(own, other, spare / 2, (a, b) => {
        const gain = gainOf(b.capacityAh - a.capacityAh, spare);
        if (gain > (best?.gain ?? leastGain)) best = { gain, mine: a.blocks, theirs: b.blocks, g };
      });
    }
  });
  return best;
}

/** Two blocks of one group, taken together. */
interface Two {
  blocks: readonly [Block, Block];
  size: number;
  capacityAh: number;
}

/** In larger groups single exchanges come as near as any bench can measure. */
const mostInTwos = 40;

function twosBySize(blocks: readonly Block[]): BySize<Two> {
  if (blocks.length > mostInTwos) return new Map();
  const twos: Two[] = blocks.flatMap((a, i) =>
    blocks
      .slice(i + 1)
      .map((b) => ({ blocks: [a, b], size: a.size + b.size, capacityAh: a.capacityAh + b.capacityAh })),
  );
  return bySize(twos);
}

type Offer = (gain: number, mine: readonly Block[], theirs: readonly Block[]) => void;

/** What changes place, by how many cells it holds, weakest first. */
type BySize<T extends Sized = Block> = Map<number, T[]>;
type Sized = Pick<Block, 'size' | 'capacityAh'>;

function bySize<T extends Sized>(blocks: readonly T[]): BySize<T> {
  const sizes: BySize<T> = groupedBy(blocks, ({ size }) => size);
  for (const alike of sizes.values()) alike.sort((a, b) => a.capacityAh - b.capacityAh);
  return sizes;
}

/**
 * The best exchange of each kind between a weak group and another that is stronger by `spare`. Both end nearest to each
 * other when the weak one rises by half of that, so for each block the one wanted is known, and one walk through both
 * sorted lists finds them all.
 */
function movesBetween(mine: BySize, theirs: BySize, spare: number, offer: Offer): void {
  const rise = spare / 2;
  for (const [size, own] of mine) {
    const other = theirs.get(size);
    if (other) nearest(own, other, rise, (a, b) => offer(gainOf(b.capacityAh - a.capacityAh, spare), [a], [b]));
  }
  const [ownSingles, ownPairs] = [mine.get(1) ?? [], mine.get(2) ?? []];
  const [otherSingles, otherPairs] = [theirs.get(1) ?? [], theirs.get(2) ?? []];
  for (const pair of ownPairs) {
    const two = twoNearest(otherSingles, pair.capacityAh + rise);
    if (two) offer(gainOf(two.sum - pair.capacityAh, spare), [pair], two.blocks);
  }
  for (const pair of otherPairs) {
    const two = twoNearest(ownSingles, pair.capacityAh - rise);
    if (two) offer(gainOf(pair.capacityAh - two.sum, spare), two.blocks, [pair]);
  }
}

/** For each own block the other that is nearest to it and `rise` more; both lists weakest first. */
function nearest<T extends Sized>(
  own: readonly T[],
  other: readonly T[],
  rise: number,
  offer: (own: T, other: T) => void,
): void {
  let at = 0;
  for (const block of own) {
    const wanted = block.capacityAh + rise;
    const off = (i: number): number => Math.abs((other[i] as T).capacityAh - wanted);
    while (at + 1 < other.length && (rise === Infinity || off(at + 1) <= off(at))) at += 1;
    offer(block, other[at] as T);
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
 * Swaps a few blocks at random between groups, for one of equal size or for singles that are as many cells, to leave a
 * local best. Changes the arrangement in place.
 */
export function shake(arrangement: Arrangement, chance: Chance, swaps: number): void {
  const { groups } = arrangement;
  const below = (count: number): number => Math.floor(chance.uniform() * count);
  for (let n = 0; n < swaps && groups.length > 1; n++) {
    const [w, g] = [below(groups.length), below(groups.length)];
    const [mine, theirs] = [groups[w] as Block[], groups[g] as Block[]];
    const [out, other] = [mine[below(mine.length)] as Block, theirs[below(theirs.length)] as Block];
    const singles = theirs.filter((block) => block.size === 1 && isFree(block));
    const into = other.size === out.size ? [other] : singles.slice(0, out.size);
    const isFitting = into.reduce((sum, { size }) => sum + size, 0) === out.size;
    if (w !== g && isFitting && isFree(out) && into.every(isFree))
      apply(arrangement, w, { mine: [out], theirs: into, g });
  }
}
