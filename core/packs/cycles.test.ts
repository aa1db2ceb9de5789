import { cyclesAt, cyclesNow } from './cycles';

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

test('between two counts the days share the cycles; before the first nothing is known', () => {
  const counts = [
    { count: 0, at: at(1) },
    { count: 40, at: at(11) },
  ];
  expect(cyclesAt(counts, [at(4)], at(6))).toBe(20);
  expect(cyclesAt(counts, [at(4), at(12), at(20)], at(15))).toBe(41);
  expect(cyclesAt(counts.slice(1), [], at(6))).toBeNull();
  expect(cyclesAt([], [], at(6))).toBeNull();
});
