import { numberOf, pageOf } from './address';

test.each([
  ['17', 17],
  ['0', 0],
  ['1.5', 0],
  ['1e10', 0],
  ['99999999999', 0],
  ['-3', 0],
  ['valueOf', 0],
])('%s is number %d', (text, number) => {
  expect(numberOf(text)).toBe(number);
  expect(pageOf(text)).toBe(number || 1);
});

test('no page named is the first', () => expect(pageOf(undefined)).toBe(1));
