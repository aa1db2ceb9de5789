import { computeSchedule } from './schedule';
import { scheduleRequest } from './schemas';

const ask = (request: unknown) => computeSchedule(scheduleRequest.parse(request), new AbortController().signal);
const evening = { from: '2026-11-27T18:00:00Z', to: '2026-11-27T21:00:00Z' };
const base = {
  from: '2026-11-27T17:00:00Z',
  attended: [evening],
  stations: [
    { id: 'CH1', kinds: ['charge'] },
    { id: 'shelf', kinds: ['rest'] },
  ],
};

test('jobs in their order, within attended hours, with the bound beside', async () => {
  const plan = await ask({
    ...base,
    jobs: [
      { id: 'PF1 rest', kind: 'rest', minutes: 600, attended: false, after: ['PF1 charge'] },
      { id: 'PF1 charge', kind: 'charge', minutes: 90, attended: true },
      { id: 'PF2 charge', kind: 'charge', minutes: 400, attended: true },
    ],
  });
  expect(plan.plan).toEqual([
    { id: 'PF1 charge', station: 'CH1', from: '2026-11-27T18:00:00.000Z', to: '2026-11-27T19:30:00.000Z' },
    { id: 'PF1 rest', station: 'shelf', from: '2026-11-27T19:30:00.000Z', to: '2026-11-28T05:30:00.000Z' },
  ]);
  expect(plan).toMatchObject({ endsAt: '2026-11-28T05:30:00.000Z', bound: '2026-11-28T05:30:00.000Z' });
  expect(plan.unplaced).toMatchObject([{ id: 'PF2 charge', code: 'longer-than-any-span' }]);
  expect(plan.unplaced[0]?.why).toContain('3 h 00 min');
});

test('hours that overlap or end before they begin, and two of one name, are refused by their place', () => {
  const paths = (change: object) =>
    scheduleRequest.safeParse({ ...base, jobs: [], ...change }).error?.issues.map(({ path }) => path.join('.'));
  expect(paths({ attended: [{ from: evening.to, to: evening.from }] })).toEqual(['attended.0.to']);
  expect(paths({ attended: [evening, { from: '2026-11-27T20:00:00Z', to: '2026-11-27T22:00:00Z' }] })).toEqual([
    'attended.1.from',
  ]);
  const job = { id: 'a', kind: 'rest', minutes: 5, attended: false };
  expect(paths({ jobs: [job, job] })).toEqual(['jobs.1.id']);
});
