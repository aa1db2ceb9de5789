import { refusalOf } from '@/words/impossible';
import { comparableOhmAh, heatW, highestCurrentA, sagV, fractionsOfDrop } from './uses';

test('40 A through 43.5 mΩ sag by 1.74 V (common practice), and the way back', () => {
  const ohm = { value: 0.0435, u: 0.0011 };
  expect(sagV(40, ohm).value).toBeCloseTo(1.74, 9);
  expect(highestCurrentA(1.74, ohm)).toEqual({
    value: expect.closeTo(40, 9),
    u: expect.closeTo(40 * (0.0011 / 0.0435), 2),
  });
  expect(heatW(40, ohm).value).toBeCloseTo(69.6, 9);
});

test('the odd one takes more than half of a pack’s drop (common practice: 6, 6, 8 and 22 mΩ)', () => {
  const fractions = fractionsOfDrop([0.006, 0.006, 0.008, 0.022]);
  expect(fractions.reduce((a, b) => a + b)).toBeCloseTo(1, 12);
  expect(fractions[3]).toBeCloseTo(22 / 42, 12);
  expect(refusalOf(() => fractionsOfDrop([0.006, 0]))).toContain('above zero');
});

test('mΩ·Ah compares sizes: half the cell, twice the resistance, the same figure', () => {
  expect(comparableOhmAh({ value: 0.02, u: 0.001 }, 3).value).toBeCloseTo(
    comparableOhmAh({ value: 0.04, u: 0.001 }, 1.5).value,
    12,
  );
});
