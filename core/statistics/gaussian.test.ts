import { factorOf, logStudent } from './gaussian';

test('with many degrees it is the Gaussian: two correlated values by hand', () => {
  // Variances 4 and 1, correlation 0.5: determinant 3; distance of (2, 1) is 4/3.
  const density = logStudent(Float64Array.of(2, 1), factorOf(Float64Array.of(4, 1, 1, 1), 2), 1e7);
  expect(density).toBeCloseTo(-Math.log(2 * Math.PI) - Math.log(3) / 2 - 2 / 3, 5);
});

test('of one value it is the t-distribution of that variance: by its formula', () => {
  // Five degrees at variance 1: scale √(3/5); density of t at 1.2 / scale, over the scale.
  const scale = Math.sqrt(3 / 5);
  const t = 1.2 / scale;
  const gammas = 2 / (0.75 * Math.sqrt(Math.PI));
  const expected = Math.log((gammas / Math.sqrt(5 * Math.PI)) * (1 + (t * t) / 5) ** -3 * (1 / scale));
  expect(logStudent(Float64Array.of(1.2), factorOf(Float64Array.of(1), 1), 5)).toBeCloseTo(expected, 2);
});
