import fc from 'fast-check';
import { type Job, planBench, type Span } from './schedule';

const job = (id: string, minutes: number, more: Partial<Job> = {}): Job => ({
  id,
  kind: 'charge',
  minutes,
  attended: false,
  after: [],
  restMin: 0,
  dueMin: null,
  ...more,
});
const bays = (count: number, kinds = ['charge']) =>
  Array.from({ length: count }, (_, i) => ({ id: `bay ${i + 1}`, kinds }));
const evenings: Span[] = [
  { from: 0, to: 240 },
  { from: 1440, to: 1680 },
];
const placeOf = (plan: ReturnType<typeof planBench>, id: string) => {
  const found = plan.placed.find((one) => one.id === id);
  if (!found) throw new Error(`${id} is not placed`);
  return found;
};

// Published: R. L. Graham, SIAM J. Appl. Math. 17 (1969): longest first gives 15 where 12 is best.
test('Graham’s jobs on four bays are done in 12, which is proven', () => {
  const jobs = [7, 7, 6, 6, 5, 5, 4, 4, 4].map((minutes, i) => job(`j${i}`, minutes));
  expect(planBench({ attended: [], stations: bays(4), jobs })).toMatchObject({ endsAt: 12, bound: 12, isProven: true });
});

test('what charges lies within attended hours; what rests goes on at night; rests are kept', () => {
  const jobs = [
    job('charge', 200, { attended: true }),
    job('rest', 600, { kind: 'rest', after: ['charge'] }),
    job('ohm', 20, { kind: 'resistance', attended: true, after: ['rest'], restMin: 60 }),
  ];
  const stations = [...bays(1), { id: 'shelf', kinds: ['rest'] }, { id: 'meter', kinds: ['resistance'] }];
  const plan = planBench({ attended: evenings, stations, jobs });
  expect(placeOf(plan, 'rest')).toMatchObject({ from: 200, to: 800 });
  expect(placeOf(plan, 'ohm')).toMatchObject({ from: 1440 });
  expect(plan).toMatchObject({ isProven: true, unplaced: [] });
});

test('no job goes on over two evenings: what is left of the first is too short, and that is proven', () => {
  const jobs = Array.from({ length: 7 }, (_, i) => job(`j${i}`, 90, { attended: true }));
  // Two fit into four hours of each bay.
  expect(planBench({ attended: evenings, stations: bays(2), jobs })).toMatchObject({ endsAt: 1620, isProven: true });
});

test('a job takes what it takes where it is done: the quicker place, though it is free later', () => {
  const jobs = [
    job('first', 60, { attended: true, minutes: { 'bay 2': 60 } }),
    job('big', 0, { attended: true, minutes: { 'bay 1': 200, 'bay 2': 70 } }),
  ];
  const plan = planBench({ attended: evenings, stations: bays(2), jobs });
  expect(placeOf(plan, 'big')).toMatchObject({ station: 'bay 2' });
  expect(plan.endsAt).toBe(130);
});

test('what is due first goes first', () => {
  const jobs = [job('long', 100), job('pressing', 30, { dueMin: 40 })];
  expect(placeOf(planBench({ attended: [], stations: bays(1), jobs }), 'pressing').to).toBe(30);
});

test('a job that cannot be placed is listed with its reason, and the jobs after it, too', () => {
  const jobs = [
    job('endless', 900, { attended: true }),
    job('then', 10, { after: ['endless'] }),
    job('strange', 10, { kind: 'weld' }),
    job('egg', 10, { after: ['hen'] }),
    job('hen', 10, { after: ['egg'] }),
    job('lost', 10, { after: ['nobody'] }),
    job('fine', 10),
  ];
  const { unplaced, placed } = planBench({ attended: evenings, stations: bays(1), jobs });
  expect(placed.map(({ id }) => id)).toEqual(['fine']);
  expect(Object.fromEntries(unplaced.map(({ id, why }) => [id, why.code]))).toEqual({
    endless: 'longer-than-any-span',
    then: 'after-unplaced',
    strange: 'no-station',
    egg: 'in-a-circle',
    hen: 'in-a-circle',
    lost: 'after-unknown',
  });
  const many = Array.from({ length: 5 }, (_, i) => job(`c${i}`, 200, { attended: true }));
  expect(planBench({ attended: evenings, stations: bays(1), jobs: many }).unplaced).toHaveLength(3);
});

test('whatever is asked, no station does two at once, nobody is away where somebody must be there, no bound is broken', () => {
  const some = fc.array(
    fc.record({
      minutes: fc.integer({ min: 5, max: 120 }),
      attended: fc.boolean(),
      before: fc.option(fc.nat(11)),
      restMin: fc.constantFrom(0, 30),
      kind: fc.constantFrom('charge', 'rest'),
    }),
    { minLength: 1, maxLength: 12 },
  );
  fc.assert(
    fc.property(some, fc.integer({ min: 1, max: 3 }), (drawn, count) => {
      const jobs = drawn.map(({ before, ...one }, i) =>
        job(`j${i}`, one.minutes, { ...one, after: before !== null && before < i ? [`j${before}`] : [] }),
      );
      const stations = [...bays(count), { id: 'shelf', kinds: ['rest', 'charge'] }];
      const { placed, unplaced, endsAt, bound } = planBench({ attended: evenings, stations, jobs });
      expect(placed.length + unplaced.length).toBe(jobs.length);
      expect(bound).toBeLessThanOrEqual(endsAt);
      for (const one of placed) {
        const own = jobs.find(({ id }) => id === one.id) as Job;
        expect(one.to - one.from).toBe(own.minutes);
        if (own.attended) expect(evenings.some(({ from, to }) => one.from >= from && one.to <= to)).toBe(true);
        for (const id of own.after)
          expect(one.from).toBeGreaterThanOrEqual((placed.find((p) => p.id === id)?.to ?? Infinity) + own.restMin);
        for (const other of placed)
          if (other !== one && other.station === one.station)
            expect(other.from >= one.to || other.to <= one.from).toBe(true);
      }
    }),
    { numRuns: 60 },
  );
});
