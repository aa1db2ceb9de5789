import { refusalOf } from '@/words/impossible';
import { groupLimitText, packSayingText, sumText } from '@/words/packs';
import { presetRules } from '../chemistry/houseRules';
import { openCircuitOf } from '../chemistry/openCircuit';
import { judgeGroups, type PackState, type PackJudgement } from './groupVoltages';

const rules = presetRules('workshop');
interface Change {
  state?: PackState;
  terminalVoltageV?: number;
  terminalU?: number;
  groupU?: number[];
}
const judge = (
  groupVoltagesV: (number | null)[],
  { state = 'rest', terminalVoltageV, terminalU, groupU }: Change = {},
) => {
  const read = (voltageV: number, u?: number) =>
    u === undefined ? { voltageV, stepV: 0.01 } : { voltageV, stepV: 0.01, u, apartU: u };
  return judgeGroups(
    {
      chemistry: 'lipo',
      curve: openCircuitOf('lipo'),
      state,
      groups: groupVoltagesV.map((voltageV, i) => (voltageV === null ? null : read(voltageV, groupU?.[i]))),
      terminal: terminalVoltageV === undefined ? null : read(terminalVoltageV, terminalU),
    },
    rules,
  );
};
const said = (judgement: PackJudgement) => judgement.says.map(packSayingText).join(' ');

test('a group that could not be read is said, keeps its place, and leaves no sum', () => {
  const judgement = judge([4.1, null, 4.1, 3.8], { terminalVoltageV: 16.1 });
  expect(judgement.groups.map(({ position, odd }) => [position, odd])).toEqual([
    [1, false],
    [3, false],
    [4, true],
  ]);
  expect(judgement).toMatchObject({ sum: null, sumCheck: null });
  expect(said(judgement)).toMatch(/Group 2 was not read.*Group 4 is 300 . 4 mV below the median/);
  expect(said(judge([4.1, null, null]))).toMatch(/^Groups 2, 3 were not read: a wire may be broken\./);
  expect(refusalOf(() => judge([null, null]))).not.toBeNull();
});

test('a level needs an uncertainty below its limit', () => {
  const levelAt = (groups: number[], apartU: number) =>
    judgeGroups(
      {
        chemistry: 'lipo',
        curve: null,
        state: 'rest',
        groups: groups.map((voltageV) => ({ voltageV, stepV: 0.1, apartU })),
        terminal: null,
      },
      rules,
    ).level;
  // Tenths of a volt: half a digit of two readings is 41 mV.
  expect(levelAt([3.8, 3.8, 3.8], 0.029)).toBe('unclear');
  expect(levelAt([3.8, 3.8, 3.4], 0.029)).toBe('out-of-service');
  expect(levelAt([3.8, 3.8, 3.8], 0.009)).toBe('good');
  expect(levelAt([3.8, 3.8, 3.8], 0.004)).toBe('excellent');
});

describe('common practice: spreads of the trade', () => {
  test('3.77 3.76 3.74 V is 30 mV: balanced enough', () => {
    const judgement = judge([3.77, 3.76, 3.74]);
    expect(judgement.spreadV.value).toBeCloseTo(0.03, 9);
    expect(judgement.level).toBe('good');
  });

  test('4.14 4.04 4.14 4.09 3.59 V: group 5 is out, the sum is 20.00 V, and 19.75 V at the terminals does not agree', () => {
    const judgement = judge([4.14, 4.04, 4.14, 4.09, 3.59], { terminalVoltageV: 19.75 });
    expect(judgement.level).toBe('out-of-service');
    expect(judgement.sum?.value).toBeCloseTo(20, 9);
    expect(judgement.sumCheck?.agrees).toBe(false);
    expect(judgement.groups.filter((group) => group.odd).map((group) => group.position)).toEqual([5]);
    expect(said(judgement)).toContain('Group 5 is 500 ± 4 mV below the median');
  });

  test.each([
    [0.008, 'excellent'],
    [0.035, 'uneven'],
    [0.1, 'attention'],
    [0.2, 'out-of-service'],
  ])('a spread of %d V is %s', (imbalance, level) => {
    expect(judge([3.9, 3.9 - imbalance]).level).toBe(level);
  });
});

test('a sum within the tolerance agrees', () => {
  expect(judge([3.9, 3.91, 3.9], { terminalVoltageV: 11.73 }).sumCheck).toMatchObject({
    agrees: true,
    differenceV: { value: expect.closeTo(0.02, 9) },
  });
});

test('a sum off by no more than the doubt of its meters may agree', () => {
  const read = { terminalVoltageV: 11.79, groupU: [0.02, 0.02, 0.02], terminalU: 0.02 };
  const judgement = judge([3.9, 3.91, 3.9], read);
  expect(judgement.sumCheck?.agrees).toBe(true);
  expect(sumText(judgement)).toContain('sum 11.71 ± 0.03 V, terminals 11.790 ± 0.020 V');
  expect(judge([3.9, 3.91, 3.9], { terminalVoltageV: 11.79 }).sumCheck?.agrees).toBe(false);
});

test('spread and sum carry the doubt of the readings they are made of', () => {
  const judgement = judge([3.9, 3.7, 3.8], { groupU: [0.003, 0.004, 0.1], terminalVoltageV: 11.4, terminalU: 0.02 });
  expect(judgement.spreadV).toEqual({ value: 0.2, u: expect.closeTo(0.005, 9) });
  expect(judgement.sum).toEqual({
    value: expect.closeTo(11.4, 9),
    u: expect.closeTo(Math.hypot(0.003, 0.004, 0.1), 9),
  });
  expect(judgement.terminal).toEqual({ value: 11.4, u: 0.02 });
  expect(judge([3.9, 3.7]).terminal).toBeNull();
});

test('limits come first: reversed, over full, below the floor, too low for rescue', () => {
  const judgement = judge([-0.1, 4.3, 2.9, 1.2]);
  expect(judgement.groups.map((group) => group.limit && groupLimitText(group.limit))).toEqual([
    'reversed or shorted',
    'above its charge end of 4.2 V',
    'below its floor of 3 V',
    'below 1.5 V, too low even for rescue',
  ]);
  expect(judgement.says[0]?.urgent).toBe(true);
  expect(judgement.says.map(packSayingText)[0]).toContain('Do not charge');
});

test('the state of charge is given at rest only, with the uncertainty of the curve', () => {
  expect(judge([3.84, 3.84]).groups[0]?.soc?.value).toBeCloseTo(0.5, 6);
  expect(judge([3.84, 3.84], { state: 'load' }).groups[0]?.soc).toBeNull();
});

test('one group has no spread to speak of; none is refused', () => {
  expect(judge([3.8]).says).toEqual([]);
  expect(refusalOf(() => judge([]))).toContain('one voltage for each group');
});
