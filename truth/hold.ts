import { holdTest } from '@/core/hold/drift';
import { holdLimits } from '@/core/judging/judgeHold';
import { presetRules } from '@/core/chemistry/houseRules';
import type { Chance } from '@/core/statistics/random';
import type { Population, TrueCase } from './coverage';
import { between } from './trueCell';

const dayS = 86_400;
const limits = holdLimits(presetRules('workshop'));
/** A meter with steps of 1 mV and some noise: 0.5 mV together, as a standard uncertainty. */
const meter = { stepV: 0.001, noiseV: 0.0004, u: 0.0005 };

/** A cell that loses charge at a rate of its own, read at uneven times over so many days. */
function heldCell(chance: Chance, count: number, days: number) {
  const perDayV = -Math.exp(between(chance, Math.log(0.0001), Math.log(0.01)));
  const startV = between(chance, 3.7, 4.18);
  const times = Array.from({ length: count }, (_, i) => {
    const isEnd = i === 0 || i === count - 1;
    return (days * i) / (count - 1) + (isEnd ? 0 : between(chance, -0.3, 0.3));
  });
  const readings = times.map((day) => ({
    atS: day * dayS,
    voltageV: Math.round((startV + perDayV * day + chance.normal(0, meter.noiseV)) / meter.stepV) * meter.stepV,
    u: meter.u,
  }));
  return { perDayV, readings };
}

function driftCase(chance: Chance, count: number, days: number): TrueCase {
  const { perDayV, readings } = heldCell(chance, count, days);
  const [result] = holdTest([{ id: 'one', readings }], 'li-ion', limits);
  return { told: result?.drift ?? null, truth: perDayV };
}

/** A batch that holds: any that is said to leak is one too many. */
function soundBatch(chance: Chance, count: number): TrueCase {
  const subjects = Array.from({ length: count }, (_, id) => {
    const perDayV = chance.normal(-0.00025, 0.00003);
    const readings = [0, 7, 14].map((day) => ({
      atS: day * dayS,
      voltageV: Math.round((4.15 + perDayV * day + chance.normal(0, meter.noiseV)) / meter.stepV) * meter.stepV,
      u: meter.u,
    }));
    return { id: String(id), readings };
  });
  const leaky = holdTest(subjects, 'li-ion', limits).filter(({ verdict }) => verdict === 'leaks');
  return { told: { value: leaky.length, u: 0.25 }, truth: 0 };
}

export const holdPopulations: Population[] = [
  ...(
    [
      [2, 7],
      [3, 14],
      [5, 28],
    ] as const
  ).map(([count, days]): Population => ({
    figures: ['drift'],
    made: `${count} readings over ${days} days, 1 mV steps`,
    draw: (chance) => [driftCase(chance, count, days)],
  })),
  ...[6, 12, 30].map((count): Population => ({
    figures: ['no leak'],
    made: `a batch of ${count} that holds`,
    draw: (chance) => [soundBatch(chance, count)],
  })),
];
