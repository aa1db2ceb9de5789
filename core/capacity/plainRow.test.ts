import fc from 'fast-check';
import { figureValue } from '../quantity/parse';
import { createPlainRow } from './plainRow';

const digits = fc.stringMatching(/^\d{1,9}$/);
const figure = fc
  .tuple(fc.constantFrom('', '-', '+'), digits, fc.option(digits), fc.constantFrom('', ' ', '\r'))
  .map(([sign, whole, decimals, after]) => `${sign}${whole}${decimals === null ? '' : `.${decimals}`}${after}`);
const odd = fc.constantFrom('', 'x', '"1"', '1e5', '1,5', '.5', '5.', '1.2.3', '0x10', '12:00', '--1', '∞', ' ');

test('a row that is taken holds, to the last bit, what the general way reads; whatever else is left to that', () => {
  const row = fc.array(fc.oneof({ weight: 6, arbitrary: figure }, { weight: 1, arbitrary: odd }), {
    minLength: 1,
    maxLength: 6,
  });
  fc.assert(
    fc.property(
      row,
      fc.constantFrom(';', '\t', '|'),
      fc.uniqueArray(fc.nat({ max: 5 }), { minLength: 1 }),
      (fields, separator, wanted) => {
        const text = `before\n${fields.join(separator)}\nafter`;
        const plain = createPlainRow(separator, wanted);
        const isTaken = plain.read(text, 7, text.length - 6);
        const values = wanted.map((place) => figureValue(fields[place] ?? ''));
        if (isTaken) expect(wanted.map((place) => plain.figures[place])).toEqual(values);
        const isPlain = wanted.every((place) => /^[+-]?\d+([.,]\d+)?[ \r]?$/.test(fields[place] ?? ''));
        const quoted = fields.slice(0, Math.max(...wanted) + 1).some((field) => field.includes('"'));
        if (isPlain && !quoted && wanted.every((place) => (fields[place] ?? '').replace(/\D/g, '').length <= 15))
          expect(isTaken).toBe(true);
      },
    ),
    { numRuns: 2000 },
  );
});

test('a comma is a decimal sign only where it does not separate', () => {
  const semicolons = createPlainRow(';', [0, 1]);
  expect(semicolons.read('3,95;-0,5', 0, 9)).toBe(true);
  expect([...semicolons.figures]).toEqual([3.95, -0.5]);
  const commas = createPlainRow(',', [0, 1]);
  expect(commas.read('3,95', 0, 4)).toBe(true);
  expect([...commas.figures]).toEqual([3, 95]);
});
