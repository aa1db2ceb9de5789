import { limitOf, rangeFor, rangeOf, readingU } from './instrument';

const meter = { resolution: 0.001, accuracyShare: 0.005, accuracyCounts: 2 };

test('hand-worked: ± 0.5 % ± 2 counts of 1 mV on 4 V is 22 mV at most, 12.7 mV as a standard uncertainty (GUM 4.3.7)', () => {
  expect(limitOf(4, meter)).toBeCloseTo(0.022, 12);
  expect(readingU(4, meter)).toBeCloseTo(Math.hypot(0.022 / Math.sqrt(3), 0.001 / Math.sqrt(12)), 12);
  expect(limitOf(-4, meter)).toBe(limitOf(4, meter));
});

test('the last digit of a reading tells its range: counts are of that digit', () => {
  expect(limitOf(12.34, rangeFor(meter, 0.01))).toBeCloseTo(0.005 * 12.34 + 0.02, 12);
  expect(rangeFor(meter, 0.0001)).toEqual(meter);
});

test('an instrument of which nothing is promised is still no finer than its last digit', () => {
  expect(readingU(4, { resolution: 0.01, accuracyShare: 0, accuracyCounts: 0 })).toBeCloseTo(0.01 / Math.sqrt(12), 12);
});

test('an accuracy that nobody noted is assumed and marked, not zero', () => {
  expect(rangeOf('voltage', { resolution: 0.01, accuracyShare: null, accuracyCounts: null })).toEqual({
    resolution: 0.01,
    accuracyShare: 0.005,
    accuracyCounts: 3,
    isAssumed: true,
  });
  expect(rangeOf('voltage', { resolution: 0.01, accuracyShare: 0.001, accuracyCounts: null })).toEqual({
    resolution: 0.01,
    accuracyShare: 0.001,
    accuracyCounts: 0,
  });
});
