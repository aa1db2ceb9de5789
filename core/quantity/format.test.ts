import { display, formatDuration, formatFigure, formatQuantity, formatRead } from './format';

test.each([
  [{ value: 0.04361, u: 0.00112 }, display.resistance, '43.6 ± 1.1 mΩ'],
  [{ value: 0.0618, u: 0.0009 }, display.resistance, '61.8 ± 0.9 mΩ'],
  [{ value: 0.1181, u: 0.0041 }, display.resistance, '118 ± 4 mΩ'],
  [{ value: 2.3144, u: 0.0133 }, display.capacity, '2.314 ± 0.013 Ah'],
  [{ value: 0.924, u: 0.25 }, display.share, '92 ± 25 %'],
  [{ value: 3.71, u: 0 }, display.voltage, '3.710 V'],
  [{ value: 12.34, u: 0.4 }, display.share, '1230 ± 40 %'],
  [{ value: -0.2, u: 0.01 }, display.voltage, '−0.200 ± 0.010 V'],
])('%j reads %s', (quantity, as, text) => {
  expect(formatQuantity(quantity, as)).toBe(text);
});

test('a plain figure keeps the decimals of its kind', () => {
  expect(formatFigure(0.0435, display.resistance)).toBe('43.5 mΩ');
});

test.each([
  [0.04551, 0.00001, display.mass, '45.51 g'],
  [0.045, 0.001, display.mass, '45 g'],
  [4.14, 0.01, display.voltage, '4.14 V'],
  [19.7, 0.1, display.voltage, '19.7 V'],
  [3.7012, 0.0001, display.voltage, '3.7012 V'],
  [0.0435, 0.0005, display.resistance, '43.5 mΩ'],
  [0.021, 1e-150, display.resistance, '21.000000 mΩ'],
])('%d read to %d keeps its digits: %s', (value, step, as, text) => {
  expect(formatRead(value, step, as)).toBe(text);
});

test('durations read as on a watch', () => {
  expect(formatDuration(2830)).toBe('0:47:10');
  expect(formatDuration(187_200)).toBe('2 d 4 h');
});
