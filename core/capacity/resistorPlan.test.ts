import { openCircuitCurve } from '../chemistry/openCircuit';
import { exact } from '../quantity/quantity';
import { e24, e24Near, resistorPlan, resistorsFor, type ToDischarge } from './resistorPlan';

/** A battery that keeps one voltage until it is empty. */
const level = (volts: number) =>
  openCircuitCurve(
    [
      [0, volts - 1e-6],
      [1, volts],
    ],
    0,
    'from memory',
  );
const of = (given: Partial<ToDischarge> = {}): ToDischarge => ({
  curve: level(3.6),
  series: 1,
  capacityAh: exact(2),
  cutoffV: 3,
  tolerance: 0.05,
  ...given,
});

test('the twenty-four values of a decade (published: IEC 60063)', () => {
  expect(e24).toHaveLength(24);
  // As evenly spaced in ratio as two digits allow.
  e24.forEach((value, i) => expect(Math.abs(value / 10 ** (i / 24) - 1)).toBeLessThan(0.06));
  expect(e24Near(2.3)).toEqual([2.2, 2.4, 2.7]);
  expect(e24Near(9.8)).toEqual([9.1, 10, 11]);
  expect(e24Near(430)).toEqual([390, 430, 470]);
  expect(e24Near(0.0102)).toEqual([0.0091, 0.01, 0.011]);
});

test('a nickel block at 8.535 V on 440 Ω for 28 039 s gives 151.1 mAh (common practice), and so the time follows', () => {
  const plan = resistorPlan(of({ curve: level(8.535 / 7), series: 7, capacityAh: exact(0.1511), cutoffV: 1 }), 440);
  expect(plan.durationS.value / 28_039).toBeCloseTo(1, 3);
  expect(plan.meanA).toBeCloseTo(0.0194, 4);
});

test('2.2 Ω across 3.91 V burns 6.95 W (common practice): a resistor of 15 W is the one to buy', () => {
  const plan = resistorPlan(of({ curve: level(3.91) }), 2.2);
  expect(plan.startW).toBeCloseTo(6.95, 2);
  expect(plan.ratingW).toBe(15);
});

test('for a current or a time the nearest value and its neighbours; the person is called before the cell can be empty', () => {
  expect(resistorsFor(of(), { currentA: 1 }).map(({ resistanceOhm }) => resistanceOhm)).toEqual([3.3, 3.6, 3.9]);
  const [, mid] = resistorsFor(of(), { hours: 2 });
  expect(mid).toMatchObject({ resistanceOhm: 3.6, meanA: expect.closeTo(1, 5), rateC: expect.closeTo(0.5, 5) });
  expect(mid?.durationS.value).toBeCloseTo(7200, 0);
  // 5 % as a limit is 2.9 % as a standard uncertainty; twice that before.
  expect((mid?.alarmS ?? 0) / 7200).toBeCloseTo(1 - (2 * 0.05) / Math.sqrt(3), 3);
  const unsure = resistorPlan(of({ capacityAh: { value: 2, u: 2 } }), 3.6);
  expect(unsure.alarmS).toBeCloseTo(unsure.durationS.value / 2, 6);
});

test('zero ohms, no current, no time, or what no resistor has, is refused', () => {
  expect(() => resistorPlan(of(), 0)).toThrow();
  for (const wanted of [{ currentA: 0 }, { hours: 0 }, { currentA: 1e9 }])
    expect(() => resistorsFor(of(), wanted)).toThrow();
  expect(resistorPlan(of({ series: 20, curve: level(4.2) }), 2).ratingW).toBeNull();
});
