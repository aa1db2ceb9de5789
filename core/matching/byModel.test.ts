import fc from 'fast-check';
import type { MatchCell } from './blocks';
import { builtOtherwise } from './compare';
import { matchCells } from './match';

const cellsOf = (model: string, capacities: readonly number[]): MatchCell[] =>
  capacities.map((capacityAh, i) => ({ id: `${model}${i}`, capacityAh, resistanceOhm: 0.04, model }));

const modelsIn = (cells: readonly MatchCell[]): number => new Set(cells.map(({ model }) => model)).size;

/** The strongest weakest group of every way to fill groups of one model each: by trying all of them. */
function bestOf(cells: readonly MatchCell[], series: number, parallel: number, mostModels: number): number {
  let best = 0;
  const groups = Array.from({ length: series }, (): MatchCell[] => []);
  const place = (i: number): void => {
    if (groups.every((group) => group.length === parallel)) {
      const used = new Set(groups.map((group) => group[0]?.model));
      const weakest = Math.min(...groups.map((group) => group.reduce((sum, cell) => sum + cell.capacityAh, 0)));
      if (used.size <= mostModels) best = Math.max(best, weakest);
      return;
    }
    const cell = cells[i];
    if (!cell) return;
    for (const group of groups) {
      if (group.length < parallel && (group.length === 0 || group[0]?.model === cell.model)) {
        group.push(cell);
        place(i + 1);
        group.pop();
      }
      if (group.length === 0) break;
    }
    place(i + 1);
  };
  place(0);
  return best;
}

test('groups of one model each: as good as the best of all ways, of no more models than allowed, and never above the bound', () => {
  const capacity = fc.integer({ min: 1500, max: 3500 }).map((mAh) => mAh / 1000);
  const shelf = fc.tuple(
    fc.array(capacity, { minLength: 2, maxLength: 5 }),
    fc.array(capacity, { minLength: 2, maxLength: 4 }),
  );
  fc.assert(
    fc.property(shelf, fc.integer({ min: 1, max: 2 }), ([some, others], modelsInPack) => {
      const cells = [...cellsOf('a', some), ...cellsOf('b', others)];
      const best = bestOf(cells, 2, 2, modelsInPack);
      const request = { series: 2, parallel: 2, cells, limits: { modelsInPack } };
      if (best === 0) {
        expect(() => matchCells(request)).toThrow();
        return;
      }
      const match = matchCells(request);
      expect(match.packCapacityAh).toBeCloseTo(best, 9);
      expect(match.upperBoundAh).toBeGreaterThanOrEqual(best - 1e-9);
      expect(match.proven).toBe(true);
      expect(match.groups.every((group) => modelsIn(group.cells) === 1)).toBe(true);
      expect(modelsIn(match.groups.flatMap((group) => group.cells))).toBeLessThanOrEqual(modelsInPack);
      expect(match.left).toHaveLength(cells.length - 4);
    }),
    { numRuns: 60 },
  );
});

test('a large shelf: each model makes as many groups as keep the weakest strong, close to the bound', () => {
  const cells = ['a', 'b', 'c'].flatMap((model, m) =>
    cellsOf(
      model,
      Array.from({ length: 40 }, (_, i) => 3 - 0.02 * m + ((i * 37) % 40) / 200),
    ),
  );
  const one = matchCells({ series: 8, parallel: 5, cells, limits: { modelsInPack: 1 } });
  const two = matchCells({ series: 8, parallel: 5, cells, limits: { modelsInPack: 2 } });
  expect(two.packCapacityAh).toBeGreaterThan(one.packCapacityAh);
  expect(two.gap).toBeLessThan(1e-4);
  expect(two.groups.every((group) => modelsIn(group.cells) === 1)).toBe(true);
});

test('of a model that makes no group none comes in, however strong', () => {
  const cells = [...cellsOf('a', [2, 2, 2, 2]), ...cellsOf('b', [9])];
  const match = matchCells({ series: 2, parallel: 2, cells, limits: { modelsInPack: 2 } });
  expect(match).toMatchObject({ packCapacityAh: 4, proven: true, left: [{ id: 'b0' }] });
});

test('pins are kept, each in a group of its own model; for one group, or across a bond, it is refused', () => {
  const cells = [...cellsOf('a', [3, 3, 3, 3, 3, 3]), ...cellsOf('b', [2, 2, 2])];
  const request = { series: 2, parallel: 2, cells, limits: { modelsInPack: 2 } };
  const match = matchCells({ ...request, pins: [{ cell: 'b1' }] });
  expect(match.groups.some((group) => group.cells.some(({ id }) => id === 'b1'))).toBe(true);
  expect(match.packCapacityAh).toBe(4);
  const refusal = (more: object): unknown => {
    try {
      return matchCells({ ...request, ...more });
    } catch (error) {
      return (error as { why?: { code: string } }).why?.code;
    }
  };
  expect(refusal({ pins: [{ cell: 'b1', group: 1 }] })).toBe('pins-by-group');
  expect(refusal({ cells: cells.map((cell, i) => (i > 4 && i < 7 ? { ...cell, bond: 'w' } : cell)) })).toBe(
    'bond-of-models',
  );
  expect(refusal({ series: 5 })).toBe('too-few-of-a-model');
  // Of one model there are enough for two, but not with the other pinned.
  expect(refusal({ pins: [{ cell: 'b1' }], limits: { modelsInPack: 1 } })).toBe('too-few-of-a-model');
});

test('what else would have come of them is of the same models, and of groups of one each', () => {
  const cells = [...cellsOf('a', [3, 2.9, 2.8]), ...cellsOf('b', [2.7, 2.6, 2.5]), ...cellsOf('c', [1, 1])];
  const request = { series: 2, parallel: 2, cells, limits: { modelsInPack: 2 } };
  const otherwise = builtOtherwise(request, matchCells(request));
  expect(otherwise.labelOrderAh).toBeCloseTo(5.3, 9);
  expect(otherwise.randomAh).toBeGreaterThan(5);
});

test('limits of the house say where groups lie apart, and where a hand put two models side by side', () => {
  const [strong, weak] = [cellsOf('a', [3, 3]), cellsOf('a', [2.7, 2.7])];
  const cells = [...strong, ...weak].map((cell, i) => ({ ...cell, id: String(i) }));
  const match = matchCells({ series: 2, parallel: 1, cells: cells.slice(1, 3), limits: { groupsApartShare: 0.05 } });
  expect(match.warnings).toEqual([{ code: 'groups-apart', weakest: 2, apartFraction: 3 / 2.7 - 1 }]);
});
