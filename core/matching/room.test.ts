import fc from 'fast-check';
import { cellsIn, sizeOf } from './room';

test('a name of a round cell tells its diameter and its length', () => {
  expect(sizeOf('21700')).toEqual({ diameterMm: 21, lengthMm: 70 });
  expect(sizeOf(' aa ')).toEqual({ diameterMm: 14.5, lengthMm: 50.5 });
  expect([sizeOf('pouch'), sizeOf('1865'), sizeOf('')]).toEqual([null, null, null]);
});

test('rows side by side, set off where that holds more, standing or lying, in layers', () => {
  const size = { diameterMm: 18, lengthMm: 65 };
  expect(cellsIn([80, 100, 70], size)).toBe(20);
  expect(cellsIn([70, 80, 100], size)).toBe(20);
  // Two layers of the same.
  expect(cellsIn([80, 100, 137], size)).toBe(40);
  // Eleven rows of 16.1 mm where ten of 18.6 mm would fit: six of ten and five of nine.
  expect(cellsIn([190, 184, 69], size)).toBe(105);
  expect(cellsIn([18, 100, 70], size)).toBe(0);
});

test('never more than the closest packing of circles allows, and never fewer for a larger box', () => {
  const side = fc.integer({ min: 5, max: 400 });
  fc.assert(
    fc.property(side, side, side, fc.constantFrom('18650', '21700', 'D'), (a, b, c, name) => {
      const size = sizeOf(name);
      if (!size) throw new Error(name);
      const held = cellsIn([a, b, c], size);
      const ofCell = Math.PI * (size.diameterMm / 2) ** 2 * size.lengthMm;
      expect(held * ofCell).toBeLessThanOrEqual((a * b * c * Math.PI) / Math.sqrt(12) + 1e-6);
      expect(cellsIn([a + 10, b, c], size)).toBeGreaterThanOrEqual(held);
    }),
  );
});
