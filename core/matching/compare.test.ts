import { seededChance } from '../statistics/random';
import { builtOtherwise } from './compare';
import { matchCells } from './match';

const cell = (id: string, capacityAh: number, bond?: string) => ({ id, capacityAh, resistanceOhm: 0.05, bond });

test('in the order of codes, numbers read as numbers; at random below the match; one better cell brings more', () => {
  const cells = [cell('S-10', 3), cell('S-2', 2), cell('S-1', 1), cell('S-3', 4)];
  const request = { series: 2, parallel: 2, cells };
  const other = builtOtherwise(request, matchCells(request));
  // S-1 and S-2, S-3 and S-10.
  expect(other.labelOrderAh).toBe(3);
  expect(other.randomAh).toBeLessThanOrEqual(5);
  expect(other.betterCell).toEqual({ capacityAh: 4, packAh: 6 });
});

test('the same every time, and never above the match where it is proven', () => {
  const chance = seededChance(8);
  const cells = Array.from({ length: 16 }, (_, i) =>
    cell(`c${i}`, 2 + chance.uniform(), i < 4 ? `w${i >> 1}` : undefined),
  );
  const request = { series: 4, parallel: 3, cells };
  const match = matchCells(request);
  const other = builtOtherwise(request, match);
  expect(builtOtherwise(request, match)).toEqual(other);
  expect(match.proven).toBe(true);
  expect(Math.max(other.labelOrderAh ?? 0, other.randomAh)).toBeLessThan(match.possibleAh);
  expect(other.betterCell.packAh).toBeGreaterThan(match.possibleAh);
});

test('welded cells that do not fall into groups in their order leave that untold', () => {
  const cells = [
    cell('a', 2, 'w'),
    cell('b', 2, 'w'),
    cell('c', 2, 'v'),
    cell('d', 2, 'v'),
    cell('e', 2),
    cell('f', 2),
  ];
  const request = { series: 2, parallel: 3, cells };
  expect(builtOtherwise(request, matchCells(request)).labelOrderAh).toBe(6);
  const odd = { series: 1, parallel: 3, cells: [...cells.slice(0, 4), cell('e', 2)] };
  expect(builtOtherwise(odd, matchCells(odd)).labelOrderAh).toBe(6);
});
