import { openCircuitOf } from '@/core/chemistry/openCircuit';
import { packCircuit, readCircuit } from '@/core/simulation/packCircuit';
import { packRun, type RunCell } from '@/core/simulation/packRun';
import { seededChance } from '@/core/statistics/random';
import { ngspice, ngspiceVersion } from './ngspice';
import { type BenchRow, seconds } from './table';

const [series, parallel, currentA, cutoffV] = [14, 8, 8, 3];

function packOf(): RunCell[][] {
  const chance = seededChance(5);
  const between = (least: number, most: number): number => least + (most - least) * chance.uniform();
  const curve = openCircuitOf('li-ion');
  const cell = (): RunCell => ({
    curve,
    capacityAh: between(1.8, 2.4),
    soc: 1,
    ohmicOhm: between(0.03, 0.06),
    branches: [
      { resistanceOhm: between(0.01, 0.02), timeConstantS: between(8, 20) },
      { resistanceOhm: between(0.01, 0.03), timeConstantS: between(600, 1500) },
    ],
  });
  return Array.from({ length: series }, () => Array.from({ length: parallel }, cell));
}

/** One discharge at steps of a second against ngspice on the same network. */
export function benchSimulating(): BenchRow[] {
  const groups = packOf();
  const asked = { groups, load: { currentA }, cutoffPerGroupV: cutoffV, stepS: 1 };
  packRun(asked);
  const began = performance.now();
  const run = packRun(asked);
  const oursMs = performance.now() - began;
  const { written, ms } = ngspice(packCircuit(groups, currentA, { untilS: Math.floor(run.runTimeS), everyS: 1 }));
  const theirs = readCircuit(written, series);
  const apartV = run.course.atS.flatMap((t, k) => {
    const row = theirs.find(({ atS }) => Math.abs(atS - t) < 1e-3);
    return row && t > 0.5 ? row.groupsV.map((v, g) => Math.abs(v - (run.course.groupsV[g]?.[k] ?? NaN))) : [];
  });
  return [
    {
      what: `one discharge of ${series} × ${parallel}, ${theirs.length} steps of a second`,
      ours: `${seconds(oursMs)}, with what is left in each group and what each cell gives alone`,
      reference: `${ngspiceVersion()}: ${seconds(ms)}; voltages within ${(1000 * Math.max(...apartV)).toFixed(2)} mV`,
      ratio: `${(ms / oursMs).toFixed(0)} × as fast`,
    },
  ];
}
