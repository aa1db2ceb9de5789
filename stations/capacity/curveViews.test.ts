import type { SampleColumns } from '@/core/capacity/sampleColumns';
import { type DrawnRun, lineOf, timesShown, timesVolts, withDetail } from './curveViews';

const columns = (timeS: number[]): SampleColumns => ({
  timeS,
  voltageV: timeS.map((t) => 4 - t / 1000),
  currentA: null,
  temperatureC: null,
  groupsV: [timeS.map((t) => 4 - t / 1000)],
  cycle: null,
  step: null,
});
/** Ten minutes at rest, then a discharge of a thousand seconds that gave half an ampere-hour. */
const run: DrawnRun = {
  columns: columns([0, 600, 850, 1100, 1350, 1600]),
  segments: [
    {
      kind: 'discharge',
      mode: 'constant-current',
      fromS: 600,
      toS: 1600,
      chargeAh: 0.5,
      energyWh: 1.8,
      startVoltageV: 3.9,
      endVoltageV: 2.4,
    },
  ],
  load: { kind: 'current', currentA: 1.8 },
};

test('over what was left a discharge runs from all of it to nothing, whatever it gave', () => {
  expect(lineOf(run, 'left', null, 1).map(({ x }) => x)).toEqual([0, 25, 50, 75, 100]);
  expect(lineOf(run, 'charge', null, 1).map(({ x }) => x)).toEqual([0, 0.125, 0.25, 0.375, 0.5]);
});

test('a stretch of charge is a stretch of time, with what lies next to it', () => {
  expect(timesShown(run, 'charge', { fromS: 0.2, toS: 0.3 })).toEqual({ fromS: 850, toS: 1350 });
  expect(timesShown(run, 'left', { fromS: 50, toS: 90 })).toEqual({ fromS: 1100, toS: 1600 });
  expect(timesShown(run, 'time', { fromS: -5, toS: 90 })).toEqual({ fromS: 0, toS: 90 });
  expect(timesShown(run, 'incremental', { fromS: 3, toS: 4 })).toBeNull();
});

test('a run with another count in series is drawn by the same volts, and its charge stays', () => {
  const half = timesVolts(run, 0.5);
  expect(half.columns.voltageV[0]).toBe(2);
  expect(lineOf(half, 'charge', null, 1).at(-1)?.x).toBe(0.5);
});

test('a stretch in detail takes the place of what was known of it, and the charge stays that of the whole', () => {
  const closer = withDetail(run.columns, columns([850, 900, 1000, 1100]));
  expect(closer.timeS).toEqual([0, 600, 850, 900, 1000, 1100, 1350, 1600]);
  expect(closer.groupsV?.[0]).toEqual(closer.voltageV);
  const line = lineOf({ ...run, columns: closer }, 'charge', null, 1);
  expect(line.map(({ x }) => Number(x.toFixed(6)))).toEqual([0, 0.125, 0.15, 0.2, 0.25, 0.375, 0.5]);
});
