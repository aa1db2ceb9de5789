import { readingU } from '@/core/instruments/instrument';
import { groupFigures, type MeasuredCell, packFigures } from '@/core/matching/groupFigures';
import type { Chance } from '@/core/statistics/random';
import type { Population, TrueCase } from './coverage';
import { between, drawTool, shown, type TrueTool } from './trueCell';

/** A cell as it is, and as a load and a meter show it. */
interface ReadCell {
  capacityAh: number;
  ohm: number;
  measured: MeasuredCell;
}

const capacityRange = { resolution: 0.001, accuracyShare: 0.01, accuracyCounts: 0 };
const ohmRange = { resolution: 0.0001, accuracyShare: 0.005, accuracyCounts: 3 };

function readCell(chance: Chance, load: TrueTool, meter: TrueTool): ReadCell {
  const [capacityAh, ohm] = [between(chance, 1.7, 2.6), between(chance, 0.015, 0.06)];
  const [ah, milli] = [shown(capacityAh, load, chance), shown(ohm, meter, chance)];
  return {
    capacityAh,
    ohm,
    measured: {
      capacity: { value: ah, u: readingU(ah, capacityRange) },
      resistance: { value: milli, u: readingU(milli, ohmRange) },
    },
  };
}

/** Groups of three cells in series, all discharged with one load and read with one meter. */
function packCase(chance: Chance, series: number): TrueCase[] {
  const load = drawTool(chance, { share: capacityRange.accuracyShare, fixed: 0 }, 0.001, capacityRange.resolution);
  const meter = drawTool(
    chance,
    { share: ohmRange.accuracyShare, fixed: ohmRange.accuracyCounts * ohmRange.resolution },
    0.00005,
    ohmRange.resolution,
  );
  const groups = Array.from({ length: series }, () => Array.from({ length: 3 }, () => readCell(chance, load, meter)));
  const trueAh = groups.map((cells) => cells.reduce((sum, { capacityAh }) => sum + capacityAh, 0));
  const trueOhm = groups.map((cells) => 1 / cells.reduce((sum, { ohm }) => sum + 1 / ohm, 0));
  const figures = groups.map((cells) => groupFigures(cells.map(({ measured }) => measured)));
  const [first] = figures as [(typeof figures)[number]];
  const pack = packFigures(figures);
  return [
    { told: first.capacity, truth: trueAh[0] as number },
    { told: first.resistance, truth: trueOhm[0] as number },
    { told: pack.capacity, truth: Math.min(...trueAh) },
    { told: pack.resistance, truth: trueOhm.reduce((sum, ohm) => sum + ohm, 0) },
  ];
}

export const packPopulations: Population[] = [
  {
    figures: ['capacity of a group', 'resistance of a group', 'capacity of a pack', 'resistance of a pack'],
    made: 'four groups of three cells, all discharged with one load ± 1 % and read with one meter ± 0.5 % ± 3 counts',
    draw: (chance) => packCase(chance, 4),
  },
];
