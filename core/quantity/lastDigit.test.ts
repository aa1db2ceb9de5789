import { createDigitWatch, lastDigitOf, writtenDigitOf } from './lastDigit';

const stepped = (step: number, places = 4) =>
  Array.from({ length: 60 }, (_, i) => Number((4 - step * ((i * 7) % 20)).toFixed(places)));

test('steps coarser than the decimals are the last digit, also where their rounding differs', () => {
  expect(lastDigitOf(stepped(0.00488), 0.0001)).toBeCloseTo(0.00488, 5);
  expect(lastDigitOf(stepped(0.02), 0.001)).toBeCloseTo(0.02, 9);
});

test('a straight fall in equal steps is no converter, and fine figures keep their decimals', () => {
  expect(
    lastDigitOf(
      Array.from({ length: 60 }, (_, i) => 4 - i / 100),
      0.001,
    ),
  ).toBe(0.001);
  expect(lastDigitOf(stepped(0.0001), 0.0001)).toBe(0.0001);
  expect(lastDigitOf([3.7], 0.001)).toBe(0.001);
});

test('decimals as written, dust of binary fractions aside', () => {
  expect(writtenDigitOf([0.1 + 0.2, 1.25])).toBeCloseTo(0.01, 12);
  expect(writtenDigitOf([2, 3])).toBe(1);
});

test('watched one by one: a jump alone is no digit, the smallest change seen three times is', () => {
  const watch = createDigitWatch();
  [3.9, 3.9, 3.9, 3.84].forEach(watch.push);
  expect(watch.digit()).toBeCloseTo(0.001, 12);
  [3.82, 3.8, 3.82, 3.8].forEach(watch.push);
  expect(watch.digit()).toBeCloseTo(0.02, 9);
  expect(createDigitWatch(0.05).digit()).toBe(0.05);
});
