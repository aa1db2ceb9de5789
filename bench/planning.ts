import { type BenchRequest, type Job, type Plan, planBench, type Span } from '@/core/planning/schedule';
import { seededChance } from '@/core/statistics/random';
import highsLoader from 'highs';
import { type BenchRow, seconds } from './table';

const evening = (day: number): Span => ({ from: day * 1440, to: day * 1440 + 270 });
const job = (id: string, kind: string, minutes: number, attended: boolean, after: string[] = [], restMin = 0): Job => ({
  id,
  kind,
  minutes,
  attended,
  after,
  restMin,
  dueMin: null,
});

/** Jobs of many subjects: some are charged, some rested and measured behind that, some discharged. */
function benchOf(count: number, stations: number, evenings: number, loadMin: number, seed: number): BenchRequest {
  const chance = seededChance(seed);
  const minutes = (): number => 4 + Math.round(2 * loadMin * chance.uniform());
  const jobs: Job[] = [];
  for (let i = 0; jobs.length < count; i += 1) {
    jobs.push(job(`c${i}`, 'charge', minutes(), true));
    if (i % 3 === 0 && jobs.length + 2 <= count) {
      jobs.push(job(`r${i}`, 'rest', 60, false, [`c${i}`]));
      jobs.push(job(`o${i}`, 'charge', 4 + Math.round(6 * chance.uniform()), true, [`r${i}`], 1));
    }
  }
  return {
    attended: Array.from({ length: evenings }, (_, day) => evening(day)),
    stations: [
      ...Array.from({ length: stations }, (_, i) => ({ id: `bay ${i + 1}`, kinds: ['charge'] })),
      ...Array.from({ length: count }, (_, i) => ({ id: `shelf ${i + 1}`, kinds: ['rest'] })),
    ],
    jobs,
  };
}

/** Independent jobs on alike stations, as a program for highs: the longest load is as small as possible. */
function programOf(minutes: readonly number[], stations: number): string {
  const each = Array.from({ length: stations }, (_, s) => s);
  const x = (j: number, s: number): string => `x${j}_${s}`;
  return [
    'Minimize',
    'obj: c',
    'Subject To',
    ...minutes.map((_, j) => `once${j}: ${each.map((s) => x(j, s)).join(' + ')} = 1`),
    ...each.map((s) => `load${s}: ${minutes.map((m, j) => `${m} ${x(j, s)}`).join(' + ')} - c <= 0`),
    'Bounds',
    'c >= 0',
    'Binary',
    ...minutes.flatMap((_, j) => each.map((s) => x(j, s))),
    'End',
  ].join('\n');
}

const timed = (asked: BenchRequest): { plan: Plan; ms: number } => {
  const began = performance.now();
  const plan = planBench(asked);
  return { plan, ms: performance.now() - began };
};
const gapOf = ({ endsAt, bound }: Plan): string => `${(100 * (1 - bound / endsAt)).toFixed(2)} % off its bound`;

/** Plans of the bench against an optimum, their bound, and the time they may take. */
export async function benchPlanning(): Promise<BenchRow[]> {
  const chance = seededChance(20_261_128);
  const minutes = Array.from({ length: 14 }, () => 10 + Math.round(80 * chance.uniform()));
  const highs = await highsLoader();
  const began = performance.now();
  const best = highs.solve(programOf(minutes, 3)).ObjectiveValue;
  const highsMs = performance.now() - began;
  const small = timed({
    attended: [],
    stations: [1, 2, 3].map((i) => ({ id: `bay ${i}`, kinds: ['charge'] })),
    jobs: minutes.map((m, i) => job(`j${i}`, 'charge', m, false)),
  });
  const two = timed(benchOf(60, 4, 2, 28, 20_261_129));
  const many = timed(benchOf(500, 8, 12, 28, 20_261_130));
  return [
    {
      what: 'plan of 14 jobs on 3 stations: when it ends',
      ours: `${small.plan.endsAt} min in ${seconds(small.ms)}`,
      reference: `highs, proven: ${Math.round(best)} min in ${seconds(highsMs)}`,
      ratio: (small.plan.endsAt / best).toFixed(3),
    },
    {
      what: 'plan of 60 jobs on 4 stations over two evenings (limit 1 s, 2 % off)',
      ours: `${seconds(two.ms)}, ${gapOf(two.plan)}, ${two.plan.unplaced.length} unplaced`,
      reference: 'limit 1 s',
      ratio: (two.ms / 1000).toFixed(2),
    },
    {
      what: 'plan of 500 jobs on 8 stations (limit 5 s)',
      ours: `${seconds(many.ms)}, ${gapOf(many.plan)}, ${many.plan.unplaced.length} unplaced`,
      reference: 'limit 5 s',
      ratio: (many.ms / 5000).toFixed(2),
    },
  ];
}
