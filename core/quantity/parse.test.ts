import fc from 'fast-check';
import { parseFigure, parseQuantity } from './parse';

const milliohm = { dimension: 'resistance', factor: 1e-3 } as const;
const volt = { dimension: 'voltage', factor: 1 } as const;

describe('parseQuantity', () => {
  test.each([
    ['43.5', 0.0435],
    ['43.5m', 0.0435],
    ['43,5 mΩ', 0.0435],
    ['0.0435 ohm', 0.0435],
    ['4R7', 4.7],
  ])('in a resistance round %s means %s Ω', (text, value) => {
    const parsed = parseQuantity(text, milliohm);
    expect(parsed?.dimension).toBe('resistance');
    expect(parsed?.value).toBeCloseTo(value, 12);
  });

  test.each([
    ['3.712', 3.712, 0.001],
    ['4,17', 4.17, 0.01],
    ['3V71', 3.71, 0.01],
    ['3712mV', 3.712, 0.001],
    ['−0.2', -0.2, 0.1],
    ['.5', 0.5, 0.1],
    ['12', 12, 1],
  ])('as a voltage %s is %s V to the last %s', (text, value, step) => {
    const parsed = parseQuantity(text, volt);
    expect(parsed?.value).toBeCloseTo(value, 12);
    expect(parsed?.step).toBeCloseTo(step, 12);
  });

  test.each(['', 'abc', '3.7.1', '4 parsecs', '-', '--3'])('%j is not a figure', (text) => {
    expect(parseQuantity(text, volt)).toBeNull();
  });

  test('a unit of another dimension is refused, not converted', () => {
    expect(parseQuantity('45.2 g', volt)).toEqual({
      dimension: 'mass',
      value: expect.closeTo(0.0452, 12),
      step: expect.closeTo(1e-4, 12),
    });
  });
});

test('a written decimal is read back with either sign', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -99999, max: 99999 }),
      fc.integer({ min: 0, max: 4 }),
      fc.constantFrom('.', ','),
      (n, places, sign) => {
        const value = n / 10 ** places;
        expect(parseFigure(value.toFixed(places).replace('.', sign))?.value).toBeCloseTo(value, 9);
      },
    ),
  );
});

test('with both signs the last is the decimal one', () => {
  expect(parseFigure('1.234,5')?.value).toBe(1234.5);
  expect(parseFigure('1,234.5')?.value).toBe(1234.5);
  expect(parseFigure('4.105E+00')).toEqual({ value: 4.105, step: expect.closeTo(0.001, 12) });
  expect(parseFigure('-2,5e-3')).toEqual({ value: -0.0025, step: expect.closeTo(1e-4, 12) });
  expect(parseFigure('1e')).toBeNull();
});

test('a thousandth is the nearest number to what was typed', () => {
  fc.assert(
    fc.property(fc.integer({ min: -999_999, max: 999_999 }), (whole) => {
      expect(parseQuantity(`${whole} mV`, volt)?.value).toBe(whole / 1000);
    }),
  );
  expect(['21.5', '45.2', '43.5 m', '38 mohm'].map((text) => parseQuantity(text, milliohm)?.value)).toEqual([
    0.0215, 0.0452, 0.0435, 0.038,
  ]);
});
