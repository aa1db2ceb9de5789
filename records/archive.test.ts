import { inWords } from './archive';

test('counts are of what was filed: an entry with a note is one entry', () => {
  const rows = new Map([
    ['subject', 2],
    ['entry', 13],
    ['note', 7],
    ['run', 1],
  ]);
  expect(inWords(rows)).toBe('2 cells and packs, 13 entries, 1 run');
});

test('a backup of the first versions had a table for each', () => {
  expect(
    inWords(
      new Map([
        ['cell', 3],
        ['pack', 1],
        ['reading', 5],
        ['note', 2],
      ]),
    ),
  ).toBe('4 cells and packs, 7 entries, 0 runs');
});
