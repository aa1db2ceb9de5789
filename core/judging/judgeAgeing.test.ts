import type { AgedRun } from '../capacity/ageing';
import { judgeAgeing, judgeRunTimes } from './judgeAgeing';

const yearS = 365.25 * 86_400;
const scatter = [0.001, -0.0015, 0.0005, 0.0012, -0.001];
const runs: AgedRun[] = scatter.map((off, i) => ({
  atS: (i * yearS) / 2,
  cycle: 20 * i,
  capacityAh: 2 * (1 - 0.05 * i + off),
}));

test('health against its capacity when new, cost so far and until it leaves service', () => {
  const aged = judgeAgeing(runs, { capacityAh: 2, is: 'measured' }, 30);
  expect(aged.healthNow.value).toBeCloseTo(0.8, 2);
  expect(aged.healthNow.u).toBeGreaterThan(0);
  expect(aged.costSoFar).toBeCloseTo(30 / 80, 9);
  // It loses 5 % in 20 cycles: 30 % in 120.
  const { value, from95, to95 } = aged.costUntilEnd ?? { value: NaN, from95: NaN, to95: NaN };
  expect(value).toBeCloseTo(30 / 120, 2);
  expect(from95 < value && value < to95).toBe(true);
  expect(aged.warnings).toEqual([]);
});

test('without what it held when new the first run stands for it; one run alone tells no trend', () => {
  const aged = judgeAgeing(runs.slice(0, 1), null, null);
  expect(aged).toMatchObject({
    asNew: { is: 'first' },
    healthNow: { value: 1, u: 0 },
    overTime: null,
    costSoFar: null,
  });
  expect(aged.warnings.map(({ code }) => code)).toEqual(['first-run-taken-as-new', 'no-trend']);
});

test('a run time that fell further than the capacity points to something else', () => {
  const { overTime } = judgeAgeing(runs, { capacityAh: 2, is: 'rated' }, null);
  const served = (years: number, minutes: number) => ({ at: new Date(years * yearS * 1000), durationS: minutes * 60 });
  expect(judgeRunTimes([served(0, 10)], overTime)).toBeNull();
  // Capacity kept 80 %: from ten minutes to seven is more than that, to eight is not (common practice).
  expect(judgeRunTimes([served(0, 10), served(2, 6.5)], overTime)).toMatchObject({ beyondCapacity: true });
  expect(judgeRunTimes([served(0, 10), served(2, 8)], overTime)).toMatchObject({ share: 0.8, beyondCapacity: false });
  expect(judgeRunTimes([served(0, 10), served(2, 5)], null)).toMatchObject({ beyondCapacity: false });
});
