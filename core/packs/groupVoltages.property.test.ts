import fc from 'fast-check';
import { presetRules } from '../chemistry/houseRules';
import { openCircuitOf } from '../chemistry/openCircuit';
import { judgeGroups } from './groupVoltages';

const rules = presetRules('workshop');
const millivolts = fc.array(fc.integer({ min: 2900, max: 4200 }), { minLength: 2, maxLength: 14 });
const judge = (groups: number[], terminalVoltageV: number | null = null) =>
  judgeGroups(
    {
      chemistry: 'li-ion',
      curve: openCircuitOf('li-ion'),
      state: 'rest',
      groups: groups.map((mv) => ({ voltageV: mv / 1000, stepV: 0.001 })),
      terminal: terminalVoltageV === null ? null : { voltageV: terminalVoltageV, stepV: 0.001 },
    },
    rules,
  );

test('the order of the groups changes neither spread nor verdict', () => {
  fc.assert(
    fc.property(millivolts, (groups) => {
      const [there, back] = [judge(groups), judge([...groups].reverse())];
      expect(back.spreadV).toEqual(there.spreadV);
      expect(back.level).toBe(there.level);
      expect(back.groups.map((group) => group.odd).reverse()).toEqual(there.groups.map((group) => group.odd));
    }),
  );
});

test('the spread is that of the extremes, and half of the groups lie on either side of the median', () => {
  fc.assert(
    fc.property(millivolts, (groups) => {
      const judgement = judge(groups);
      expect(judgement.spreadV.value).toBeCloseTo((Math.max(...groups) - Math.min(...groups)) / 1000, 9);
      const above = judgement.groups.filter((group) => group.deviationV > 1e-9).length;
      const below = judgement.groups.filter((group) => group.deviationV < -1e-9).length;
      expect(above).toBeLessThanOrEqual(groups.length / 2);
      expect(below).toBeLessThanOrEqual(groups.length / 2);
    }),
  );
});

test('a wider spread is never judged milder', () => {
  const order = ['excellent', 'good', 'uneven', 'attention', 'out-of-service'];
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 400 }), fc.integer({ min: 0, max: 100 }), (imbalance, more) => {
      const level = (mv: number) => order.indexOf(judge([3900, 3900 - mv]).level);
      expect(level(imbalance + more)).toBeGreaterThanOrEqual(level(imbalance));
    }),
  );
});

test('terminals equal to the sum always agree, terminals far off never do', () => {
  fc.assert(
    fc.property(millivolts, (groups) => {
      const sum = groups.reduce((total, mv) => total + mv, 0) / 1000;
      expect(judge(groups, sum).sumCheck?.agrees).toBe(true);
      expect(judge(groups, sum + 0.02 * groups.length).sumCheck?.agrees).toBe(false);
    }),
  );
});

test('a healthy pack says one thing, and nothing urgent', () => {
  fc.assert(
    fc.property(fc.integer({ min: 3300, max: 4150 }), fc.integer({ min: 2, max: 14 }), (level, series) => {
      const { says } = judge(Array.from({ length: series }, (_, i) => level + (i % 3)));
      expect(says).toHaveLength(1);
      expect(says[0]?.urgent).toBe(false);
    }),
  );
});
