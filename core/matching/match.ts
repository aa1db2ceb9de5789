import { ImpossibleInput } from '../impossibleInput';
import { seededChance } from '../statistics/random';
import { type Block, blocksOf, strongestFirst } from './blocks';
import { upperBoundAh } from './bound';
import { evenResistances, spareSurplus } from './evenOut';
import { matchByModel } from './byModel';
import { searchAbove } from './exact';
import { type Match, type MatchedGroup, matchFrom, type MatchRequest, type MatchProof } from './matched';
import { type Arrangement, arrangementOf, copyOf, exchange, longestFirst, shake, weakest } from './exchange';

export type { MatchCell, Pin } from './blocks';
export { groupWarnings, type Match, type MatchedGroup, type MatchLimits, type MatchRequest } from './matched';

/** Up to this many blocks the best arrangement is searched for exactly. */
const exactBlocks = 26;
/** So often a search is shaken, shared among its blocks; and at least, as where it is exact afterwards. */
const [shaken, leastShakes] = [30_000, 150];
/** No further shaking below this gap: less than any bench can measure. */
const evenEnough = 2e-5;
/** For resistances alike, groups may differ in capacity by this share of the weakest one's standard uncertainty. */
const notChased = 0.5;

/**
 * Arranges cells in `series` groups of `parallel`. What counts, in this order: bonds and pins hold; the weakest group,
 * which sets the pack's capacity, is as strong as can be, or as strong as is enough; groups are equal; resistances
 * within each group and of the groups are alike; what is not needed is left over. Longest-first start, exchange
 * improvement with seeded shakes, exact search for small sets.
 *
 * @throws ImpossibleInput as `blocksOf`, `longestFirst` and `matchByModel` do
 */
export function matchCells(request: MatchRequest): Match {
  return request.limits?.modelsInPack === undefined ? matchMixed(request) : matchByModel(request, matchMixed);
}

/** Whatever their models. */
function matchMixed(request: MatchRequest): Match {
  const { series, parallel, cells, pins = [], seed = 0, enoughAh = Infinity } = request;
  const blocks = blocksOf(cells, series, parallel, pins);
  const boundAh = upperBoundAh(blocks, series, parallel);
  const { arrangement, proven } = sparing(blocks, request, boundAh) ?? strongest(blocks, request, boundAh);
  const isEnough = floorOf(arrangement) >= enoughAh;
  spareSurplus(arrangement, isEnough ? enoughAh : floorOf(arrangement));
  const possibleAh = floorOf(arrangement);
  const marginAh = notChased * uncertaintyOf(arrangement);
  const span = {
    floorAh: isEnough ? enoughAh : possibleAh - marginAh,
    ceilingAh: Math.max(...arrangement.sums) + marginAh,
  };
  evenResistances(arrangement, parallel, span, seededChance(seed + 1), request.isOver);
  return matchOf(arrangement, { ...request, boundAh, possibleAh, proven });
}

const floorOf = ({ sums }: Arrangement): number => sums[weakest(sums)] as number;

/** Standard uncertainty of the weakest group, of what differs from cell to cell, Ah; 0 where none was given. */
function uncertaintyOf({ groups, sums }: Arrangement): number {
  const cells = (groups[weakest(sums)] ?? []).flatMap((block) => block.cells);
  return Math.hypot(...cells.map(({ capacityU = 0 }) => capacityU));
}

/** What an arrangement comes to. */
function matchOf(
  arrangement: Arrangement,
  progress: Pick<MatchRequest, 'cells' | 'limits' | 'isOver' | 'pins'> & MatchProof,
): Match {
  return matchFrom(arrangement.groups.map(groupOf), progress);
}

interface Found {
  arrangement: Arrangement;
  proven: boolean;
}

function strongest(blocks: readonly Block[], request: MatchRequest, boundAh: number): Found {
  const { series, parallel, isOver = () => false, onProgress, seed = 0 } = request;
  let best = longestFirst(blocks, series, parallel);
  exchange(best, isOver);
  const gapOf = (arrangement: Arrangement): number => 1 - floorOf(arrangement) / boundAh;
  const chance = seededChance(seed * 1_000_003 + series * 1000 + parallel);
  const isSmall = blocks.length <= exactBlocks;
  const shakes = isSmall ? leastShakes : Math.max(leastShakes, Math.ceil(shaken / blocks.length));
  for (let n = 0; n < shakes && gapOf(best) > evenEnough && !isOver(); n++) {
    const trial = copyOf(best);
    shake(trial, chance, 2 + Math.floor(series / 3));
    exchange(trial, isOver);
    if (floorOf(trial) > floorOf(best)) best = trial;
    const sofar = best;
    onProgress?.(n / shakes, () =>
      matchOf(sofar, { ...request, boundAh, possibleAh: floorOf(sofar), proven: false, isOver: undefined }),
    );
  }
  const met = gapOf(best) < 1e-12;
  return met || !isSmall ? { arrangement: best, proven: met } : provenBest(blocks, series, parallel, best, isOver);
}

function provenBest(
  blocks: readonly Block[],
  series: number,
  parallel: number,
  start: Arrangement,
  isOver: () => boolean,
): Found {
  let arrangement = start;
  for (;;) {
    if (isOver()) return { arrangement, proven: false };
    const found = searchAbove(
      blocks,
      series,
      parallel,
      (arrangement.sums[weakest(arrangement.sums)] as number) + 1e-12,
    );
    if (found === 'unknown') return { arrangement, proven: false };
    if (found === null) return { arrangement, proven: true };
    arrangement = arrangementOf(found, blocks);
  }
}

/** The match that leaves out as many of the strongest blocks as the capacity that is enough allows; null if none is. */
function sparing(blocks: readonly Block[], request: MatchRequest, boundAh: number): Found | null {
  const { enoughAh, series, parallel, isOver = () => false } = request;
  if (enoughAh === undefined || boundAh < enoughAh) return null;
  const [pinned, others] = [blocks.filter((one) => one.isPinned), blocks.filter((one) => !one.isPinned)];
  const attempt = (skip: number): Found | null => {
    const some = [...pinned, ...others.slice(skip)].sort(strongestFirst);
    const bound = upperBoundAh(some, series, parallel);
    if (bound < enoughAh) return null;
    try {
      const found = strongest(some, request, bound);
      return floorOf(found.arrangement) >= enoughAh ? found : null;
    } catch (error) {
      // Without the skipped blocks the bonds no longer fit: not a way to spare them.
      if (!(error instanceof ImpossibleInput)) throw error;
      return null;
    }
  };
  let best: Found | null = null;
  let [low, high] = [0, others.length - 1];
  while (low <= high && !isOver()) {
    const mid = (low + high) >> 1;
    const found = attempt(mid);
    if (found) {
      const placed = new Set(found.arrangement.groups.flat());
      best = {
        arrangement: { ...found.arrangement, left: blocks.filter((block) => !placed.has(block)) },
        proven: false,
      };
      low = mid + 1;
    } else high = mid - 1;
  }
  return best;
}

function groupOf(group: readonly Block[]): MatchedGroup {
  const cells = group.flatMap((block) => block.cells).sort((a, b) => a.id.localeCompare(b.id));
  return {
    cells,
    capacityAh: cells.reduce((sum, cell) => sum + cell.capacityAh, 0),
    resistanceOhm: 1 / cells.reduce((sum, cell) => sum + 1 / cell.resistanceOhm, 0),
  };
}
