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
    expect(upperBoundAh(capacities, series, parallel)).toBeCloseTo(expected, 9);
  });
});
