import { ageingTrend, type AgedRun } from '@/core/capacity/ageing';
import type { Chance } from '@/core/statistics/random';
import { interval, type Population, type TrueCase } from './coverage';
import { between } from './trueCell';

/** Fade over cycles of a cell whose life to 80 % is 1: 0 when new, 0.2 at 1. */
type Fade = (life: number) => number;

/** By a power of the cycles. */
const byPower =
  (low: number, high: number) =>
  (chance: Chance): Fade => {
    const power = between(chance, low, high);
    return (life) => 0.2 * life ** power;
  };

/** Slow and straight, then faster and faster: the bend is round, as no shape under test has it. */
const withKnee = (chance: Chance): Fade => {
  const [knee, width, ratio] = [between(chance, 0.45, 0.95), between(chance, 0.03, 0.1), between(chance, 2, 6)];
  const raw = (life: number): number =>
    life + (ratio - 1) * width * (Math.log1p(Math.exp((life - knee) / width)) - Math.log1p(Math.exp(-knee / width)));
  return (life) => (0.2 * raw(life)) / raw(1);
};

/** Calendar ageing by the square root and wear by the cycle, in any mixture. */
const rootAndLine = (chance: Chance): Fade => {
  const root = chance.uniform();
  return (life) => 0.2 * (root * Math.sqrt(life) + (1 - root) * life);
};

const asTheyCome = (chance: Chance): Fade => {
  const kind = chance.uniform();
  if (kind < 0.35) return rootAndLine(chance);
  return kind < 0.7 ? byPower(0.8, 1.5)(chance) : withKnee(chance);
};

interface Made {
  count: number;
  /** The last run lies there, of its life to 80 %. */
  seen: [number, number];
  fade: (chance: Chance) => Fade;
  /** Warm and cold days of a year: so much more and less of the capacity. */
  season?: number;
}

/** Measured at uneven times with one tool. */
function ageingCase(chance: Chance, { count, seen, fade: drawFade, season = 0 }: Made): TrueCase[] {
  const life = between(chance, 150, 600);
  const fade = drawFade(chance);
  const healthAt = (cycle: number): number => 1 - fade(cycle / life);
  const last = life * between(chance, ...seen);
  const scatter = between(chance, 0.003, 0.012);
  /** All runs are of one tool, known to be good to this fraction. */
  const toolU = between(chance, 0.001, 0.01);
  const off = 1 + chance.normal(0, toolU);
  const [year, phase] = [between(chance, 60, 200), between(chance, 0, 2 * Math.PI)];
  const shownAt = (cycle: number): number =>
    off * (healthAt(cycle) + season * Math.sin((2 * Math.PI * cycle) / year + phase) + chance.normal(0, scatter));
  const runs: AgedRun[] = Array.from({ length: count }, (_, i) => {
    const cycle = Math.round((last * (i + between(chance, 0, 0.6))) / (count - 0.4));
    return { cycle, capacityAh: 2.4 * shownAt(cycle), u: 2.4 * toolU };
  });
  const trend = ageingTrend(runs, ({ cycle }) => cycle, { asNewAh: 2.4, origin: 0 });
  // Within the last of the course: a further run there.
  const further = trend?.course.at(-1);
  const lastSeen = Math.max(...runs.map(({ cycle }) => cycle ?? 0));
  return [
    { told: trend && trend.healthNow, truth: healthAt(lastSeen) },
    ...[0.8, 0.7].map((health): TrueCase => {
      const crossing = trend?.crossings.find((one) => one.health === health);
      const truth = life * crossedAt(fade, 1 - health);
      // Without an upper end the interval holds whatever comes after its lower one.
      return {
        told: crossing ? interval(crossing.from95, crossing.to95 ?? Math.max(100 * life, truth)) : null,
        truth,
      };
    }),
    {
      told: further ? interval(further.low95, further.high95) : null,
      truth: further ? shownAt(further.at) : 0,
    },
  ];
}

/** By halving: the fade rises throughout. */
function crossedAt(fade: Fade, lost: number): number {
  let [low, high] = [0, 100];
  for (let i = 0; i < 50; i++) {
    const mid = (low + high) / 2;
    if (fade(mid) < lost) low = mid;
    else high = mid;
  }
  return high;
}

const figures = [
  'health by the trend',
  'cycle at which it crosses 80 %',
  'cycle at which it crosses 70 %',
  'health of one more run, as far as the course is drawn',
];

const populations: [made: string, of: Made][] = [
  [
    '6 runs over the first three quarters of its life to 80 %, fading along a line, scatter 0.3 to 1.2 %, one tool',
    { count: 6, seen: [0.6, 0.9], fade: byPower(1, 1) },
  ],
  [
    '6 runs over the first half to nine tenths of that life, fading by the power 0.9 to 1.15 of its cycles',
    { count: 6, seen: [0.5, 0.9], fade: byPower(0.9, 1.15) },
  ],
  ['14 runs up to 80 % and beyond, the power 0.9 to 1.15', { count: 14, seen: [1, 1.3], fade: byPower(0.9, 1.15) }],
  ['6 runs over 0.4 to 0.9 of that life, square root', { count: 6, seen: [0.4, 0.9], fade: byPower(0.5, 0.5) }],
  ['6 runs over 0.4 to 0.9 of that life, root and line', { count: 6, seen: [0.4, 0.9], fade: rootAndLine }],
  ['8 runs over 0.5 to 1 of that life, a knee at 0.45 to 0.95', { count: 8, seen: [0.5, 1], fade: withKnee }],
  ['6 runs over 0.3 to 1 of that life, fades of every shape', { count: 6, seen: [0.3, 1], fade: asTheyCome }],
  [
    '8 runs, of every shape, warm and cold days ± 1 % over 60 to 200 cycles',
    { count: 8, seen: [0.4, 1], fade: asTheyCome, season: 0.01 },
  ],
  ['3 runs over 0.4 to 0.9 of that life, of every shape', { count: 3, seen: [0.4, 0.9], fade: asTheyCome }],
  ['2 runs over 0.5 to 0.9 of that life, of every shape', { count: 2, seen: [0.5, 0.9], fade: asTheyCome }],
];

export const ageingPopulations: Population[] = populations.map(([made, of]) => ({
  figures,
  made,
  draw: (chance) => ageingCase(chance, of),
}));
