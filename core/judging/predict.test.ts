import { predictionOf } from './predict';

const cells = Array.from({ length: 12 }, (_, i) => ({
  code: `A1-0${i}`,
  ohm: 0.03 + i * 0.002,
  value: 9 - 40 * (0.03 + i * 0.002) + (i % 2 ? 0.01 : -0.01),
}));

test('the line through what cells delivered, with a band that holds nearly all of them', () => {
  const found = predictionOf(cells);
  expect(found?.line.slope.value).toBeCloseTo(-40, 0);
  expect(found?.line.rSquared).toBeGreaterThan(0.99);
  expect(found?.outside).toEqual([]);
  expect(found?.band).toHaveLength(24);
  expect(found?.band[0]?.high).toBeGreaterThan(found?.band[0]?.value ?? NaN);
});

test('a cell that stands off the line is named, and does not turn it', () => {
  const found = predictionOf([...cells, { code: 'A1-099', ohm: 0.09, value: 3 }]);
  expect([found?.outside, found?.leftOut]).toEqual([['A1-099'], ['A1-099']]);
  expect(found?.line.slope.value).toBeCloseTo(-40, 0);
  expect(found?.line.rSquared).toBeGreaterThan(0.99);
  // Nothing is predicted where only the outlier lies.
  expect(found?.band.at(-1)?.ohm).toBeCloseTo(0.052, 9);
});

test('a handful, or cells that are all alike, predict nothing', () => {
  expect(predictionOf(cells.slice(0, 4))).toBeNull();
  expect(predictionOf(cells.map((cell) => ({ ...cell, ohm: 0.04 })))).toBeNull();
});
