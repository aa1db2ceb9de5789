import { refusalOf } from '@/words/impossible';
import { levenbergMarquardt } from 'ml-levenberg-marquardt';
import { seededChance } from './random';
import { fitCurve } from './leastSquares';

const misra1a = (
  '10.07 77.6; 14.73 114.9; 17.94 141.1; 23.93 190.8; 29.61 239.9; 35.18 289.0; 40.02 332.8; 44.82 378.4; 50.76 ' +
  '434.8; 55.05 477.3; 61.01 536.8; 66.40 593.1; 75.47 689.1; 81.78 760.0'
)
  .split('; ')
  .map((pair) => pair.split(' ').map(Number))
  .map(([y, x]) => ({ x: x as number, y: y as number }));
const relaxing = (x: number, [b1, b2]: readonly number[]) => (b1 as number) * (1 - Math.exp(-(b2 as number) * x));

test.each([[[500, 1e-4]], [[250, 5e-4]]])('NIST StRD Misra1a from the standard start %j', (start) => {
  const { parameters } = fitCurve(relaxing, misra1a, start);
  expect(parameters[0]?.value).toBeCloseTo(238.94212918, 4);
  expect(parameters[0]?.u).toBeCloseTo(2.7070075241, 4);
  expect((parameters[1]?.value ?? 0) * 1e4).toBeCloseTo(5.5015643181, 6);
  expect((parameters[1]?.u ?? 0) * 1e6).toBeCloseTo(7.2668688436, 3);
});

test('a line and a bend agree with the package ml-levenberg-marquardt 5.1.0', () => {
  const chance = seededChance(4);
  const points = Array.from({ length: 60 }, (_, i) => ({
    x: i,
    y: 40 + 20 * (1 - Math.exp(-i / 12)) + chance.normal(0, 0.2),
  }));
  const curve = (x: number, [a, b, t]: readonly number[]) =>
    (a as number) + (b as number) * (1 - Math.exp(-x / (t as number)));
  const ours = fitCurve(curve, points, [30, 30, 5]);
  const theirs = levenbergMarquardt(
    { x: points.map((p) => p.x), y: points.map((p) => p.y) },
    (parameters: number[]) => (x: number) => curve(x, parameters),
    { initialValues: [30, 30, 5], maxIterations: 500, damping: 1e-2, gradientDifference: 1e-6 },
  );
  ours.parameters.forEach(({ value, u }, i) =>
    expect(Math.abs(value - (theirs.parameterValues[i] ?? NaN))).toBeLessThan(0.02 * u),
  );
  expect(ours.residual).toBeCloseTo(0.2, 1);
});

test.each([
  [
    'too few points',
    [
      { x: 0, y: 1 },
      { x: 1, y: 2 },
    ],
    '2 points given; it takes at least 3',
  ],
  ['a parameter that nothing depends on', [0, 1, 2, 3].map((x) => ({ x: 0 * x, y: 1 })), 'do not determine'],
])('refused: %s', (_, points, words) => {
  expect(refusalOf(() => fitCurve(relaxing, points, [1, 1]))).toContain(words);
});
