import { presetRules } from '../chemistry/houseRules';
import { seededChance } from '../statistics/random';
import { judgeGroupResistances } from './groupResistances';

const rules = presetRules('workshop');
const nothingBefore = { whole: null, first: new Map(), asNewOhm: null };
const judge = (milliohms: number[], more = {}) =>
  judgeGroupResistances(
    {
      groups: milliohms.map((value, i) => ({ position: i + 1, resistance: { value: value / 1000, u: 0.0001 } })),
      series: milliohms.length,
      ...nothingBefore,
      ...more,
    },
    rules,
  );
const levels = (milliohms: number[]) => judge(milliohms).groups.map(({ level }) => level);

test.each([
  // Common practice: the trade's own worked values.
  [
    [6, 6, 8, 22],
    ['even', 'even', 'even', 'failing'],
  ],
  [
    [13.7, 18, 15.4],
    ['even', 'watch', 'even'],
  ],
  [
    [8.4, 9.3, 9.0],
    ['even', 'even', 'even'],
  ],
  // Small packs: of two the higher is the worse one, and one alone says nothing.
  [
    [7, 14],
    ['even', 'failing'],
  ],
  [
    [7, 8.4],
    ['even', 'watch'],
  ],
  [[31], ['even']],
  // Only a high resistance is a fault.
  [
    [9, 9, 4, 9, 9],
    ['even', 'even', 'even', 'even', 'even'],
  ],
] as const)('%p', (milliohms, expected) => {
  expect(levels([...milliohms])).toEqual(expected);
});

test('the sum stands beside the groups, and is compared with the whole; common practice: 26.7 mΩ', () => {
  const { sum, perGroup, sumAgrees, says } = judge([8.4, 9.3, 9.0], { whole: { value: 0.0266, u: 0.0001 } });
  expect(sum?.value).toBeCloseTo(0.0267, 9);
  expect(perGroup?.value).toBeCloseTo(0.0266 / 3, 9);
  expect(sumAgrees).toBe(true);
  expect(says.map(({ code }) => code)).toEqual(['groups-even']);
  const off = judge([8.4, 9.3, 9.0], { whole: { value: 0.0312, u: 0.0001 } });
  expect([off.sumAgrees, off.says[0]?.code]).toEqual([false, 'whole-not-sum']);
  expect(judge([8.4, 9.3, 9.0]).sumAgrees).toBeNull();
});

test('a group alone, probed or of a larger pack, has no sum; the whole alone has a mean', () => {
  const one = judgeGroupResistances(
    { groups: [{ position: 2, resistance: { value: 0.009, u: 0.0002 } }], series: 3, ...nothingBefore },
    rules,
  );
  expect(one).toMatchObject({ sum: null, perGroup: null, sumAgrees: null, says: [] });
  const whole = judgeGroupResistances(
    { groups: [], series: 4, ...nothingBefore, whole: { value: 0.0436, u: 0.0011 } },
    rules,
  );
  // Common practice: 43.6 mΩ over four cells is 10.9 mΩ a cell.
  expect(whole.perGroup?.value).toBeCloseTo(0.0109, 9);
  expect(whole).toMatchObject({ medianOhm: null, says: [] });
});

test('a rise against its own past is said only beyond the doubt of both figures', () => {
  const at = new Date('2026-01-10');
  const past = (u: number) => new Map([1, 2, 3].map((i) => [i, { resistance: { value: 0.006, u }, at }]));
  const risen = judge([8.4, 6.2, 6.1], { first: past(0.0001) });
  expect(risen.says).toContainEqual(
    expect.objectContaining({ code: 'risen', positions: [1], times: expect.closeTo(1.4, 9) }),
  );
  expect(risen.groups[1]?.sinceFirst?.times.value).toBeCloseTo(1.0333, 3);
  const suspects = judge([8.4, 6.2, 6.1], { first: past(0.002) });
  expect(suspects.says.map(({ code }) => code)).not.toContain('risen');
});

test('when new it had others: which groups are how far from that', () => {
  const { says, groups } = judge([9.1, 12.5, 9.2], { asNewOhm: [0.009, 0.0092, 0.0091] });
  expect(groups.map(({ sinceNew }) => sinceNew?.toFixed(2))).toEqual(['1.01', '1.36', '1.01']);
  expect(says.map(({ code }) => code)).toEqual(['group-watch', 'risen-since-new']);
});

test('the most urgent comes first, and only a failing group is urgent', () => {
  const { says } = judge([6, 7.2, 6, 12, 6]);
  expect(says.map(({ code, urgent }) => [code, urgent])).toEqual([
    ['group-failing', true],
    ['group-watch', false],
  ]);
});

test('packs of sound groups, 3 % apart, raise a warning less than once in fifty, and never more', () => {
  const chance = seededChance(31);
  let warned = 0;
  for (let i = 0; i < 2000; i += 1) {
    const { groups } = judge(Array.from({ length: 2 + (i % 9) }, () => 9 * (1 + chance.normal(0, 0.03))));
    expect(groups.every(({ level }) => level !== 'failing')).toBe(true);
    if (groups.some(({ level }) => level === 'watch')) warned += 1;
  }
  expect(warned).toBeLessThan(40);
});

test('a resistance that is none is refused', () => {
  expect(() => judge([8.4, 0, 9])).toThrow('resistance-not-above-zero');
});
