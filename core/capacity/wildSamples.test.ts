import fc from 'fast-check';
import type { Sample } from './logReader';
import { createWildFilter } from './wildSamples';

const sample = (timeS: number, voltageV: number, currentA: number | null = null): Sample => ({ timeS, voltageV, currentA, temperatureC: null });

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

test.each([1, 2, 3])('%d wild samples in a row are left out, wherever they stand', (length) => {
  for (let at = 0; at + length <= 30; at++) {
    const samples = steady(30).map((one, i) => (i >= at && i < at + length ? { ...one, voltageV: 0.3 } : one));
    const { kept, count, atS } = pass(samples);
    expect({ at, count, first: atS[0] }).toEqual({ at, count: length, first: at });
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
  const samples = steady(30).map((one, i) => ({ ...one, voltageV: i === 15 ? 3.2 : one.voltageV, currentA: i === 15 ? 6 : 1 }));
  expect(pass(samples).count).toBe(0);
});

test('only the first few times are remembered, however many were wild', () => {
  const samples = steady(200).map((one, i) => (i % 20 === 10 ? { ...one, voltageV: 9 } : one));
  expect(pass(samples)).toMatchObject({ count: 10, atS: [10, 30, 50, 70, 90] });
});
