import { endNames } from './lineEnds';

const ends = (...values: number[]) => values.map((value, i) => ({ name: String(i + 1), value }));

test('lines that end beside each other are named together, at the first of them; every line is named', () => {
  expect(endNames(ends(3.7, 3, 3.71, 3.69), 0.05)).toEqual(['1, 3, 4', '2', '', '']);
  expect(endNames(ends(1, 2, 3), 0.5)).toEqual(['1', '2', '3']);
  // Each is beside the next, though the first is not beside the last.
  expect(endNames(ends(1, 1.4, 1.8), 0.5)).toEqual(['1, 2, 3', '', '']);
  expect(endNames(ends(1, 1, 1, 1, 1), 0.5)).toEqual(['5 groups', '', '', '', '']);
  expect(endNames([], 1)).toEqual([]);
});
