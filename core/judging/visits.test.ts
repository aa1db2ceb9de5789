import type { Body } from './bodies';
import { visitsOf } from './visits';

const day = (n: number) => new Date(Date.UTC(2026, 0, 1 + n, 12));
const round = (at: number, spreadV: number, state: 'rest' | 'load' = 'rest', apart: number | null = null) => ({
  state,
  takenAt: day(at),
  judgement: {
    spreadV: { value: spreadV, u: 0.001 },
    says: [
      {
        code: 'spread' as const,
        spreadV: { value: spreadV, u: 0.001 },
        level: 'good' as const,
        furthest: apart === null ? null : { position: apart, deviationV: -spreadV },
        urgent: false,
      },
    ],
  },
});
const filed = (at: number, body: Body) => ({ takenAt: day(at), body });

test('rounds within two weeks are one visit; what was found, said and done from a day before belongs to it', () => {
  const visits = visitsOf(
    [round(60, 0.012), round(20, 0.3, 'load'), round(13, 0.21, 'rest', 3), round(2, 0.2, 'rest', 3)],
    [
      filed(59, { kind: 'inspection', findings: ['dropped'] }),
      filed(30, {
        kind: 'remedy',
        way: 'top-up',
        hours: 1,
        spreadV: 0.01,
        chargeA: 1,
        bleedA: 0,
        timerS: null,
        topUpA: 1,
        drainA: 1,
      }),
      filed(2, { kind: 'complaint', said: 'balances-for-hours', answer: 'one-stays-low' }),
      filed(1, { kind: 'inspection', findings: ['connector', 'lead'] }),
      filed(1, { kind: 'inspection', findings: ['lead'] }),
      filed(-40, { kind: 'note', text: 'bought' }),
    ],
  );
  expect(visits).toMatchObject([
    { from: day(60), to: day(60), rounds: 1, apart: null, findings: ['dropped'], complaints: [], remedies: [] },
    {
      from: day(2),
      to: day(20),
      rounds: 3,
      spreadV: { value: 0.21 },
      apart: 3,
      findings: ['connector', 'lead'],
      complaints: ['balances-for-hours'],
      remedies: ['top-up'],
      rescued: false,
    },
  ]);
});

test('a visit without a round at rest tells how its newest stood; without rounds there is none', () => {
  expect(
    visitsOf([round(1, 0.2, 'load')], [filed(1, { kind: 'rescue', currentA: 0.2, belowSince: null })]),
  ).toMatchObject([{ spreadV: { value: 0.2 }, state: 'load', apart: null, rescued: true }]);
  expect(visitsOf([], [])).toEqual([]);
});
