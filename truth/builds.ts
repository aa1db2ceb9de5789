import { lowestVoltageV, presetRules } from '@/core/chemistry/houseRules';
import { curveOfMake } from '@/core/chemistry/openCircuit';
import { selfDischargeTest } from '@/core/selfDischarge/drift';
import { selfDischarge } from '@/core/selfDischarge/selfDischarge';
import { selfDischargeLimits } from '@/core/judging/judgeSelfDischarge';
import { cycleDrift, leakOf } from '@/core/simulation/cycleDrift';
import { predictRun } from '@/core/simulation/predictRun';
import type { Chance } from '@/core/statistics/random';
import { dischargeMin, drawMake } from './benchTimes';
import type { Population, TrueCase } from './coverage';
import { drawCurve, meter } from './selfDischarge';
import { answerOhm, between, moveOn, rested, type TrueCell, voltageOf } from './trueCell';

const rules = presetRules('workshop');
const lowestV = lowestVoltageV('li-ion', rules);
const [capacityU, ohmU, dayU, stepS] = [0.01, 0.03, 0.01, 2];

/** Cells of one make that aged differently. */
function cellsOf(chance: Chance, count: number): TrueCell[] {
  const make = drawMake(chance);
  return Array.from({ length: count }, () => {
    const [worn, ohm] = [between(chance, 0.8, 1), between(chance, 0.9, 1.4)];
    return {
      ...make,
      capacityAh: make.capacityAh * worn,
      ohmicOhm: make.ohmicOhm * ohm,
      branches: make.branches.map((branch) => ({ ...branch, ohm: branch.ohm * ohm })),
    };
  });
}

/** A pack that is built of measured cells and used at a steady current until its first group is at the cut-off. */
function buildCase(chance: Chance, rateC: number): TrueCase[] {
  const [series, parallel] = [2 + Math.floor(between(chance, 0, 4)), 2 + Math.floor(between(chance, 0, 3))];
  const groups: TrueCell[][] = Array.from({ length: series }, () => []);
  const cells = cellsOf(chance, series * parallel);
  cells.forEach((cell, i) => groups[i % series]?.push(cell));
  // On another day they give a little more or less.
  const day = 1 + chance.normal(0, dayU);
  const currentA = rateC * parallel * (cells[0] as TrueCell).capacityAh;
  // Their tools err alike: one for all capacities, one for all resistances.
  const [capacityLean, ohmLean] = [chance.normal(0, capacityU), chance.normal(0, ohmU)];
  const measured = groups.map((group) =>
    group.map((cell) => {
      const testA = rules.testDischargeC * cell.capacityAh;
      const ah = (dischargeMin(cell, 1, testA, lowestV) / 60) * testA * (1 + capacityLean);
      const ohm = answerOhm(cell, 0.6, 10) * (1 + ohmLean);
      return { capacity: { value: ah, u: capacityU * ah }, resistance: { value: ohm, u: ohmU * ohm } };
    }),
  );
  const cutoffPerGroupV = between(chance, 2.9, 3.2);
  const { runTimeS } = predictRun({
    chemistry: 'li-ion',
    curve: table.plain,
    groups: measured,
    load: { currentA },
    cutoffPerGroupV,
  });
  return [
    {
      told: runTimeS,
      truth: Math.min(
        ...groups.map((group) =>
          lifeOf(
            group.map((cell) => ({ ...cell, capacityAh: cell.capacityAh * day })),
            currentA,
            cutoffPerGroupV,
          ),
        ),
      ),
    },
  ];
}

/** Until a group of cells in parallel is at the cut-off, s. */
function lifeOf(group: readonly TrueCell[], currentA: number, cutoffV: number): number {
  const states = group.map(() => rested(group[0] as TrueCell, 1));
  for (let t = 0; t < 1e6; t += stepS) {
    // Each has its voltage without a current, less its ohmic part: one voltage for all.
    const open = group.map((cell, i) => voltageOf(cell, states[i] ?? rested(cell, 1), 0));
    const ohm = group.map((cell, i) => (open[i] as number) - voltageOf(cell, states[i] ?? rested(cell, 1), 1));
    const siemens = ohm.reduce((sum, one) => sum + 1 / one, 0);
    const v = (open.reduce((sum, one, i) => sum + one / (ohm[i] as number), 0) - currentA) / siemens;
    if (v < cutoffV) return t;
    group.forEach((cell, i) => {
      const state = states[i];
      if (state) moveOn(cell, state, ((open[i] as number) - v) / (ohm[i] as number), stepS);
    });
  }
  return Infinity;
}

