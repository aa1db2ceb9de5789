import { blocksOf } from '@/core/matching/blocks';
import { upperBoundAh } from '@/core/matching/bound';
import { longestFirst } from '@/core/matching/exchange';
import { type MatchCell, matchCells } from '@/core/matching/match';
import { matchProgram } from '@/core/matching/matchProgram';
import { seededChance } from '@/core/statistics/random';
import highsLoader from 'highs';
import { type BenchRow, seconds } from './table';

interface Shelf {
  series: number;
  parallel: number;
  count: number;
  /** Welded pairs among them. */
  pairs: number;
}

const small: Shelf[] = [
  { series: 4, parallel: 3, count: 16, pairs: 0 },
  { series: 4, parallel: 3, count: 16, pairs: 4 },
  { series: 5, parallel: 4, count: 24, pairs: 0 },
  { series: 5, parallel: 4, count: 24, pairs: 6 },
];
const mediumShelves: Shelf[] = [
  { series: 10, parallel: 6, count: 80, pairs: 0 },
  { series: 10, parallel: 6, count: 80, pairs: 15 },
  { series: 14, parallel: 8, count: 140, pairs: 0 },
  { series: 14, parallel: 8, count: 140, pairs: 25 },
];
const large: Shelf[] = [
  { series: 20, parallel: 20, count: 600, pairs: 0 },
  { series: 20, parallel: 72, count: 2000, pairs: 0 },
];
const optimiserLimitS = 60;
const seeds = Array.from({ length: 10 }, (_, i) => i);

function cellsOf({ count, pairs }: Shelf): MatchCell[] {
  const chance = seededChance(4_711 + count);
  return Array.from({ length: count }, (_, i) => ({
    id: `c${i}`,
    capacityAh: 1.4 + 1.2 * chance.uniform(),
    resistanceOhm: 0.02 + 0.05 * chance.uniform(),
    ...(i < 2 * pairs ? { bond: `w${i >> 1}` } : {}),
  }));
}

const named = ({ series, parallel, count, pairs }: Shelf): string =>
  `match ${series} × ${parallel} from ${count}${pairs > 0 ? `, ${pairs} welded pairs` : ''}`;

/** The same by HiGHS, until its proof or the time limit. */
async function optimised(shelf: Shelf) {
  // A fresh instance each time: its WebAssembly memory grows with the program and is not given back.
  const highs = await highsLoader();
  const began = performance.now();
  try {
    const { series, parallel } = shelf;
    // With its symmetry detection on, highs 1.15.3 calls an arrangement of the first instance optimal that is not.
    const solution = highs.solve(matchProgram(blocksOf(cellsOf(shelf), series, parallel), series, parallel), {
      time_limit: optimiserLimitS,
      mip_rel_gap: 1e-9,
      mip_abs_gap: 1e-9,
      mip_detect_symmetry: false,
      output_flag: false,
    });
    const { t } = solution.Columns;
    const found = t && 'Primal' in t ? (t.Primal ?? NaN) : NaN;
    return { found, isProven: solution.Status === 'Optimal', ms: performance.now() - began };
  } catch {
    // Too large for its memory, or no arrangement found in time: nothing to compare with.
    return { found: NaN, isProven: false, ms: performance.now() - began };
  }
}

/** The worst of ten seeds: the gap to the bound that knows the bonds, and the time. */
function worstOf(shelf: Shelf) {
  const cells = cellsOf(shelf);
  matchCells({ ...shelf, cells });
  const all = seeds.map((seed) => {
    const began = performance.now();
    const match = matchCells({ ...shelf, cells, seed });
    return { match, ms: performance.now() - began };
  });
  const worst = all.reduce((a, b) => (b.match.packCapacityAh < a.match.packCapacityAh ? b : a));
  return { match: worst.match, ms: Math.max(...all.map(({ ms }) => ms)) };
}

const gapText = (value: number, boundAh: number): string =>
  Number.isFinite(value) ? `${value.toFixed(6)} Ah, gap ${(100 * (1 - value / boundAh)).toFixed(4)} %` : 'nothing';

async function againstOptimiser(shelf: Shelf): Promise<BenchRow> {
  const { match, ms } = worstOf(shelf);
  const { found, isProven, ms: referenceMs } = await optimised(shelf);
  return {
    what: named(shelf),
    ours:
      `${gapText(match.packCapacityAh, match.upperBoundAh)}${match.proven ? ', proven' : ''}, ${seconds(ms)}, ` +
      'the worst of ten seeds',
    reference: `HiGHS ${gapText(found, match.upperBoundAh)}${isProven ? ', proven' : ''}, ${seconds(referenceMs)}`,
    ratio:
      `capacity ${Number.isFinite(found) ? (match.packCapacityAh / found).toFixed(6) : '–'}, time ` +
      (ms / referenceMs).toFixed(4),
  };
}

function againstLongestFirst(shelf: Shelf): BenchRow {
  const { series, parallel } = shelf;
  const { match, ms } = worstOf(shelf);
  // In kilobytes: of the whole process at its largest.
  const mostMb = process.resourceUsage().maxRSS / 1024;
  const began = performance.now();
  const blocks = blocksOf(cellsOf(shelf), series, parallel);
  const alone = Math.min(...longestFirst(blocks, series, parallel).sums);
  const boundAh = upperBoundAh(blocks, series, parallel);
  const referenceMs = performance.now() - began;
  return {
    what: named(shelf),
    ours:
      `${gapText(match.packCapacityAh, boundAh)}, ${seconds(ms)}, the worst of ten seeds; ` +
      `${mostMb.toFixed(0)} MiB at most`,
    reference: `longest first alone: ${gapText(alone, boundAh)}, ${seconds(referenceMs)} with its bound`,
    ratio: `capacity ${(match.packCapacityAh / alone).toFixed(6)}, time ${(ms / referenceMs).toFixed(1)}`,
  };
}

/** Small shelves against HiGHS to its proof, larger ones against a minute of it, the largest against longest-first. */
export async function benchMatching(): Promise<BenchRow[]> {
  const rows: BenchRow[] = [];
  for (const shelf of [...small, ...mediumShelves]) rows.push(await againstOptimiser(shelf));
  return [...rows, ...large.map(againstLongestFirst)];
}
