import fc from 'fast-check';
import { groupedBy } from '../grouped';
import type { MatchCell } from './blocks';
import { matchCells } from './match';

interface MatchCase {
  series: number;
  parallel: number;
  cells: MatchCell[];
  pins: { cell: string; group?: number }[];
  modelsInPack: number | undefined;
}

/** The strongest weakest group with bonds, pins and models kept, by trying every arrangement; null: there is none. */
function bestByTrying({ series, parallel, cells, pins, modelsInPack }: MatchCase): number | null {
  const blocks = [...groupedBy(cells, ({ id, bond }) => bond ?? id).values()];
  const groups = Array.from({ length: series }, (): MatchCell[] => []);
  const isKept = (): boolean =>
    pins.every(({ cell, group }) =>
      groups.some((some, g) => (group === undefined || group === g + 1) && some.some(({ id }) => id === cell)),
    );
  const isOfModels = (): boolean =>
    modelsInPack === undefined ||
    (groups.every((some) => new Set(some.map(({ model }) => model)).size === 1) &&
      new Set(groups.flat().map(({ model }) => model)).size <= modelsInPack);
  let best: number | null = null;
  const place = (i: number): void => {
    const block = blocks[i];
    if (!block) {
      if (groups.some((some) => some.length !== parallel) || !isKept() || !isOfModels()) return;
      const weakest = Math.min(...groups.map((some) => some.reduce((sum, { capacityAh }) => sum + capacityAh, 0)));
      best = Math.max(best ?? 0, weakest);
      return;
    }
    for (const group of groups)
      if (group.length + block.length <= parallel) {
        group.push(...block);
        place(i + 1);
        group.splice(group.length - block.length);
      }
    place(i + 1);
  };
  place(0);
  return best;
}

const request = fc
  .record({
    shape: fc.constantFrom([2, 2], [3, 2], [2, 3]),
    ah: fc.array(fc.integer({ min: 1000, max: 3500 }), { minLength: 6, maxLength: 8 }),
    ofB: fc.nat({ max: 4 }),
    bonded: fc.array(fc.nat({ max: 7 }), { maxLength: 2 }),
    pinned: fc.array(fc.record({ at: fc.nat({ max: 7 }), group: fc.option(fc.integer({ min: 1, max: 2 })) }), {
      maxLength: 3,
    }),
    modelsInPack: fc.constantFrom(undefined, 1, 2),
  })
  .map(({ shape: [series = 2, parallel = 2], ah, ofB, bonded, pinned, modelsInPack }): MatchCase => {
    const modelAt = (i: number): string => (i < ofB ? 'b' : 'a');
    const cells = ah.map((mAh, i): MatchCell => {
      const pair = bonded.findIndex((at) => (i === at || i === at + 1) && modelAt(at) === modelAt(at + 1));
      // A cell between two pairs belongs to the first of them.
      return {
        id: `c${i}`,
        capacityAh: mAh / 1000,
        resistanceOhm: 0.04,
        model: modelAt(i),
        ...(pair < 0 ? {} : { bond: `w${pair}` }),
      };
    });
    const pins = pinned
      .filter(({ at }, i) => at < cells.length && pinned.findIndex((one) => one.at === at) === i)
      .map(({ at, group }) => ({
        cell: `c${at}`,
        ...(group !== null && modelsInPack === undefined ? { group } : {}),
      }));
    return { series, parallel, cells, pins, modelsInPack };
  });

test('bonds, pins and models together: as good as the best of all arrangements, and refused only where there is none', () => {
  fc.assert(
    fc.property(request, (request) => {
      const { modelsInPack } = request;
      const best = bestByTrying(request);
      const matched = () =>
        matchCells({ ...request, limits: modelsInPack === undefined ? undefined : { modelsInPack } });
      if (best === null) {
        expect(matched).toThrow();
        return;
      }
      const match = matched();
      expect(match.possibleAh).toBeCloseTo(best, 9);
      expect(match.packCapacityAh).toBeCloseTo(best, 9);
      expect(match.upperBoundAh).toBeGreaterThanOrEqual(best - 1e-9);
      expect(match.proven).toBe(true);
      for (const { cell, group } of request.pins) {
        const at = match.groups.findIndex(({ cells }) => cells.some(({ id }) => id === cell));
        expect(at).toBe(group === undefined ? Math.max(0, at) : group - 1);
      }
    }),
    { numRuns: 150 },
  );
});

test('a pinned pair of weak cells is given strong neighbours where its model has some', () => {
  const cell = (id: string, capacityAh: number, model: string): MatchCell => ({
    id,
    capacityAh,
    resistanceOhm: 0.04,
    model,
  });
  // One group of b is the pinned pair alone, 3.0 Ah; two groups mix each with a strong cell.
  const cells = [
    cell('b1', 1.5, 'b'),
    cell('b2', 1.5, 'b'),
    cell('b3', 3, 'b'),
    cell('b4', 3, 'b'),
    ...['a1', 'a2', 'a3', 'a4'].map((id) => cell(id, 2.4, 'a')),
  ];
  const pins = [{ cell: 'b1' }, { cell: 'b2' }];
  const match = matchCells({ series: 3, parallel: 2, cells, pins, limits: { modelsInPack: 2 } });
  expect(match.packCapacityAh).toBeCloseTo(4.5, 9);
});

test('two pinned cells share a group where a bonded pair needs the other', () => {
  const cells = [3, 2.9, 2.8, 2.7].map((capacityAh, i): MatchCell => ({
    id: `c${i}`,
    capacityAh,
    resistanceOhm: 0.04,
    ...(i > 1 ? { bond: 'w' } : {}),
  }));
  const match = matchCells({ series: 2, parallel: 2, cells, pins: [{ cell: 'c0' }, { cell: 'c1' }] });
  expect(match.packCapacityAh).toBeCloseTo(5.5, 9);
});
