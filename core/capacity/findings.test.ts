import { isFirstAfterStorage } from './afterStorage';
import { chargeEfficiency } from './chargeEfficiency';
import { rateDependence, type RatedRun } from './rateDependence';

const cycle = (chargedAh: number | null, dischargedAh: number | null) => ({
  fromS: 0,
  toS: 1,
  chargedAh,
  dischargedAh,
  chargedWh: null,
  dischargedWh: null,
  number: 1,
});

test.each([
  [1.75, 1.54, 'lost'],
  [1.3, 0.93, 'lost'],
  [2.02, 2.0, 'agrees'],
  [1.1, 1.9, 'not-empty'],
] as const)('%d Ah in and %d out: %s (common practice)', (put, gave, says) => {
  expect(chargeEfficiency([cycle(null, 0.4), cycle(put, gave)], 'li-ion')).toMatchObject({ share: gave / put, says });
});

test('nickel takes more than it gives: 320 mAh into 200 (common practice) says nothing', () => {
  expect(chargeEfficiency([cycle(0.32, 0.2)], 'nicd')).toMatchObject({ says: 'no-measure' });
  expect(chargeEfficiency([cycle(null, 2)], 'li-ion')).toBeNull();
  expect(chargeEfficiency([cycle(2, null)], 'li-ion')).toBeNull();
});

const run = (currentA: number, capacityAh: number, atMs = currentA): RatedRun => ({
  atMs,
  currentA,
  capacityAh,
  u: 0.01 * capacityAh,
});

test("Peukert's exponent of a lead-acid battery is found again; one rate gives none", () => {
  const runs = [0.33, 1.2, 4].map((amps) => run(amps, 7 * (amps / 0.33) ** (1 - 1.18)));
  const found = rateDependence(runs, 'sla');
  expect(found?.peukert?.value).toBeCloseTo(1.18, 6);
  expect(found?.byRate.map(({ currentA }) => currentA)).toEqual([0.33, 1.2, 4]);
  expect(rateDependence([run(1, 2), run(1.1, 2.05)], 'sla')).toBeNull();
});

test('a nickel block gives 207 mAh at 0.5C and 250 at 0.1C (common practice): a table, the newest of each rate', () => {
  const found = rateDependence([run(0.1, 0.207, 1), run(0.1, 0.203, 2), run(0.02, 0.25, 3)], 'nimh');
  expect(found).toMatchObject({ peukert: null, byRate: [{ capacityAh: 0.25 }, { capacityAh: 0.203 }] });
});

test('the first discharge of nickel in a month is the first after storage; of lithium none is', () => {
  const day = (n: number) => new Date(Date.UTC(2026, 0, n));
  expect(isFirstAfterStorage(day(60), [day(3), day(90)], 'nimh')).toBe(true);
  expect(isFirstAfterStorage(day(60), [day(58)], 'nimh')).toBe(false);
  expect(isFirstAfterStorage(day(60), [], 'li-ion')).toBe(false);
});
