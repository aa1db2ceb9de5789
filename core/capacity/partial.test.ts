import { partialCapacity } from './partial';

test('common practice: 2291 mAh from a rested 3.73 V to full is 2864 mAh, 69.8 % of 4100', () => {
  const { startSoc, capacityAh, warnings } = partialCapacity({ chemistry: 'lipo', startVoltagesV: [3.73], chargeAh: 2.291 });
  expect(startSoc.value).toBeCloseTo(0.2, 9);
  expect(capacityAh.value).toBeCloseTo(2.864, 3);
  expect(capacityAh.value / 4.1).toBeCloseTo(0.698, 3);
  expect(warnings).toEqual([]);
});

test('the start voltage over the slope makes the uncertainty', () => {
  const sure = partialCapacity({ chemistry: 'lipo', startVoltagesV: [3.73], chargeAh: 2, voltageUncertaintyV: 0.001 });
  const unsure = partialCapacity({ chemistry: 'lipo', startVoltagesV: [3.73], chargeAh: 2, voltageUncertaintyV: 0.02 });
  expect(unsure.capacityAh.u).toBeGreaterThan(1.9 * sure.capacityAh.u);
  // d(capacity)/d(soc) = charge / 0.8²; slope at 20 % is 0.4 V per whole charge.
  expect(unsure.capacityAh.u).toBeCloseTo((2 / 0.64) * (Math.hypot(0.02, 0.01) / 0.4), 2);
});

test('each cell has its own figure, and cells far apart are said so', () => {
  const { perCell, warnings } = partialCapacity({ chemistry: 'lipo', startVoltagesV: [3.73, 3.77], chargeAh: 1.6 });
  expect(perCell[0]?.capacityAh.value).toBeCloseTo(2, 6);
  expect(perCell[1]?.capacityAh.value).toBeCloseTo(1.6 / 0.7, 6);
  expect(warnings.map((warning) => warning.code)).toContain('voltages-apart');
});

test('starts in the flat part or below the reserve are warned of', () => {
  const at = (volts: number) => partialCapacity({ chemistry: 'lipo', startVoltagesV: [volts], chargeAh: 1 }).warnings.map((warning) => warning.code);
  expect(at(3.795)).toContain('charge-flat');
  expect(at(3.61)).toContain('start-below-reserve');
});

test('a part of the charge with an end voltage', () => {
  const { capacityAh } = partialCapacity({ chemistry: 'lipo', startVoltagesV: [3.73], chargeAh: 1.2, endVoltageV: 4.02 });
  expect(capacityAh.value).toBeCloseTo(2, 6);
});

test('no charge, no voltage or no difference are refused', () => {
  expect(() => partialCapacity({ chemistry: 'lipo', startVoltagesV: [3.73], chargeAh: 0 })).toThrow('chargeAh');
  expect(() => partialCapacity({ chemistry: 'lipo', startVoltagesV: [], chargeAh: 1 })).toThrow('at least one');
  expect(() => partialCapacity({ chemistry: 'lipo', startVoltagesV: [4.19], chargeAh: 1 })).toThrow('less than 5 %');
});
