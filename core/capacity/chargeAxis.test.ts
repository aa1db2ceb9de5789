import fc from 'fast-check';
import { chargeAxis } from './chargeAxis';
import { incrementalCapacity } from './incrementalCapacity';
import type { Segment } from './segments';

const segment = (kind: Segment['kind'], fromS: number, toS: number, chargeAh: number): Segment => ({
  kind,
  mode: 'other',
  fromS,
  toS,
  chargeAh,
  energyWh: 0,
  startVoltageV: 4,
  endVoltageV: 3,
});

const curve = (timeS: number[], voltageV: number[], currentA: number[] | null = null) => ({
  timeS,
  voltageV,
  currentA,
  temperatureC: null,
  groupsV: null,
  cycle: null,
  step: null,
});

test('the charge of each discharge is shared out as the current ran; rests and charges are passed over', () => {
  const segments = [segment('rest', 0, 10, 0), segment('discharge', 10, 40, 3), segment('charge', 40, 60, 5)];
  const times = [0, 10, 20, 30, 40, 50, 60, 70];
  const more = [...segments, segment('discharge', 60, 80, 1)];
  const points = chargeAxis(
    curve(
      times,
      times.map(() => 3.7),
    ),
    more,
    { kind: 'current', currentA: 1 },
  );
  expect(points.map(({ index }) => index)).toEqual([1, 2, 3, 4, 6, 7]);
  expect(points.map(({ chargeAh }) => Number(chargeAh.toFixed(6)))).toEqual([0, 1, 2, 3, 3, 4]);
});

test('through a resistor more flows while the voltage is high; a column is taken as it ran, whichever its sign', () => {
  const [whole] = [[segment('discharge', 0, 20, 1)]];
  const fell = curve([0, 10, 20], [4, 4, 2], [-4, -4, -2]);
  const through = chargeAxis(fell, whole, { kind: 'resistor', resistanceOhm: 3 });
  expect(through[1]?.chargeAh).toBeCloseTo(40 / 70, 9);
  expect(chargeAxis(fell, whole, { kind: 'column' })[1]?.chargeAh).toBeCloseTo(40 / 70, 9);
});

test('the area under dQ/dV is the charge, whatever the noise, up to what is smoothed over the ends', () => {
  const log = fc.array(fc.double({ min: 2.8, max: 4.2, noNaN: true }), { minLength: 2, maxLength: 60 });
  fc.assert(
    fc.property(log, fc.double({ min: 0.005, max: 0.2, noNaN: true }), (volts, widthV) => {
      const points = volts.map((voltageV, i) => ({ voltageV, chargeAh: i / 7 }));
      const area = incrementalCapacity(points, widthV, 0).reduce((sum, { ahPerV }) => sum + ahPerV * widthV, 0);
      expect(area).toBeCloseTo((volts.length - 1) / 7, 6);
    }),
  );
});

test('a plateau stands out where it lies', () => {
  const points = Array.from({ length: 201 }, (_, i) => ({
    chargeAh: i / 100,
    voltageV: i < 50 || i > 150 ? 4 - i / 200 : 3.75 - (i - 50) / 100_000,
  }));
  const peak = incrementalCapacity(points, 0.01).reduce((a, b) => (b.ahPerV > a.ahPerV ? b : a));
  expect(peak.voltageV).toBeCloseTo(3.75, 1);
});
