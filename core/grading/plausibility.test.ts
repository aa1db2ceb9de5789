import { askAboutMass, askAboutResistance, askAboutVoltage } from './plausibility';

test.each([
  [37, 'li-ion', '3.700 V would fit'],
  [3712, 'li-ion', '3.712 V would fit'],
  [14.87, 'nimh', '1.487 V would fit'],
  [-0.2, 'li-ion', 'reversed'],
  [5.5, 'lfp', 'at most 3.65 V'],
] as const)('%d V of one %s cell is asked about', (voltage, chemistry, words) => {
  expect(askAboutVoltage(voltage, chemistry)).toContain(words);
});

test('plausible and merely bad voltages are not asked about', () => {
  expect([3.71, 0.02, 4.21].map((voltage) => askAboutVoltage(voltage, 'li-ion'))).toEqual([null, null, null]);
});

test('weights are held against the model', () => {
  expect(askAboutMass(0.452, 0.0452)).toContain('45.2 g would fit');
  expect(askAboutMass(0.03, 0.0452)).toBeNull();
  expect(askAboutMass(20, null)).toContain('for one cell');
});

test('a resistance five times off its batch is asked about, once there is a batch', () => {
  expect(askAboutResistance(0.43, 0.045)).toContain('slipped point');
  expect(askAboutResistance(0.09, 0.045)).toBeNull();
  expect(askAboutResistance(0.43, null)).toBeNull();
});
