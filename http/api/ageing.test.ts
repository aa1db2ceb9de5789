import { computeAgeing } from './ageing';

const at = (day: number): string => new Date(Date.UTC(2024, 0, 1 + day)).toISOString();
const scatter = [0.004, -0.006, 0.003, 0.004, -0.005];
const runs = scatter.map((apartAh, i) => ({
  cycle: 60 * i,
  at: at(120 * i),
  capacityAh: 3 * (1 - 0.0005 * 60 * i) + apartAh,
  rateC: 0.2,
}));

test('a fade over cycles and years, where it crosses, what a cycle costs', () => {
  const { healthNow, trend, crossings, costPerCycle, costPerCycle95, costPerCycleSoFar, warnings } = computeAgeing({
    asNewCapacityAh: 3,
    runs,
    price: 60,
  });
  expect(healthNow).toBeCloseTo(0.88, 2);
  expect(trend.perCycle).toBeCloseTo(-0.0005, 4);
  expect(trend.perYear).toBeCloseTo(-0.0005 * (365.25 / 2), 2);
  expect(crossings.map(({ health }) => health)).toEqual([0.8, 0.7]);
  expect(crossings[0]?.cycle).toBeCloseTo(400, -1.5);
  expect(crossings[0]?.at).toMatch(/^2026-0[123]/);
  expect(costPerCycle).toBeCloseTo(60 / 600, 1);
  expect((costPerCycle95?.[0] ?? 1) < 0.1 && (costPerCycle95?.[1] ?? 0) > 0.1).toBe(true);
  expect(costPerCycleSoFar).toBe(60 / 240);
  expect(warnings.map(({ code }) => code)).toEqual(['far-beyond-seen']);
});

test('without cycles the crossing is a date; other rates are left out; what is not known is said', () => {
  const dated = runs.map(({ cycle: _, ...run }, i) => (i === 2 ? { ...run, rateC: 1 } : run));
  const { crossings, warnings } = computeAgeing({ runs: dated });
  expect(String(crossings[0]?.from95) < String(crossings[0]?.at)).toBe(true);
  expect(warnings.map(({ code }) => code)).toEqual([
    'first-run-taken-as-new',
    'other-rates-left-out',
    'far-beyond-seen',
  ]);
  const alone = computeAgeing({ asNewCapacityAh: 3, runs: [{ capacityAh: 2.7 }] });
  expect(alone).toMatchObject({ healthNow: expect.closeTo(0.9, 9), crossings: [], standardUncertaintyHealth: null });
  expect(alone.warnings.map(({ code }) => code)).toEqual(['no-trend']);
});
