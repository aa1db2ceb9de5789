import fc from 'fast-check';
import type { Sample } from './logReader';
import { createWildFilter } from './wildSamples';

const sample = (timeS: number, voltageV: number, currentA: number | null = null): Sample => ({
  timeS,
  voltageV,
  currentA,
  temperatureC: null,
});

function pass(samples: Sample[], limitV = 0.15) {
  const kept: Sample[] = [];
  const filter = createWildFilter(limitV, (one) => kept.push(one));
  samples.forEach(filter.push);
  filter.finish();
  return { kept, ...filter.found() };
}

const steady = (n: number) => Array.from({ length: n }, (_, i) => sample(i, 3.8 - i / 1000));

test('a quiet log passes whole and in order', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 60 }), (n) => {
      expect(pass(steady(n)).kept).toEqual(steady(n));
    }),
  );
});

test.each([1, 2, 3])('%d wild samples in a row are left out, wherever they stand but at the very end', (length) => {
  for (let at = 0; at + length < 30; at++) {
    const samples = steady(30).map((one, i) => (i >= at && i < at + length ? { ...one, voltageV: 0.3 } : one));
    const { kept, count, samples: wild } = pass(samples);
    expect({ at, count, first: wild[0]?.timeS }).toEqual({ at, count: length, first: at });
    expect(kept).toHaveLength(30 - length);
  }
});

test('a lasting step of voltage is kept on both sides', () => {
  const samples = Array.from({ length: 40 }, (_, i) => sample(i, i < 20 ? 4 : 3.5));
  expect(pass(samples).count).toBe(0);
});

test('four in a row are no accident', () => {
  const samples = steady(40).map((one, i) => (i >= 20 && i < 24 ? { ...one, voltageV: 3.2 } : one));
  expect(pass(samples).kept.filter((one) => one.voltageV === 3.2)).toHaveLength(4);
});

test('a sample whose current is off as well is a pulse', () => {
  const samples = steady(30).map((one, i) => ({
    ...one,
    voltageV: i === 15 ? 3.2 : one.voltageV,
    currentA: i === 15 ? 6 : 1,
  }));
  expect(pass(samples).count).toBe(0);
});

test('only the first of them are kept, however many were wild', () => {
  const samples = steady(5000).map((one, i) => (i % 20 === 10 ? { ...one, voltageV: 9 } : one));
  const { count, samples: wild } = pass(samples);
  expect(count).toBe(250);
  expect(wild.map(({ timeS }) => timeS)).toEqual(Array.from({ length: 200 }, (_, i) => 20 * i + 10));
});

test.each([30, 60, 120])(
  'the steep end of a discharge sampled every %d s is not wild, whether the log ends there or the cell recovers',
  (stepS) => {
    const fall = Array.from({ length: Math.ceil(3600 / stepS) + 1 }, (_, i) =>
      sample(i * stepS, 4 - 0.7 * ((i * stepS) / 3600) - 0.5 * ((i * stepS) / 3600) ** 60),
    );
    const rest = Array.from({ length: 6 }, (_, i) => sample(3600 + (i + 1) * stepS, 3.28 + 0.01 * i));
    expect(pass(fall).count).toBe(0);
    expect(pass([...fall, ...rest]).count).toBe(0);
  },
);

test('the last row of a log is never wild for being low, only for standing twice as high as any before', () => {
  expect(pass([...steady(30), sample(30, 0.4)]).count).toBe(0);
  expect(pass([...steady(30), sample(30, 9)]).count).toBe(1);
});
