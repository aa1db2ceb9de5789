import { oddRuleText } from '@/words/resistance';
import { populationOf, isOutlier } from './population';

test('common practice: one of 22 mΩ stands out from a crowd at 6 to 8 mΩ, one of 9.3 among 8.4 to 9 does not', () => {
  const worn = populationOf([0.006, 0.006, 0.007, 0.008, 0.007, 0.022], 3.5, 0.0003);
  expect(isOutlier(0.022, worn)).toBe(true);
  expect(isOutlier(0.008, worn)).toBe(false);
  const fine = populationOf([0.0084, 0.0093, 0.009, 0.0088, 0.0091], 3.5, 0.0003);
  expect(isOutlier(0.0093, fine)).toBe(false);
});

test('hand-worked: median 3, MAD 1', () => {
  expect(populationOf([1, 2, 3, 4, 100], 3.5, 0)).toEqual({
    median: 3,
    spread: 1 / 0.6745,
    low: 3 - 8.1 / 0.6745,
    high: 3 + 8.1 / 0.6745,
    rule: 'spread',
    factor: expect.closeTo(8.1, 9),
  });
});

test.each([
  [[0.006, 0.006, 0.008, 0.022], [0.022]],
  [[0.0084, 0.0093, 0.009], []],
  [[0.0137, 0.018, 0.0154], []],
])('few values, common practice: of %j odd are %j', (values, odd) => {
  const few = populationOf(values, 3.5, 0.0001);
  expect(values.filter((value) => isOutlier(value, few))).toEqual(odd);
  expect(oddRuleText(few)).toContain('1.75 times');
});

test('equal values leave the floor as spread; two values are nothing', () => {
  expect(populationOf([5, 5, 5, 5, 5.2], 3, 0.1)?.high).toBeCloseTo(5.3, 12);
  expect(populationOf([1, 99], 3, 0.1)).toBeNull();
  expect(isOutlier(99, null)).toBe(false);
});
