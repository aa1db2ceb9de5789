import { presetRules } from '../chemistry/houseRules';
import { openCircuitOf } from '../chemistry/openCircuit';
import { judgeGroups, type PackState } from '../packs/groupVoltages';
import { afterUseSays, unfitFor } from './fitForUse';

const rules = presetRules('workshop');
const at = (hour: number): Date => new Date(Date.UTC(2026, 4, 2, hour));
const round = (state: PackState, hour: number, volts: readonly number[]) => ({
  takenAt: at(hour),
  judgement: judgeGroups(
    {
      chemistry: 'lipo',
      curve: openCircuitOf('lipo'),
      state,
      groups: volts.map((voltageV) => ({ voltageV, stepV: 0.01 })),
      terminal: null,
    },
    rules,
  ),
});
const sound = {
  intake: { class: 'usable' as const },
  apart: null,
  retiring: null,
  standing: 'steady' as const,
  held: null,
  amongGroups: null,
  rested: null,
  afterUse: null,
  uses: [],
  floorV: 3,
};
const unfit = (change: Partial<Parameters<typeof unfitFor>[0]>) => unfitFor({ ...sound, ...change });

// Common practice: 0.2 V lower than the others after use.
test('a group 0.2 V low after use keeps a pack here, until a round at rest explains it', () => {
  const low = round('after-use', 12, [3.9, 3.9, 3.7, 3.9]);
  expect(unfit({ afterUse: low })).toEqual([
    { code: 'group-low', position: 3, belowV: expect.closeTo(0.2, 6), afterUse: true, at: at(12), rule: 'spreadOutV' },
  ]);
  expect(unfit({ afterUse: low, rested: round('rest', 9, [4.2, 4.2, 4.2, 4.2]) })).toHaveLength(1);
  expect(unfit({ afterUse: low, rested: round('rest', 20, [4.19, 4.19, 4.17, 4.19]) })).toEqual([]);
  expect(unfit({ afterUse: round('after-use', 12, [3.9, 3.9, 3.75, 3.9]) })).toEqual([]);
  expect(afterUseSays([3.9, 3.9, 3.7, 3.9], rules)).toMatchObject({ code: 'not-to-use', position: 3 });
  expect(afterUseSays([3.9, 3.86, null, 3.9], rules)).toMatchObject({ code: 'noted', position: 2 });
  expect(afterUseSays([3.9, 3.89, 3.9], rules)).toEqual({ code: 'even' });
});

test('one that ran below its floor rests and is read first; what ends a pack ends its use', () => {
  const use = { at: at(12), usedAh: 1, durationS: null, lowestV: 2.8, lowestPosition: 2 };
  expect(unfit({ uses: [use] })).toMatchObject([{ code: 'ran-too-low', position: 2, floorV: 3 }]);
  expect(unfit({ uses: [use], rested: round('rest', 14, [3.7, 3.69, 3.7]) })).toEqual([]);
  expect(unfit({ standing: 'retire' })).toEqual([{ code: 'retire' }]);
  expect(unfit({ intake: { class: 'out' } })).toEqual([{ code: 'out' }]);
  expect(unfit({ intake: { class: 'rescue-only' } })).toEqual([{ code: 'rescue-first' }]);
  expect(unfit({ apart: { at: at(1), because: 'worn' } })).toEqual([{ code: 'apart' }]);
  expect(unfit({})).toEqual([]);
});
