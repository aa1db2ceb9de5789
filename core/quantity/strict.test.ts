import { countIn, numberIn } from './strict';

test.each([
  ['3.712', 3.712],
  ['3,712', 3.712],
  [' 43.5 ', 43.5],
  ['-0.5', -0.5],
  ['1.5e-3', 0.0015],
  ['0x1F4', null],
  ['0b11', null],
  ['Infinity', null],
  ['NaN', null],
  ['', null],
  ['1 000', null],
  ['12 V', null],
])('the number in "%s" is %s', (text, value) => {
  expect(numberIn(text)).toBe(value);
});

test.each([
  ['500', 500],
  [' 7 ', 7],
  ['1,000', null],
  ['1.000', null],
  ['0x1F4', null],
  ['-3', null],
  ['5.0', null],
  ['', null],
])('the count in "%s" is %s', (text, value) => {
  expect(countIn(text)).toBe(value);
});
