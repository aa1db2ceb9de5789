import { computeHold } from './hold';

const on = (day: number): string => new Date(Date.UTC(2026, 2, 1 + day)).toISOString();
const cell = (id: string, lostPerDayV: number) => ({
  id,
  readings: [0, 7, 14].map((day) => ({ at: on(day), voltageV: 4.16 - lostPerDayV * day })),
});

test('tells each how fast it drifts, what that means and why; what was assumed is said', () => {
  const { subjects, warnings } = computeHold({
    chemistry: 'lipo',
    subjects: [cell('sound', 0.0002), cell('leaky', 0.004), { id: 'new', readings: [] }],
  });
  expect(subjects).toMatchObject([
    { id: 'sound', driftVPerDay: expect.closeTo(-0.0002, 9), verdict: 'holds', outlier: false },
    { id: 'leaky', verdict: 'leaks', why: expect.stringContaining('never leave it in a pack') },
    { id: 'new', driftVPerDay: null, verdict: 'cannot-tell', why: expect.stringContaining('two readings') },
  ]);
  expect(warnings.map(({ code }) => code)).toEqual(['reading-uncertainty-assumed']);
});
