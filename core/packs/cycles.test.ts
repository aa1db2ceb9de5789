import { cyclesNow } from './cycles';

const at = (day: number, hour = 12) => new Date(Date.UTC(2026, 4, day, hour));

test('every charge noted since the count adds one; two readings of one charge are one', () => {
  const noted = { count: 31, at: at(3) };
  expect(cyclesNow(noted, [])).toBe(31);
  expect(cyclesNow(noted, [at(1), at(4, 10), at(4, 11), at(9)])).toBe(33);
  expect(cyclesNow(noted, [at(9), at(4, 11), at(4, 10), at(4, 18)])).toBe(34);
});

test('where no count was noted the charges alone tell; with neither nothing is known', () => {
  expect(cyclesNow(null, [at(1), at(2)])).toBe(2);
  expect(cyclesNow(null, [])).toBeNull();
});
