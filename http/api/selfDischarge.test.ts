import { computeSelfDischarge } from './selfDischarge';

const on = (day: number): string => new Date(Date.UTC(2026, 2, 1 + day)).toISOString();
const cell = (id: string, lostPerDayV: number) => ({
  id,
  readings: [0, 7, 14].map((day) => ({ at: on(day), voltageV: 4.16 - lostPerDayV * day })),
});

test('tells each how fast it drifts, what that means and why; what was assumed is said', () => {
  const { subjects, warnings } = computeSelfDischarge({
    chemistry: 'lipo',
    subjects: [cell('sound', 0.0002), cell('leaky', 0.004), { id: 'new', readings: [] }],
  });
  expect(subjects).toMatchObject([
    { id: 'sound', driftVPerDay: expect.closeTo(-0.0002, 9), verdict: 'holds', outlier: false },
    {
      id: 'leaky',
      verdict: 'leaks',
      why: expect.stringContaining('never leave it in a pack'),
    },
    { id: 'new', driftVPerDay: null, verdict: 'cannot-tell', why: expect.stringContaining('two readings') },
  ]);
  expect(warnings.map(({ code }) => code)).toEqual(['reading-uncertainty-assumed']);
});

test('with a capacity the self-discharge current of a lithium cell is given, too', () => {
  const ask = (chemistry: 'lipo' | 'nimh') =>
    computeSelfDischarge({ chemistry, subjects: [{ ...cell('leaky', 0.004), ratedCapacityAh: 2 }] }).subjects[0];
  // About 4.13 V its table rises by 40 mV over 5 % of the charge.
  const lost = ask('lipo');
  expect(lost?.selfDischargeA).toBeCloseTo((0.004 * (0.05 / 0.04) * 2) / 24, 4);
  expect(lost?.standardUncertaintySelfDischargeA).toBeLessThan(0.4 * (lost?.selfDischargeA ?? 0));
  expect(ask('nimh')).not.toHaveProperty('selfDischargeA');
});
