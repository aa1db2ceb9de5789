import { ImpossibleInput } from '../impossibleInput';
import { seededChance } from '../statistics/random';
import type { Warning } from '../warning';
import { type Block, blocksOf, type MatchCell, strongestFirst } from './blocks';
import { upperBoundAh } from './bound';
import { searchAbove } from './exact';
import { type Arrangement, copyOf, exchange, longestFirst, shake, weakest } from './exchange';

export type { MatchCell } from './blocks';

export interface MatchRequest {
  series: number;
  parallel: number;
  cells: readonly MatchCell[];
  /** Cells are joined only within this voltage, V. */
  joinWithinV?: number;
  /** Asked now and then: true once the time is up; the best found until then is the answer. */
  isOver?: () => boolean;
  /** Capacity that is enough, Ah: the strongest cells are then spared as far as it allows. */
  enoughAh?: number;
}

export interface MatchedGroup {
  cells: MatchCell[];
  capacityAh: number;
  resistanceOhm: number;
}

export interface Match {
  groups: MatchedGroup[];
  packCapacityAh: number;
  upperBoundAh: number;
  /** 1 − packCapacityAh / upperBoundAh; the bound holds for any arrangement of these cells. */
  gap: number;
  /** (strongest − weakest group) / weakest group. */
  spread: number;
  /** True when no arrangement of these cells has a better weakest group. */
  proven: boolean;
  left: MatchCell[];
  warnings: Warning[];
}

const timeWasUp: Warning = { code: 'time-limit' };

/** Up to this many blocks the best arrangement is searched for exactly. */
const exactBlocks = 20;
const shakes = 150;
/** No further shaking below this gap: less than any bench can measure. */
const evenEnough = 1e-6;
/** Parallel cells whose resistances differ by more than this ratio share current badly. */
const sharingRatio = 1.5;

/**
 * Arranges cells in `series` groups of `parallel`, so that the weakest group, which sets the pack's capacity, is as
 * strong as can be. Longest-first start, exchange improvement with seeded shakes, exact search for small sets; bonds
 * are kept. The same request gives the same match.
 *
 * @throws ImpossibleInput as `blocksOf` and `longestFirst` do
 */
export function matchCells(request: MatchRequest): Match {
  const blocks = blocksOf(request.cells, request.series, request.parallel);
  const { arrangement, proven } = sparing(blocks, request) ?? strongest(blocks, request);
  const groups = arrangement.groups.map(groupOf).sort((a, b) => b.capacityAh - a.capacityAh);
  const capacities = groups.map((group) => group.capacityAh);
  const packCapacityAh = Math.min(...capacities);
  const upperBound = upperBoundAh(
    request.cells.map((cell) => cell.capacityAh),
    request.series,
    request.parallel,
  );
  const used = new Set(groups.flatMap((group) => group.cells));
  return {
    groups,
    packCapacityAh,
    upperBoundAh: upperBound,
    gap: Math.max(0, 1 - packCapacityAh / upperBound),
    spread: (Math.max(...capacities) - packCapacityAh) / packCapacityAh,
    proven,
    left: request.cells.filter((cell) => !used.has(cell)),
    warnings: [...warningsOf(groups, request.joinWithinV), ...(request.isOver?.() ? [timeWasUp] : [])],
  };
}

interface Found {
  arrangement: Arrangement;
  proven: boolean;
}

function strongest(blocks: readonly Block[], { series, parallel, isOver = () => false }: MatchRequest): Found {
  const bound = upperBoundAh(
    blocks.flatMap((block) => block.cells.map((cell) => cell.capacityAh)),
    series,
    parallel,
  );
  let best = longestFirst(blocks, series, parallel);
  exchange(best, isOver);
  const floor = (arrangement: Arrangement) => arrangement.sums[weakest(arrangement.sums)] as number;
  const chance = seededChance(series * 1000 + parallel);
  for (let n = 0; n < shakes && 1 - floor(best) / bound > evenEnough && !isOver(); n++) {
    const trial = copyOf(best);
    shake(trial, chance, 2 + Math.floor(series / 3));
    exchange(trial, isOver);
    if (floor(trial) > floor(best)) best = trial;
  }
  const met = 1 - floor(best) / bound < 1e-12;
  return met || blocks.length > exactBlocks
    ? { arrangement: best, proven: met }
    : provenBest(blocks, series, parallel, best, isOver);
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
    const placed = new Set(found.flat());
    arrangement = {
      groups: found,
      sums: found.map((group) => group.reduce((sum, block) => sum + block.capacityAh, 0)),
      left: blocks.filter((block) => !placed.has(block)).sort(strongestFirst),
    };
  }
}

/** The match that leaves out as many of the strongest blocks as the capacity that is enough allows; null if none is. */
function sparing(blocks: readonly Block[], request: MatchRequest): Found | null {
  const { enoughAh, series, parallel, isOver = () => false } = request;
  if (enoughAh === undefined) return null;
  const cellsFrom = (skip: number) => blocks.slice(skip).reduce((count, block) => count + block.size, 0);
  const attempt = (skip: number): Found | null => {
    if (cellsFrom(skip) < series * parallel) return null;
    try {
      const found = strongest(blocks.slice(skip), request);
      return found.arrangement.sums.every((sum) => sum >= enoughAh) ? found : null;
    } catch (error) {
      // Without the skipped blocks the bonds no longer fit: not a way to spare them.
      if (!(error instanceof ImpossibleInput)) throw error;
      return null;
    }
  };
  let best: Found | null = null;
  let [low, high] = [0, blocks.length - 1];
  while (low <= high && !isOver()) {
    const middle = (low + high) >> 1;
    const found = attempt(middle);
    if (found) {
      best = { ...found, proven: false };
      low = middle + 1;
    } else high = middle - 1;
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

function warningsOf(groups: readonly MatchedGroup[], joinWithinV: number | undefined): Warning[] {
  return groups.flatMap((group, i): Warning[] => {
    const warnings: Warning[] = [];
    const resistances = group.cells.map((cell) => cell.resistanceOhm);
    const ratio = Math.max(...resistances) / Math.min(...resistances);
    if (ratio > sharingRatio) warnings.push({ code: 'sharing-uneven', group: i + 1, ratio });
    const voltages = group.cells.map((cell) => cell.voltageV).filter((voltage) => voltage !== undefined);
    const apartV = Math.max(...voltages) - Math.min(...voltages);
    if (joinWithinV !== undefined && voltages.length > 1 && apartV > joinWithinV)
      warnings.push({ code: 'voltages-apart', apartV, joining: { group: i + 1, withinV: joinWithinV } });
    return warnings;
  });
}
