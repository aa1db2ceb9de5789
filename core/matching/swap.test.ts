import { swapped } from './swap';

const placed = {
  groups: [
    ['a', 'b', 'c'],
    ['d', 'e', 'f'],
  ],
  left: ['g', 'h'],
};
const bonds = new Map([
  ['a', 'w1'],
  ['b', 'w1'],
  ['e', 'w2'],
  ['f', 'w2'],
]);

test('two cells change place, each at the other’s, and back again', () => {
  const once = swapped(placed, 'c', 'd', new Map());
  expect(once).toEqual({
    groups: [
      ['a', 'b', 'd'],
      ['c', 'e', 'f'],
    ],
    left: ['g', 'h'],
  });
  expect(swapped(once as typeof placed, 'd', 'c', new Map())).toEqual(placed);
  expect(swapped(placed, 'g', 'c', bonds)).toMatchObject({
    groups: [['a', 'b', 'g'], placed.groups[1]],
    left: ['c', 'h'],
  });
});

test('welded pairs go together, for a pair and for nothing else', () => {
  expect(swapped(placed, 'a', 'f', bonds)).toEqual({
    groups: [
      ['e', 'f', 'c'],
      ['d', 'a', 'b'],
    ],
    left: ['g', 'h'],
  });
  expect(swapped(placed, 'c', 'e', bonds)).toEqual({ code: 'welded', cell: 'e', with: ['f'] });
  expect(swapped(placed, 'b', 'h', bonds)).toEqual({ code: 'welded', cell: 'b', with: ['a'] });
});

test('what is nowhere or in the same group is refused', () => {
  expect(swapped(placed, 'a', 'c', bonds)).toEqual({ code: 'same-place' });
  expect(swapped(placed, 'x', 'c', bonds)).toEqual({ code: 'not-there', cell: 'x' });
});
