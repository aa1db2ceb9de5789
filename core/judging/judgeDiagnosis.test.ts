import { presetRules } from '../chemistry/houseRules';
import { judgeDiagnosis, type ReadRound } from './judgeDiagnosis';
import { bareBench } from './equipment';
import type { Calibration } from './facts';

const pack = {
  chemistry: 'li-ion' as const,
  series: 3,
  ratedCapacityAh: 5,
  code: 'PX',
  amongGroups: null,
  board: 'none' as const,
  balanceConnector: null,
};
const rules = presetRules('workshop');
const judge = (
  valid: ReadRound[],
  { of = pack as Parameters<typeof judgeDiagnosis>[0], lowAgain = [] as number[] } = {},
) => judgeDiagnosis(of, valid, rules, bareBench, { lowAgain });
const dayMs = 86_400_000;
const round = (
  state: ReadRound['state'],
  day: number,
  volts: number[],
  more: Partial<Pick<ReadRound, 'currentA'>> = {},
): ReadRound => ({
  state,
  takenAt: new Date(Date.UTC(2026, 5, 1) + day * dayMs),
  groupStepsV: volts.map(() => 0.001),
  instrumentId: null,
  judgement: {
    terminal: null,
    groups: volts.map((voltageV, i) => ({
      position: i + 1,
      voltageV,
      stepV: 0.001,
      deviationV: 0,
      soc: null,
      odd: false,
      limit: null,
    })),
  },
  ...more,
});

test('a load counts where its current is known', () => {
  const rest = round('rest', 0, [4.05, 4.051, 4.049]);
  const volts = [3.95, 3.75, 3.951];
  const known = judge([round('load', 0.01, volts, { currentA: 5 }), rest]);
  expect(known?.first).toMatchObject({ fault: 'high-resistance', position: 2 });
  const unknown = judge([round('load', 0.01, volts), rest]);
  expect(unknown?.rounds).toHaveLength(1);
  expect(unknown?.first.fault).toBe('none');
});

test('the visit begins with the newest charge; what is older is of another state', () => {
  const valid = [
    round('rest', 9, [4.1, 4.101, 4.1]),
    round('charge-end', 2, [4.19, 4.191, 4.19]),
    round('rest', 1, [3.9, 3.6, 3.9]),
    round('rest', -60, [3.9, 3.6, 3.9]),
  ];
  const diagnosis = judge(valid);
  expect(diagnosis?.rounds.map(({ state }) => state)).toEqual(['charge-end', 'rest']);
  expect(diagnosis?.first.fault).toBe('none');
});

test('where nothing was read, or what was read tells nothing, there is no diagnosis', () => {
  expect(judge([])).toBeNull();
  expect(judge([round('discharge-end', 0, [3, 3.1, 3.2])])).toBeNull();
});

test('what the workshop knows beforehand weighs: a channel that was checked, a group that was low before, no balancing', () => {
  const low = [round('rest', 0, [3.9, 3.86, 3.9])];
  const of = (fault: string, diagnosis: ReturnType<typeof judge>) =>
    diagnosis?.groups[1]?.findings.find((one) => one.fault === fault)?.probability ?? 0;
  const usual = judge(low);
  expect(of('leak', judge(low, { lowAgain: [2] }))).toBeGreaterThan(1.5 * of('leak', usual));
  const checked = {
    ...bareBench,
    instruments: { ...bareBench.instruments, calibrationAt: () => ({}) as Calibration },
  };
  const trusted = judgeDiagnosis(pack, low, rules, checked);
  expect(of('meter-channel', trusted)).toBeLessThan(0.4 * of('meter-channel', usual));
  const never = judge(low, { of: { ...pack, balanceConnector: false } });
  expect(never?.groups[1]?.soundProbability).toBeGreaterThan(usual?.groups[1]?.soundProbability ?? 1);
});
