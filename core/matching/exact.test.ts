import { seededChance } from '../statistics/random';
import { blocksOf, type MatchCell } from './blocks';
import { upperBoundAh } from './bound';
import { searchAbove } from './exact';
import { copyOf, exchange, longestFirst, shake, weakest } from './exchange';

const cells = (capacities: number[], bonds: Record<number, string> = {}): MatchCell[] =>
  capacities.map((capacityAh, i) => ({
    id: `c${i}`,
    capacityAh,
    resistanceOhm: 0.05,
    ...(bonds[i] ? { bond: bonds[i] } : {}),
  }));
const idsOf = (groups: { cells: readonly { id: string }[] }[][]) =>
  groups.map((group) => group.flatMap((block) => block.cells.map((cell) => cell.id)).sort()).sort();

describe('searchAbove', () => {
  const blocks = blocksOf(cells([5, 4, 3, 2, 1]), 2, 2);

  test('finds an arrangement above the floor and none above the best', () => {
    const found = searchAbove(blocks, 2, 2, 6.9);
    expect(found).not.toBe('unknown');
    expect(idsOf(found as Exclude<typeof found, 'unknown' | null>)).toEqual([
      ['c0', 'c3'],
      ['c1', 'c2'],
    ]);
    expect(searchAbove(blocks, 2, 2, 7)).toBeNull();
  });

  test('keeps bonds', () => {
    const bonded = blocksOf(cells([5, 4, 3, 2], { 0: 'w', 1: 'w' }), 2, 2);
    expect(idsOf(searchAbove(bonded, 2, 2, 4.9) as never)).toEqual([
      ['c0', 'c1'],
      ['c2', 'c3'],
    ]);
    expect(searchAbove(bonded, 2, 2, 5)).toBeNull();
  });

  test('says so when it gives up', () => {
    const chance = seededChance(3);
    const many = blocksOf(cells(Array.from({ length: 60 }, () => 2 + chance.uniform())), 6, 8);
    expect(searchAbove(many, 6, 8, upperBoundAh(many, 6, 8) * (1 - 1e-12))).toBe('unknown');
  });
});

describe('exchange', () => {
  const chance = seededChance(11);
  const blocks = blocksOf(cells(Array.from({ length: 40 }, () => 1 + chance.uniform())), 5, 6);

  test('never weakens the weakest group, and its sums are those of its groups', () => {
    const start = longestFirst(blocks, 5, 6);
    const before = Math.min(...start.sums);
    exchange(start);
    expect(Math.min(...start.sums)).toBeGreaterThanOrEqual(before);
    start.groups.forEach((group, i) =>
      expect(start.sums[i]).toBeCloseTo(
        group.reduce((sum, block) => sum + block.capacityAh, 0),
        9,
      ),
    );
    expect(weakest(start.sums)).toBe(start.sums.indexOf(Math.min(...start.sums)));
  });

  test('a shake keeps every cell and every group size', () => {
    const start = longestFirst(blocks, 5, 6);
    const shaken = copyOf(start);
    shake(shaken, seededChance(5), 20);
    expect(shaken.groups.map((group) => group.length)).toEqual([6, 6, 6, 6, 6]);
    expect(idsOf([shaken.groups.flat()])).toEqual(idsOf([start.groups.flat()]));
    expect(shaken.sums.reduce((a, b) => a + b)).toBeCloseTo(
      start.sums.reduce((a, b) => a + b),
      9,
    );
  });

  test('a strong single left over replaces a weak one', () => {
    const arrangement = {
      groups: blocksOf(cells([1, 2]), 2, 1).map((block) => [block]),
      sums: [2, 1],
      left: blocksOf(cells([9, 9, 3]), 1, 1).slice(2),
    };
    exchange(arrangement);
    expect(arrangement.sums.sort()).toEqual([2, 3]);
  });
});

describe('published: longest-first list scheduling (Graham 1969)', () => {
  /** Jobs as capacities; the heaviest bay against the best possible. */
  const jobs = [7, 7, 6, 6, 5, 5, 4, 4, 4];

  test('the tight instance for four bays ends at 15 where 12 is possible: within 4/3 − 1/12', () => {
    const bays = [0, 0, 0, 0];
    for (const job of jobs) bays[bays.indexOf(Math.min(...bays))] = Math.min(...bays) + job;
    expect(Math.max(...bays)).toBe(15);
    expect(15 / 12).toBeLessThanOrEqual(4 / 3 - 1 / 12);
  });

  test('three bays of three equal groups are found by the exact search', () => {
    const blocks = blocksOf(cells(jobs), 3, 3);
    expect(searchAbove(blocks, 3, 3, 15.9)).not.toBeNull();
    expect(searchAbove(blocks, 3, 3, 16)).toBeNull();
  });
});