const population = (made: string, rateC: (chance: Chance) => number): Population => ({
  made,
  figures: ['run time of a build'],
  draw: (chance) => buildCase(chance, rateC(chance)),
});

const table = curveOfMake('mixed-oxide');
const [dayS, cycles, daysPerCycle] = [86_400, 100, 7];

/**
 * Cells of a make that lies off the table leak by themselves, rest for a self-discharge test, and are built into
 * groups: how far a group falls behind the others, lived through day by day.
 */
function driftCase(chance: Chance, days: readonly number[]): TrueCase {
  const make = drawCurve(chance);
  const [series, parallel] = [2 + Math.floor(between(chance, 0, 5)), 1 + Math.floor(between(chance, 0, 4))];
  const startSoc = between(chance, 0.6, 0.95);
  const capacityLean = chance.normal(0, 0.01);
  const groups = Array.from({ length: series }, () =>
    Array.from({ length: parallel }, () => {
      const capacityAh = between(chance, 1.8, 2.6);
      const leakA = capacityAh * Math.exp(between(chance, Math.log(1e-5), Math.log(3e-4)));
      const readings = days.map((day) => {
        const trueV = make(startSoc - (leakA * 24 * day) / capacityAh) + chance.normal(0, meter.noiseV);
        return { atS: day * dayS, voltageV: Math.round(trueV / meter.stepV) * meter.stepV, u: meter.u };
      });
      const measuredAh = capacityAh * (1 + capacityLean);
      const [result] = selfDischargeTest([{ id: 'one', readings, curve: table }], 'li-ion', limits);
      const voltageV = readings.reduce((sum, one) => sum + one.voltageV, 0) / readings.length;
      const lost =
        result?.drift &&
        selfDischarge({
          chemistry: 'li-ion',
          drift: result.drift,
          voltageV,
          capacityAh: { value: measuredAh, u: 0.01 * measuredAh },
          curve: table,
        });
      return { capacityAh, leakA, measuredAh, leak: lost ? leakOf(lost) : null };
    }),
  );
  const drift = cycleDrift({
    groups: groups.map((group) => group.map(({ measuredAh, leak }) => ({ capacityAh: measuredAh, leak }))),
    cycles,
    daysPerCycle,
  });
  const lostAh = groups.map((group) => {
    let ah = 0;
    for (let day = 0; day < cycles * daysPerCycle; day += 1) for (const { leakA } of group) ah += 24 * leakA;
    return ah;
  });
  const g = Math.floor(between(chance, 0, series));
  const meanAh = lostAh.reduce((sum, ah) => sum + ah, 0) / series;
  const holdsAh = (groups[g] ?? []).reduce((sum, { capacityAh }) => sum + capacityAh, 0);
  return { told: drift?.byGroup[g] ?? null, truth: (meanAh - (lostAh[g] as number)) / holdsAh };
}

const limits = selfDischargeLimits(rules);

export const buildPopulations: Population[] = [
  population('2 to 5 groups of 2 to 4 measured cells, 0.3 to 1C', (chance) => between(chance, 0.3, 1)),
  population('2 to 5 groups of 2 to 4 measured cells, 1 to 2.5C', (chance) => between(chance, 1, 2.5)),
  ...[
    [0, 7, 14],
    [0, 10, 20, 30],
  ].map((days): Population => ({
    figures: ['drift of a group over 100 cycles'],
    made: `2 to 6 groups of 1 to 4 cells, held for ${days.at(-1)} days`,
    draw: (chance) => [driftCase(chance, days)],
  })),
];
