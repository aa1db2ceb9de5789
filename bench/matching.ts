import { type MatchCell, matchCells } from '@/core/matching/match';
import { seededChance } from '@/core/statistics/random';
import highsLoader from 'highs';
import { type BenchRow, seconds } from './table';

const sizes = [
  { series: 4, parallel: 3, count: 16 },
  { series: 10, parallel: 6, count: 80 },
  { series: 20, parallel: 12, count: 300 },
];
const optimiserLimitS = 60;

function randomCells(count: number): MatchCell[] {
  const chance = seededChance(4_711 + count);
  return Array.from({ length: count }, (_, i) => ({
    id: `c${i}`,
    capacityAh: 1.4 + 1.2 * chance.uniform(),
    resistanceOhm: 0.02 + 0.05 * chance.uniform(),
  }));
}

/**
 * The same question as a mixed-integer program: maximise t, every group of exactly `parallel` cells, each at least t.
 */
function program({ series, parallel }: (typeof sizes)[number], cells: MatchCell[]): string {
  const groups = Array.from({ length: series }, (_, g) => g);
  const x = (i: number, g: number) => `x${i}_${g}`;
  const lines = (parts: string[]) => parts.join(' + ').replace(/(.{200}\S*) /g, '$1\n ');
  return [
    'Maximize',
    ' obj: t',
    'Subject To',
    ...groups.map((g) => ` size${g}: ${lines(cells.map((_, i) => x(i, g)))} = ${parallel}`),
    ...groups.map((g) => ` cap${g}: ${lines(cells.map((cell, i) => `${cell.capacityAh} ${x(i, g)}`))} - t >= 0`),
    ...cells.map((_, i) => ` once${i}: ${lines(groups.map((g) => x(i, g)))} <= 1`),
    'Bounds',
    ` 0 <= t <= ${parallel * 3}`,
    'Binary',
    ...cells.map((_, i) => ` ${groups.map((g) => x(i, g)).join(' ')}`),
    'End',
  ].join('\n');
}

/** Matching against HiGHS on the same instance, the gap of both to the bound that holds for any arrangement. */
export async function benchMatching(): Promise<BenchRow[]> {
  const rows: BenchRow[] = [];
  for (const size of sizes) {
    const cells = randomCells(size.count);
    matchCells({ ...size, cells: randomCells(size.series * size.parallel) });
    const began = performance.now();
    const match = matchCells({ ...size, cells });
    const oursMs = performance.now() - began;

    // A fresh instance each time: its WebAssembly memory grows with the program and is not given back.
    const highs = await highsLoader();
    const referenceBegan = performance.now();
    let found = NaN;
    let proven = false;
    try {
      // With its symmetry detection on, highs 1.15.3 calls an arrangement of the first instance optimal that is not.
      const solution = highs.solve(program(size, cells), {
        time_limit: optimiserLimitS,
        mip_rel_gap: 1e-9,
        mip_abs_gap: 1e-9,
        mip_detect_symmetry: false,
        output_flag: false,
      });
      proven = solution.Status === 'Optimal';
      found = solution.Columns.t && 'Primal' in solution.Columns.t ? (solution.Columns.t.Primal ?? NaN) : NaN;
    } catch {
      // Too large for its memory, or no arrangement found in time: nothing to compare with.
    }
    const referenceMs = performance.now() - referenceBegan;
    const gap = (value: number) =>
      Number.isFinite(value) ? `${(100 * (1 - value / match.upperBoundAh)).toFixed(4)} %` : 'none found';
    rows.push({
      what: `match ${size.series} × ${size.parallel} from ${size.count}`,
      ours:
        `${match.packCapacityAh.toFixed(6)} Ah, gap ${gap(match.packCapacityAh)}${match.proven ? ', proven' : ''}, ` +
        `${seconds(oursMs)}`,
      reference:
        `HiGHS ${Number.isFinite(found) ? `${found.toFixed(6)} Ah` : 'nothing'}, gap ` +
        `${gap(found)}${proven ? ', proven' : ''}, ${seconds(referenceMs)}`,
      ratio:
        `capacity ${Number.isFinite(found) ? (match.packCapacityAh / found).toFixed(6) : '–'}, time ` +
        `${(oursMs / referenceMs).toFixed(4)}`,
    });
  }
  return rows;
}
