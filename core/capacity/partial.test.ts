import { refusalOf } from '@/words/impossible';
import { openCircuitOf } from '../chemistry/openCircuit';
import { partialCapacity } from './partial';

test('common practice: 2291 mAh from a rested 3.73 V to full is 2864 mAh, 69.8 % of 4100', () => {
  const { startSoc, capacityAh, warnings } = partialCapacity({
    curve: openCircuitOf('lipo'),
    startVoltagesV: [3.73],
    chargeAh: 2.291,
  });
  expect(startSoc.value).toBeCloseTo(0.2, 9);
  expect(capacityAh.value).toBeCloseTo(2.864, 3);
  expect(capacityAh.value / 4.1).toBeCloseTo(0.698, 3);
  expect(warnings.map((warning) => warning.code)).toEqual(['charge-accuracy-assumed']);
});

test('the start voltage over the slope makes the uncertainty', () => {
  const at = (voltageUncertaintyV: number, chargeAccuracyShare = 0) =>
    partialCapacity({
      curve: openCircuitOf('lipo'),
      startVoltagesV: [3.95],
      chargeAh: 0.6,
      voltageUncertaintyV,
      chargeAccuracyShare,
    }).capacityAh;
  expect(at(0.02).u).toBeGreaterThan(1.4 * at(0.001).u);
  // d(capacity)/d(soc) = charge / 0.3²; about 70 % the slope is 0.7 V per whole charge, and makes differ by 30 mV.
  expect(at(0.001).u).toBeCloseTo((0.6 / 0.09) * (Math.hypot(0.001, 0.03 / Math.sqrt(3)) / 0.7), 1);
  expect(Math.hypot(at(0.001).u, (2 * 0.02) / Math.sqrt(3))).toBeCloseTo(at(0.001, 0.02).u, 3);
});

test('the doubt of the start is carried through the bent curve: it does not jump from one reading to the next', () => {
  const uncertainties = Array.from(
    { length: 20 },
    (_, i) =>
      partialCapacity({ curve: openCircuitOf('lipo'), startVoltagesV: [3.68 + i / 1000], chargeAh: 2 }).capacityAh.u,
  );
  uncertainties.slice(1).forEach((u, i) => expect(u / (uncertainties[i] as number)).toBeLessThan(1.1));
});

test('groups that lie apart: with balancing the least decides, without one between least and most', () => {
  const charge = { curve: openCircuitOf('lipo'), startVoltagesV: [3.73, 3.77], chargeAh: 1.6 };
  const { perCell, capacityAh, warnings } = partialCapacity({ ...charge, balanced: true });
  expect(perCell[0]?.capacityAh.value).toBeCloseTo(2, 6);
  expect(perCell[1]?.capacityAh.value).toBeCloseTo(1.6 / 0.7, 6);
  expect(capacityAh).toEqual(perCell[0]?.capacityAh);
  expect(warnings.map((warning) => warning.code)).toContain('voltages-apart');
  const open = partialCapacity(charge).capacityAh;
  expect(open.value).toBeCloseTo((2 + 1.6 / 0.7) / 2, 6);
  expect(open.value - 1.96 * open.u).toBeLessThan(2);
  expect(open.value + 1.96 * open.u).toBeGreaterThan(1.6 / 0.7);
});

test('starts in the flat part or below the reserve are warned of', () => {
  const at = (volts: number) =>
    partialCapacity({ curve: openCircuitOf('lipo'), startVoltagesV: [volts], chargeAh: 1 }).warnings.map(
      (warning) => warning.code,
    );
  expect(at(3.795)).toContain('charge-flat');
  expect(at(3.61)).toContain('start-below-reserve');
});

test('a part of the charge with an end voltage', () => {
  const { capacityAh } = partialCapacity({
    curve: openCircuitOf('lipo'),
    startVoltagesV: [3.73],
    chargeAh: 1.2,
    endVoltageV: 4.02,
  });
  expect(capacityAh.value).toBeCloseTo(2, 6);
});

test('no charge, no voltage or no difference are refused', () => {
  expect(
    refusalOf(() => partialCapacity({ curve: openCircuitOf('lipo'), startVoltagesV: [3.73], chargeAh: 0 })),
  ).toContain('chargeAh');
  expect(refusalOf(() => partialCapacity({ curve: openCircuitOf('lipo'), startVoltagesV: [], chargeAh: 1 }))).toContain(
    'at least one',
  );
  expect(
    refusalOf(() => partialCapacity({ curve: openCircuitOf('lipo'), startVoltagesV: [4.19], chargeAh: 1 })),
  ).toContain('less than 5 %');
});
