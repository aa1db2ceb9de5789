import { refusalOf } from '@/words/impossible';
import fc from 'fast-check';
import { seededChance } from '../statistics/random';
import { upperBoundAh } from './bound';
import { type MatchCell, matchCells } from './match';

const cell = (id: string, capacityAh: number, more: Partial<MatchCell> = {}): MatchCell => ({
  id,
  capacityAh,
  resistanceOhm: 0.05,
  ...more,
});
const ids = (cells: readonly { id: string }[]) => cells.map(({ id }) => id);

function randomCells(count: number, seed: number): MatchCell[] {
  const chance = seededChance(seed);
  return Array.from({ length: count }, (_, i) =>
    cell(`c${i}`, 1.5 + chance.uniform(), { resistanceOhm: 0.03 + 0.03 * chance.uniform() }),
  );
}

/** Every way to deal the cells into groups, for sets small enough. */
function bestByTrial(capacities: number[], series: number, parallel: number): number {
  const sums = new Array<number>(series).fill(0);
  const counts = new Array<number>(series).fill(0);
  const deal = (i: number): number => {
    if (i === capacities.length) return counts.every((count) => count === parallel) ? Math.min(...sums) : -Infinity;
    let best = deal(i + 1);
    for (let g = 0; g < series; g++) {
      if ((counts[g] as number) >= parallel) continue;
      counts[g] = (counts[g] as number) + 1;
      sums[g] = (sums[g] as number) + (capacities[i] as number);
      best = Math.max(best, deal(i + 1));
      counts[g] = (counts[g] as number) - 1;
      sums[g] = (sums[g] as number) - (capacities[i] as number);
      if (counts[g] === 0) break;
    }
    return best;
  };
  return deal(0);
}

describe('against trying every arrangement', () => {
  test.each([
    [2, 2, 6, 1],
    [2, 3, 8, 2],
    [3, 2, 8, 3],
    [3, 3, 9, 4],
    [4, 2, 9, 5],
  ])('%d × %d from %d cells', (series, parallel, count, seed) => {
    const cells = randomCells(count, seed);
    const match = matchCells({ series, parallel, cells });
    expect(match.packCapacityAh).toBeCloseTo(
      bestByTrial(
        cells.map((one) => one.capacityAh),
        series,
        parallel,
      ),
      9,
    );
    expect(match.proven).toBe(true);
  });
});

test('every match is a partition below a bound that trying everything never exceeds', () => {
  const capacity = fc.double({ min: 0.2, max: 4, noNaN: true });
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 3 }),
      fc.integer({ min: 1, max: 2 }),
      fc.array(capacity, { minLength: 6, maxLength: 8 }),
      (series, parallel, capacities) => {
        const match = matchCells({ series, parallel, cells: capacities.map((value, i) => cell(`c${i}`, value)) });
        const placed = match.groups.flatMap((group) => ids(group.cells));
        expect([...placed, ...ids(match.left)].sort()).toEqual(capacities.map((_, i) => `c${i}`).sort());
        expect(match.groups.every((group) => group.cells.length === parallel)).toBe(true);
        expect(bestByTrial(capacities, series, parallel)).toBeLessThanOrEqual(
          upperBoundAh(capacities, series, parallel) + 1e-9,
        );
        expect(match.gap).toBeLessThan(1);
      },
    ),
    { numRuns: 60 },
  );
});

test('one giant does not lift the bound', () => {
  expect(upperBoundAh([10, 2, 2, 2], 2, 2)).toBe(4);
});

test('a large pack comes within a thousandth of the bound, and the same again', () => {
  const cells = randomCells(80, 7);
  const match = matchCells({ series: 10, parallel: 6, cells });
  expect(match.gap).toBeLessThan(1e-3);
  expect(matchCells({ series: 10, parallel: 6, cells })).toEqual(match);
});

describe('bonds', () => {
  test('a bonded pair stays in one group', () => {
    const cells = [
      cell('a', 2.4, { bond: 'w1' }),
      cell('b', 1.4, { bond: 'w1' }),
      cell('c', 2),
      cell('d', 1.8),
      cell('e', 1),
    ];
    const match = matchCells({ series: 2, parallel: 2, cells });
    expect(match.groups.map((group) => ids(group.cells)).sort()).toEqual([
      ['a', 'b'],
      ['c', 'd'],
    ]);
  });

  test('weak bonded pairs do not push strong single cells out', () => {
    const cells = [
      cell('a', 1, { bond: 'w1' }),
      cell('b', 1, { bond: 'w1' }),
      ...[1, 2, 3, 4, 5, 6].map((i) => cell(`s${i}`, 2)),
    ];
    expect(ids(matchCells({ series: 3, parallel: 2, cells }).left)).toEqual(['a', 'b']);
  });

  test('a bond larger than a group is refused by name', () => {
    const cells = ['a', 'b', 'c'].map((id) => cell(id, 2, { bond: 'w9' })).concat([cell('d', 2)]);
    expect(refusalOf(() => matchCells({ series: 2, parallel: 2, cells }))).toContain('Bond w9 holds 3 cells');
  });

  test('bonds that cannot fill the groups are refused', () => {
    const cells = [1, 2, 3].flatMap((n) => ['a', 'b'].map((id) => cell(`${id}${n}`, 2, { bond: `w${n}` })));
    expect(refusalOf(() => matchCells({ series: 2, parallel: 3, cells }))).toContain('do not fit');
  });
});

test('with a capacity that is enough, the strongest cells are spared', () => {
  const cells = [...[1, 2, 3, 4].map((i) => cell(`strong${i}`, 3)), ...[1, 2, 3, 4].map((i) => cell(`plain${i}`, 2))];
  const match = matchCells({ series: 2, parallel: 2, cells, enoughAh: 3.9 });
  expect(match.packCapacityAh).toBe(4);
  expect(ids(match.left)).toEqual(['strong1', 'strong2', 'strong3', 'strong4']);
  expect(matchCells({ series: 2, parallel: 2, cells, enoughAh: 9 }).packCapacityAh).toBe(6);
});

test('it says what to see to before joining', () => {
  const cells = [cell('a', 2, { voltageV: 3.7 }), cell('b', 2, { voltageV: 3.76, resistanceOhm: 0.1 })];
  const match = matchCells({ series: 1, parallel: 2, cells, joinWithinV: 0.015 });
  expect(match.warnings.map((warning) => warning.code)).toEqual(['sharing-uneven', 'voltages-apart']);
  expect(match.groups[0]?.resistanceOhm).toBeCloseTo(1 / 30, 9);
});

test.each([
  [{ series: 2, parallel: 2, cells: [cell('a', 2)] }, 'need 4 cells; only 1 is given'],
  [{ series: 1, parallel: 2, cells: [cell('a', 2), cell('a', 2)] }, 'Cell a is given twice'],
  [{ series: 1, parallel: 1, cells: [cell('a', 0)] }, 'Cell a needs a capacity'],
  [{ series: 0, parallel: 1, cells: [cell('a', 1)] }, 'In series'],
])('bad requests are refused: %#', (request, message) => {
  expect(refusalOf(() => matchCells(request))).toContain(message);
});
