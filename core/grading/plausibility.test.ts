import { askAboutDigitsOf, askAboutMass, askAboutResistance, askAboutVoltage, misread } from './plausibility';

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
  expect(askAboutResistance(0.43, 0.045)).toContain('or was it 43.0 mΩ?');
  expect(askAboutResistance(7.77, 0.045)).toContain('bad contact');
  expect(askAboutResistance(0.09, 0.045)).toBeNull();
  expect(askAboutResistance(0.43, null)).toBeNull();
});

describe('digits swapped or dropped', () => {
  test.each([
    [18.7, 1, 14.9, 0.3, 14.87],
    [3.17, 2, 3.72, 0.06, 3.71],
    [2.46, 2, 3.72, 0.06, undefined],
  ])('%f (%d decimals) among %f was %f', (value, decimals, expected, within, meant) => {
    const found = misread(value, decimals, expected, within);
    if (meant === undefined) expect(found).toBeUndefined();
    else expect(Math.abs((found ?? NaN) - expected)).toBeLessThanOrEqual(Math.abs(meant - expected) + 0.03);
  });

  test('a voltage far from its neighbours is asked about where a swap explains it, and a weak cell is not', () => {
    expect(askAboutVoltage(3.17, 'li-ion', 3.72)).toContain('or was it 3.710 V?');
    expect(askAboutVoltage(2.46, 'li-ion', 3.72)).toBeNull();
    expect(askAboutVoltage(3.66, 'li-ion', 3.72)).toBeNull();
  });

  test('a resistance below nought is asked about even in an empty batch', () => {
    expect(askAboutResistance(-0.002, null)).toContain('above nought');
  });
});

test('a figure finer than its instrument shows is asked about', () => {
  expect(askAboutDigitsOf(0.0001, 0.001, 'DM1')).toContain('DM1 does not show digits that fine');
  expect(askAboutDigitsOf(0.001, 0.001, 'DM1')).toBeNull();
  expect(askAboutDigitsOf(0.0001, null, null)).toBeNull();
});
