import { countPriorsOf } from './hypotheses';
import { visitReasons } from './visit';

const sum = (of: readonly number[]): number => of.reduce((total, one) => total + one, 0);
const none = { visits: 0, faulty: 0 };

test.each(visitReasons)('chances of %s add up, before and after the own visits of a workshop', (reason) => {
  for (const past of [none, { visits: 40, faulty: 4 }, { visits: 7, faulty: 7 }])
    expect(sum(countPriorsOf({ reason, past }))).toBeCloseTo(1, 12);
});

test('a workshop that seldom finds a fault expects one more seldom, and by hundreds of visits only its own count', () => {
  const soundIn = (visits: number, faulty: number) =>
    countPriorsOf({ reason: 'complaint', past: { visits, faulty } })[0] ?? NaN;
  expect(soundIn(0, 0)).toBe(0.15);
  expect(soundIn(10, 2)).toBeGreaterThan(0.15);
  expect(soundIn(10, 10)).toBeLessThan(0.15);
  expect(soundIn(1000, 400)).toBeCloseTo(0.6, 1);
});
