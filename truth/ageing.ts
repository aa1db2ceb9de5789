import { ageingTrend, type AgedRun } from '@/core/capacity/ageing';
import type { Chance } from '@/core/statistics/random';
import { interval, type Population, type TrueCase } from './coverage';
import { between } from './trueCell';

/** A cell that fades by a power of its cycles, a little bent one way or the other; measured at uneven times. */
function ageingCase(chance: Chance, count: number, seen: [number, number], bend: [number, number]): TrueCase[] {
  const life = between(chance, 150, 600);
  const power = between(chance, ...bend);
  const healthAt = (cycle: number): number => 1 - 0.2 * (cycle / life) ** power;
  const last = life * between(chance, ...seen);
  const scatter = between(chance, 0.003, 0.012);
  /** All runs are of one tool, known to be good to this share. */
  const toolU = between(chance, 0.001, 0.01);
  const off = 1 + chance.normal(0, toolU);
  const runs: AgedRun[] = Array.from({ length: count }, (_, i) => {
    const cycle = Math.round((last * (i + between(chance, 0, 0.6))) / (count - 0.4));
    return { cycle, capacityAh: 2.4 * off * (healthAt(cycle) + chance.normal(0, scatter)), u: 2.4 * toolU };
  });
  const trend = ageingTrend(runs, ({ cycle }) => cycle, 2.4);
  // Within the last of the course: a further run there.
  const further = trend?.course.at(-1);
  const lastSeen = Math.max(...runs.map(({ cycle }) => cycle ?? 0));
  return [
    { told: trend && trend.healthNow, truth: healthAt(lastSeen) },
    ...[0.8, 0.7].map((health): TrueCase => {
      const crossing = trend?.crossings.find((one) => one.health === health);
      const truth = life * ((1 - health) / 0.2) ** (1 / power);
      return { told: crossing?.to95 == null ? null : interval(crossing.from95, crossing.to95), truth };
    }),
    {
      told: further ? interval(further.low95, further.high95) : null,
      truth: off * (healthAt(further?.at ?? 0) + chance.normal(0, scatter)),
    },
  ];
}

const figures = [
  'health by the trend',
  'cycle at which it crosses 80 %',
  'cycle at which it crosses 70 %',
  'health of one more run, as far as the course is drawn',
];

export const ageingPopulations: Population[] = [
  {
    figures,
    made:
      '6 runs over the first three quarters of its life to 80 %, fading along a line, scatter 0.3 to 1.2 %, ' +
      'one tool',
    draw: (chance) => ageingCase(chance, 6, [0.6, 0.9], [1, 1]),
  },
  {
    figures,
    made: '6 runs over the first half to nine tenths of that life, fading by the power 0.9 to 1.15 of its cycles',
    draw: (chance) => ageingCase(chance, 6, [0.5, 0.9], [0.9, 1.15]),
  },
  {
    figures,
    made: '14 runs up to 80 % and beyond, the power 0.9 to 1.15',
    draw: (chance) => ageingCase(chance, 14, [1, 1.3], [0.9, 1.15]),
  },
];
