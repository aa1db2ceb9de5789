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

test('hand-worked: with several ranges a reading is judged by the range of its last digit', () => {
  const tenMv = { resolution: 0.01, accuracyShare: 0.008, accuracyCounts: 3 };
  const meterOfTwo = { ...meter, coarser: [tenMv] };
  // 0.5 % and 2 counts of 1 mV on 4 V; 0.8 % and 3 counts of 10 mV on 12.34 V; in steps of 0.1 V counts are of that.
  expect(limitOf(4, rangeFor(meterOfTwo, 0.001))).toBeCloseTo(0.022, 12);
  expect(limitOf(12.34, rangeFor(meterOfTwo, 0.01))).toBeCloseTo(0.008 * 12.34 + 0.03, 12);
  expect(limitOf(12.3, rangeFor(meterOfTwo, 0.1))).toBeCloseTo(0.008 * 12.3 + 0.3, 12);
});

test('an instrument of which nothing is promised is still no finer than its last digit', () => {
  expect(readingU(4, { resolution: 0.01, accuracyShare: 0, accuracyCounts: 0 })).toBeCloseTo(0.01 / Math.sqrt(12), 12);
});

test('an accuracy that is not noted is assumed and marked, in each range', () => {
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
  const unknown = { resolution: 0.1, accuracyShare: null, accuracyCounts: null };
  expect(rangeOf('voltage', { ...unknown, resolution: 0.01, coarser: [unknown] }).coarser).toEqual([
    { resolution: 0.1, accuracyShare: 0.005, accuracyCounts: 3, isAssumed: true },
  ]);
});
