import { refusalOf } from '@/words/impossible';
import { blocksOf } from './blocks';
import { upperBoundAh } from './bound';

const cell = (id: string, capacityAh: number, bond?: string) => ({
  id,
  capacityAh,
  resistanceOhm: 0.05,
  ...(bond === undefined ? {} : { bond }),
});

test('bonded cells become one block, strongest per cell first', () => {
  const blocks = blocksOf([cell('a', 1, 'w'), cell('b', 4), cell('c', 5, 'w')], 1, 2);
  expect(blocks.map((block) => [block.cells.map((one) => one.id).join(), block.size, block.capacityAh])).toEqual([
    ['b', 1, 4],
    ['a,c', 2, 6],
  ]);
});

test('equal cells come in the order of their codes', () => {
  expect(blocksOf([cell('z', 2), cell('a', 2), cell('m', 2)], 1, 1).map((block) => block.cells[0]?.id)).toEqual([
    'a',
    'm',
    'z',
  ]);
});

test.each([
  [1.5, 2, 'In series'],
  [2, 0, 'In parallel'],
  [2, 2, 'need 4 cells; only 2 are given'],
])('%d × %d is refused', (series, parallel, words) => {
  expect(refusalOf(() => blocksOf([cell('a', 1), cell('b', 1)], series, parallel))).toContain(words);
});

test('a cell without resistance is refused by name', () => {
  expect(refusalOf(() => blocksOf([{ ...cell('a', 1), resistanceOhm: 0 }], 1, 1))).toContain('Cell a needs');
});

describe('the bound', () => {
  test.each([
    [[2, 2, 2, 2], 2, 2, 4],
    [[3, 3, 1, 1], 2, 2, 4],
    [[9, 1, 1, 1], 4, 1, 1],
    [[4, 3, 2, 1, 1, 1], 1, 2, 7],
    [[10, 10, 2, 2, 2, 2], 3, 2, 4],
  ])('of %j in %d × %d is %d', (capacities, series, parallel, expected) => {
    const singles = capacities.map((capacityAh) => ({ size: 1, capacityAh }));
    expect(upperBoundAh(singles, series, parallel)).toBeCloseTo(expected, 9);
  });

  test('whole bonds are a knapsack: a strong pair that fits no place beside singles is left out as a whole', () => {
    // Two groups of three from a pair and four singles: the pair with one single, or three singles.
    const blocks = [{ size: 2, capacityAh: 9 }, ...[3, 3, 1, 1].map((capacityAh) => ({ size: 1, capacityAh }))];
    expect(upperBoundAh(blocks, 2, 3)).toBe(7);
    // Of three pairs only two fit into two groups of three.
    const pairs = [
      ...[9, 9, 9].map((capacityAh) => ({ size: 2, capacityAh })),
      ...[1, 1].map((capacityAh) => ({ size: 1, capacityAh })),
    ];
    expect(upperBoundAh(pairs, 2, 3)).toBe(10);
    expect(upperBoundAh(pairs.slice(0, 4), 2, 3)).toBe(-Infinity);
  });
});

describe('pins', () => {
  const cells = ['a', 'b', 'c', 'd'].map((id) => cell(id, 2));
  const bonded = cells.map((one) => (one.id < 'c' ? { ...one, bond: 'w' } : one));
  test.each([
    [cells, [{ cell: 'x' }], 'x is pinned but is not among the cells'],
    [cells, [{ cell: 'a', group: 3 }], 'but there are 2'],
    [
      bonded,
      [
        { cell: 'a', group: 1 },
        { cell: 'b', group: 2 },
      ],
      'group 1 and to group 2',
    ],
    [
      cells,
      [
        { cell: 'a', group: 1 },
        { cell: 'b', group: 1 },
        { cell: 'c', group: 1 },
      ],
      '3 cells shall stand where there are 2',
    ],
  ])('that cannot be are refused: %#', (given, pins, words) => {
    expect(refusalOf(() => blocksOf(given, 2, 2, pins))).toContain(words);
  });

  test('more than the pack has places are refused', () => {
    expect(
      refusalOf(() =>
        blocksOf(
          cells,
          1,
          2,
          ['a', 'b', 'c'].map((id) => ({ cell: id })),
        ),
      ),
    ).toContain('let some');
  });
});
