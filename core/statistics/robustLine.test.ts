import { fitLine } from './line';
import { seededChance } from './random';
import { robustLine } from './robustLine';

const xs = [10, 8, 13, 9, 11, 14, 6, 4, 12, 7, 5];
const ys = [7.46, 6.77, 12.74, 7.11, 7.81, 8.84, 6.08, 5.39, 8.15, 6.42, 5.73];
const anscombe = xs.map((x, i) => ({ x, y: ys[i] as number }));

test('Anscombe 1973, third set: ten points on a line and one off it, which is named and does not drag the line', () => {
  expect(fitLine(anscombe).slope.value).toBeCloseTo(0.4997, 4);
  const { line, odd: outliers } = robustLine(anscombe);
  expect(outliers).toEqual([2]);
  expect(Math.abs(line.slope.value / 0.3454 - 1)).toBeLessThan(0.01);
  expect(line.intercept.value).toBeCloseTo(4.0056, 2);
  expect(line.rSquared).toBeGreaterThan(0.999);
});

test('points that scatter as points do keep the line of least squares; points on a line have no odd one', () => {
  const scattered = xs.map((x, i) => ({ x, y: 2 + 0.5 * x + 0.1 * Math.sin(7 * i) }));
  expect(robustLine(scattered)).toEqual({ line: fitLine(scattered), odd: [] });
  expect(robustLine(xs.map((x) => ({ x, y: 0.1 + 0.3 * x }))).odd).toEqual([]);
});

test('all at one place make no line', () => {
  expect(() => robustLine([1, 2, 3].map((y) => ({ x: 4, y })))).toThrow('points-at-one-place');
});

test('of hundreds the odd ones are named as of a few', () => {
  const chance = seededChance(20_261_126);
  const many = Array.from({ length: 400 }, (_, i) => ({ x: i / 40, y: 2 + 0.5 * (i / 40) + chance.normal(0, 0.1) }));
  const outliers = [7, 200, 388];
  const spoilt = many.map(({ x, y }, i) => ({ x, y: outliers.includes(i) ? y + 3 : y }));
  expect(robustLine(many).odd).toEqual([]);
  expect(robustLine(spoilt)).toEqual({ line: fitLine(many.filter((_, i) => !outliers.includes(i))), odd: outliers });
});
