import { refusalOf } from '@/words/impossible';
import { coverage95, chiSquareQuantile } from './distributions';
import { fitLine, newPoint, onLine, strengthOf } from './line';

describe('published lines', () => {
  test('GUM H.3: calibration of a thermometer', () => {
    const t = [21.521, 22.012, 22.512, 23.003, 23.507, 23.999, 24.513, 25.002, 25.503, 26.01, 26.511];
    const b = [-0.171, -0.169, -0.166, -0.159, -0.164, -0.165, -0.156, -0.157, -0.159, -0.161, -0.16];
    const line = fitLine(t.map((x, i) => ({ x: x - 20, y: b[i] as number })));
    expect(line.intercept.value).toBeCloseTo(-0.1712, 4);
    expect(line.intercept.u).toBeCloseTo(0.0029, 4);
    expect(line.slope.value).toBeCloseTo(0.00218, 5);
    expect(line.slope.u).toBeCloseTo(0.00067, 5);
    expect(line.covariance / line.intercept.u / line.slope.u).toBeCloseTo(-0.93, 3);
    expect(line.residual).toBeCloseTo(0.0035, 4);
    const at30 = onLine(line, 10);
    expect(at30.value).toBeCloseTo(-0.1494, 4);
    expect(at30.u).toBeCloseTo(0.0041, 4);
  });

  test('NIST StRD Norris: intercept, slope and R²', () => {
    const pairs =
      '0.1 0.2; 338.8 337.4; 118.1 118.2; 888.0 884.6; 9.2 10.1; 228.1 226.5; 668.5 666.3; 998.5 996.3; 449.1 ' +
      '448.6; 778.9 777.0; 559.2 558.2; 0.3 0.4; 0.1 0.6; 778.1 775.5; 668.8 666.9; 339.3 338.0; 448.9 447.5; ' +
      '10.8 11.6; 557.7 556.0; 228.3 228.1; 998.0 995.8; 888.8 887.6; 119.6 120.2; 0.3 0.3; 0.6 0.3; 557.6 556.8; ' +
      '339.3 339.1; 888.0 887.2; 998.5 999.0; 778.9 779.0; 10.2 11.1; 117.6 118.3; 228.9 229.2; 668.4 669.1; ' +
      '449.2 448.9; 0.2 0.5';
    const line = fitLine(
      pairs.split('; ').map((pair) => {
        const [y, x] = pair.split(' ').map(Number);
        return { x: x as number, y: y as number };
      }),
    );
    expect(line.intercept.value).toBeCloseTo(-0.262323073774029, 10);
    expect(line.slope.value).toBeCloseTo(1.00211681802045, 12);
    expect(line.rSquared).toBeCloseTo(0.999993745883712, 12);
  });
});

test('known uncertainties weigh the points; two points then suffice', () => {
  const line = fitLine([
    { x: 0, y: 1, u: 0.1 },
    { x: 10, y: 2, u: 0.1 },
  ]);
  expect(line.slope).toEqual({ value: expect.closeTo(0.1, 12), u: expect.closeTo(Math.SQRT2 * 0.01, 12) });
  expect(onLine(line, 10).u).toBeCloseTo(0.1, 12);
  expect(line.degrees).toBe(Infinity);
  const pulled = fitLine([
    { x: 0, y: 0, u: 0.01 },
    { x: 1, y: 1, u: 0.01 },
    { x: 2, y: 9, u: 100 },
  ]);
  expect(pulled.slope.value).toBeCloseTo(1, 3);
});

test('points that scatter more than they should enlarge the doubt', () => {
  const scattered = [0, 1, 2, 3].map((x) => ({ x, y: x + (x % 2 ? 0.3 : -0.3), u: 0.01 }));
  expect(fitLine(scattered).slope.u).toBeGreaterThan(
    5 * fitLine(scattered.map((point) => ({ ...point, y: point.x }))).slope.u,
  );
});

test('one more point is less certain than the line', () => {
  const line = fitLine([0, 1, 2, 3, 4].map((x) => ({ x, y: 2 * x + (x % 2) * 0.1 })));
  expect(newPoint(line, 2).u).toBeGreaterThan(onLine(line, 2).u);
});

test.each([
  [
    [
      { x: 1, y: 1 },
      { x: 2, y: 2 },
    ],
    'at least 3',
  ],
  [[{ x: 1, y: 1, u: 0.1 }], 'at least 2'],
  [[1, 2, 3].map((y) => ({ x: 4, y })), 'at one place'],
])('no line through %j', (points, words) => expect(refusalOf(() => fitLine(points))).toContain(words));

test('R² in the words of the trade', () => {
  expect([0.97, 0.9, 0.8, 0.5, 0.2, 0].map(strengthOf)).toEqual([
    'very strong',
    'very strong',
    'strong',
    'moderate',
    'weak',
    'hardly any',
  ]);
});

test('quantiles as in any table (from memory)', () => {
  expect(coverage95(9)).toBeCloseTo(2.262, 3);
  expect(coverage95(Infinity)).toBeCloseTo(1.96, 3);
  expect(chiSquareQuantile(0.95, 4)).toBeCloseTo(9.488, 3);
});
