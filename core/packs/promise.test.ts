import { presetRules } from '../chemistry/houseRules';
import { seededChance } from '../statistics/random';
import { firstOfTheseCells, heldAgainstPromise } from './promise';

const rules = presetRules('workshop');
const read = (ohms: number[]) => ({
  groups: ohms.map((value, i) => ({
    position: i + 1,
    resistance: { value, u: 0.0001 },
    digitU: 0,
    timesMedian: null,
    level: 'even' as const,
    sinceFirst: null,
    sinceNew: null,
  })),
});

test('by another method everything is higher; only the joint that adds its own stands out', () => {
  const held = heldAgainstPromise([0.02, 0.021, 0.02, 0.022], read([0.031, 0.0325, 0.041, 0.034]), rules);
  expect(held?.map(({ isOdd }) => isOdd)).toEqual([false, false, true, false]);
  // The others have 1.545 to 1.55 times their promise, it has 2.05.
  expect(held?.[2]?.beyond).toBeCloseTo(2.05 / ((31 / 20 + 32.5 / 21) / 2), 9);
  // Of two the better one shows what is usual.
  expect(heldAgainstPromise([0.02, 0.02], read([0.03, 0.036]), rules)?.map(({ isOdd }) => isOdd)).toEqual([
    false,
    true,
  ]);
});

test('after a mend the first full reading since counts, not the oldest', () => {
  const on = (day: number, groups: number) => ({
    takenAt: new Date(2026, 2, day),
    groups: read(Array(groups).fill(0.03)).groups,
  });
  const times = [on(9, 3), on(7, 3), on(6, 2), on(2, 3)];
  expect(firstOfTheseCells(times, 3, [])).toBe(times[3]);
  expect(firstOfTheseCells(times, 3, [{ at: new Date(2026, 2, 5) }, { at: new Date(2026, 2, 1) }])).toBe(times[1]);
  expect(firstOfTheseCells(times, 3, [{ at: new Date(2026, 2, 10) }])).toBeNull();
});

test('what is not known is not judged', () => {
  expect(heldAgainstPromise([0.02, null], read([0.03, 0.03]), rules)).toBeNull();
  expect(heldAgainstPromise([0.02, 0.02], read([0.03]), rules)).toBeNull();
  expect(heldAgainstPromise([0.02], read([0.03]), rules)).toBeNull();
});

test('well joined packs, read to 2 %, are called odd less than once in a hundred', () => {
  const chance = seededChance(77);
  let odd = 0;
  for (let i = 0; i < 1000; i += 1) {
    const promised = Array.from({ length: 4 }, () => 0.02 * (1 + chance.normal(0, 0.05)));
    const held = heldAgainstPromise(
      promised,
      read(promised.map((ohm) => 1.6 * ohm * (1 + chance.normal(0, 0.02)))),
      rules,
    );
    if (held?.some(({ isOdd }) => isOdd)) odd += 1;
  }
  expect(odd).toBeLessThan(10);
});
