import { refusalOf } from '@/words/impossible';
import { monotoneCurve } from './monotone';

/** Published: Fritsch & Carlson 1980, data set RPN 14. */
const x = [7.99, 8.09, 8.19, 8.7, 9.2, 10, 12, 15, 20];
const y = [0, 2.76429e-5, 4.37498e-2, 0.169183, 0.469428, 0.94374, 0.998636, 0.999919, 0.999994];

describe('monotoneCurve through RPN 14', () => {
  const curve = monotoneCurve(x, y);
  const fine = Array.from({ length: 4001 }, (_, i) => 7.99 + (12.01 * i) / 4000);

  test('passes through every point', () => {
    x.forEach((at, i) => expect(curve.at(at)).toBeCloseTo(y[i] ?? NaN, 12));
  });

  test('never falls and stays within its points', () => {
    const values = fine.map((at) => curve.at(at));
    values.slice(1).forEach((value, i) => expect(value).toBeGreaterThanOrEqual((values[i] ?? NaN) - 1e-12));
    expect(Math.max(...values)).toBeLessThanOrEqual(0.999994);
  });

  test('its slope is that of its values and its inverse leads back', () => {
    for (const at of [8.05, 8.5, 9, 9.7, 11]) {
      expect(curve.slopeAt(at)).toBeCloseTo((curve.at(at + 1e-6) - curve.at(at - 1e-6)) / 2e-6, 5);
      expect(curve.inverseAt(curve.at(at))).toBeCloseTo(at, 6);
    }
  });
});

test('flat pieces stay flat; ends are held', () => {
  const curve = monotoneCurve([0, 1, 2], [1, 1, 2]);
  expect(curve.at(0.5)).toBe(1);
  expect(curve.at(-3)).toBe(1);
  expect(curve.at(9)).toBe(2);
});

test('points out of order are refused', () => {
  expect(refusalOf(() => monotoneCurve([0, 1], [1, 0]))).toContain('rising order');
});
