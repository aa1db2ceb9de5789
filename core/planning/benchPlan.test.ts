import { presetRules } from '../chemistry/houseRules';
import { type Example, exampleAt, exampleState } from '../state/exampleState';
import { type BenchPlanRequest, type BenchSubject, type JobKind, planJobs, type WantedJob } from './benchPlan';

const rules = presetRules('workshop');
const small = { maxA: 6, maxW: 60, dischargeMaxW: 6, stepA: 0.1, bleedA: 0.2 };
const subject = (
  code: string,
  more: Partial<Example> = {},
  lastDone: BenchSubject['lastDone'] = null,
): BenchSubject => {
  const pouch = { chemistry: 'lipo' as const, series: 4, capacityAh: 3.6, groupsV: [3.75, 3.76, 3.75, 3.75] };
  return { code, state: exampleState({ ...pouch, capacityU: 0.1, ...more }), lastDone };
};
const chain = (of: string, kinds: readonly JobKind[], dueMin: number | null = null): WantedJob[] =>
  kinds.map((kind, i) => ({ id: `${of} ${kind}`, of, kind, after: i > 0 ? `${of} ${kinds[i - 1]}` : null, dueMin }));
const request = (more: Partial<BenchPlanRequest>): BenchPlanRequest => ({
  subjects: [subject('PA1')],
  jobs: [],
  bench: { chargers: [{ id: 'CH7', limits: small }], loads: [] },
  attended: [
    { from: 0, to: 300 },
    { from: 1440, to: 1740 },
  ],
  running: [],
  rules,
  ...more,
});
const placeOf = (plan: ReturnType<typeof planJobs>, id: string) => {
  const found = plan.placed.find((one) => one.id === id);
  if (!found) throw new Error(`${id} is in no plan: ${JSON.stringify(plan.unplaced)}`);
  return found;
};

test('a charge, an hour of rest, its resistance, half an hour after which it goes to storage from full', () => {
  const bench = { chargers: [{ id: 'CH7', limits: small }], loads: ['LD3'] };
  const jobs = chain('PA1', ['charge', 'resistance', 'storage']);
  const plan = planJobs(request({ jobs, bench, attended: [{ from: 0, to: 600 }] }));
  const [charge, read, storage] = jobs.map(({ id }) => placeOf(plan, id));
  expect(read).toMatchObject({ station: 'Hands', from: (charge?.to ?? 0) + 60 });
  // A load burns what the charger's six watts would take hours for.
  expect(storage).toMatchObject({ station: 'LD3' });
  expect(storage?.expectedMin).toBeLessThan(90);
  const alone = placeOf(planJobs(request({ jobs, attended: [{ from: 0, to: 900 }] })), 'PA1 storage');
  expect(alone.expectedMin).toBeGreaterThan(200);
});

test('the doubt follows from the capacity and from where it stands; what nobody read is computed from the worst', () => {
  const at = (more: Partial<Example>) =>
    placeOf(planJobs(request({ subjects: [subject('PA1', more)], jobs: chain('PA1', ['charge']) })), 'PA1 charge');
  const known = at({});
  expect(known.doubtMin).toBeGreaterThan(2);
  expect(known.to - known.from).toBe(Math.ceil(known.expectedMin + known.doubtMin));
  expect(at({ capacityU: 0.9 }).doubtMin).toBeGreaterThan(1.5 * known.doubtMin);
  const blind = at({ groupsV: null });
  expect(blind).toMatchObject({ isBlind: true });
  expect(blind.expectedMin).toBeGreaterThan(known.expectedMin);
  expect(known.isBlind).toBe(false);
});

test('what was done since it was read counts: charged full, it goes down to storage', () => {
  const jobs = chain('PA1', ['storage']);
  const low = placeOf(planJobs(request({ jobs, attended: [{ from: 0, to: 900 }] })), 'PA1 storage');
  const charged = { moves: [{ at: new Date(exampleAt.getTime() + 1), kind: 'charged' as const }] };
  const full = subject('PA1', { more: charged }, { kind: 'charge', agoMin: 300 });
  const down = placeOf(planJobs(request({ jobs, subjects: [full], attended: [{ from: 0, to: 900 }] })), 'PA1 storage');
  expect(down.expectedMin).toBeGreaterThan(low.expectedMin + 100);
});

test('the rest after what was done last is kept, also where the plan is made again in the middle of it', () => {
  const jobs = chain('PA1', ['resistance']);
  const from = (agoMin: number): number => {
    const subjects = [subject('PA1', {}, { kind: 'charge', agoMin })];
    return placeOf(planJobs(request({ jobs, subjects })), 'PA1 resistance').from;
  };
  expect([0, 20, 60, 500].map(from)).toEqual([60, 40, 0, 0]);
});

test('what runs stays, and what follows waits for it and for its place', () => {
  const running = [{ id: 'now', of: 'PB2', kind: 'charge' as const, station: 'CH7', from: -30, to: 45 }];
  const jobs: WantedJob[] = [
    ...chain('PA1', ['charge']),
    { id: 'PB2 resistance', of: 'PB2', kind: 'resistance', after: 'now', dueMin: null },
  ];
  const plan = planJobs(request({ subjects: [subject('PA1'), subject('PB2')], jobs, running }));
  expect(placeOf(plan, 'PA1 charge').from).toBe(45);
  expect(placeOf(plan, 'PB2 resistance').from).toBe(105);
  expect(plan.placed.map(({ id }) => id)).not.toContain('now');
});

test('a self-discharge test lies on the shelf for a week and does not count for the end; what follows it comes after', () => {
  const jobs = chain('PA1', ['charge', 'hold', 'storage']);
  const attended = [
    { from: 0, to: 300 },
    { from: 11_000, to: 11_600 },
  ];
  const plan = planJobs(request({ jobs, attended }));
  const charge = placeOf(plan, 'PA1 charge');
  expect(placeOf(plan, 'PA1 hold')).toMatchObject({ station: 'Shelf', from: charge.to, to: charge.to + 7 * 1440 });
  expect(placeOf(plan, 'PA1 storage').from).toBeGreaterThanOrEqual(11_000);
  const short = planJobs(request({ jobs: chain('PA1', ['charge', 'hold']) }));
  expect(short.endsAt).toBe(placeOf(short, 'PA1 charge').to);
});

test('what cannot be done says why, and what follows it too', () => {
  const subjects = [
    subject('PA1', { more: { outOfService: 'scrapped' } }),
    subject('PB2', { groupsV: [2.4, 3.7, 3.7, 3.7] }),
    subject('PC3', { chemistry: 'alkaline', series: 1, groupsV: [1.4] }),
    subject('PD4', { capacityAh: 60, capacityU: 1 }),
  ];
  const jobs = [
    ...chain('PA1', ['charge', 'hold']),
    ...chain('PB2', ['charge']),
    ...chain('PC3', ['storage']),
    ...chain('PD4', ['discharge']),
    ...chain('PE5', ['charge']),
  ];
  const plan = planJobs(request({ subjects, jobs }));
  expect(plan).toMatchObject({ placed: [], isProven: false });
  expect(Object.fromEntries(plan.unplaced.map(({ id, why }) => [id, why.code]))).toEqual({
    'PA1 charge': 'sheet-refused',
    'PA1 hold': 'sheet-refused',
    'PB2 charge': 'sheet-refused',
    'PC3 storage': 'sheet-refused',
    'PD4 discharge': 'longer-than-any-span',
    'PE5 charge': 'subject-gone',
  });
});
