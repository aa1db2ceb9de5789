import type { GroupDiagnosis } from '../packs/diagnosis/diagnose';
import { type GroupFault, sound } from '../packs/diagnosis/faults';
import { clinicVerdict, disagreeingIn, repeatedLows } from './judgeClinic';

type Given = Parameters<typeof clinicVerdict>;
const group = (position: number, fault: GroupFault | null, probability = 0.9, capacity = 0.6): GroupDiagnosis => ({
  position,
  stateOfCharge: 0.8,
  findings: fault ? [{ fault, probability }] : [],
  soundProbability: fault ? 1 - probability : 0.98,
  ways: fault ? [{ faults: [fault], probability, look: { ...sound, capacity }, looks: [], logs: [] }] : [],
  isRunDown: false,
  apartV: [],
  restsOn: [],
});
const pack = (intake = 'usable', duty: string | null = 'steady') =>
  ({ series: 4, intake: { class: intake }, duty: { duty, because: { code: 'meets-all' } } }) as unknown as Given[0];
const diagnosisOf = (...faulty: GroupDiagnosis[]): Given[1] => {
  const groups = [1, 2, 3, 4].map(
    (position) => faulty.find((one) => one.position === position) ?? group(position, null),
  );
  const [first] = faulty;
  const finding = first?.findings[0];
  return {
    groups,
    questions: [],
    instruments: [null],
    first: finding
      ? { ...finding, position: first?.position ?? null }
      : { fault: 'none', probability: 0.95, position: null },
  };
};
const act = (diagnosis: Given[1], of = pack(), repeats: Given[2] = []) => clinicVerdict(of, diagnosis, repeats);

describe('what to do with a pack (common practice)', () => {
  test.each([
    ['nothing wrong', [], { act: 'use-on', duty: 'steady' }],
    ['low once', [group(2, 'charge-shifted', 0.6)], { act: 'balance', position: 2 }],
    ['leaks', [group(2, 'leak')], { act: 'repair', positions: [2], faults: ['leak'], isRepeat: false }],
    ['holds somewhat less', [group(3, 'low-capacity', 0.9, 0.86)], { act: 'downgrade', duty: 'steady', position: 3 }],
    ['holds far less', [group(3, 'low-capacity')], { act: 'repair', positions: [3] }],
    ['two of four', [group(1, 'leak'), group(3, 'high-resistance')], { act: 'take-apart', positions: [1, 3] }],
    ['a tap', [group(2, 'sense-tap')], { act: 'mend-wire', position: 2 }],
    ['a channel', [group(2, 'meter-channel')], { act: 'other-meter', position: 2 }],
    ['not settled', [group(2, 'leak', 0.55)], { act: 'measure' }],
  ] as [string, GroupDiagnosis[], object][])('%s', (_, faulty, expected) => {
    expect(act(diagnosisOf(...faulty))).toMatchObject(expected);
  });

  test('what ends it overrides everything; below the floor only a rescue', () => {
    expect(act(diagnosisOf(), pack('out'))).toEqual({ act: 'retire', why: 'unsafe' });
    expect(act(diagnosisOf(group(1, 'over-discharged')), pack('rescue-only'))).toEqual({ act: 'rescue' });
    expect(act(diagnosisOf(), pack('usable', 'retire'))).toEqual({ act: 'retire', why: 'too-weak' });
    expect(act(diagnosisOf(), pack('usable', 'light'))).toMatchObject({ act: 'downgrade', duty: 'light' });
  });

  test('a connection error on every pack is the cable; a group that is surely bad is bad all the same', () => {
    expect(clinicVerdict(pack(), diagnosisOf(), [], 'cable')).toEqual({ act: 'not-the-pack', blamed: 'cable' });
    expect(clinicVerdict(pack(), diagnosisOf(group(2, 'leak', 0.5)), [], 'cable').act).toBe('not-the-pack');
    expect(clinicVerdict(pack(), diagnosisOf(group(2, 'leak')), [], 'cable').act).toBe('repair');
    expect(clinicVerdict(pack(), diagnosisOf(), [], 'board').act).toBe('mend-board');
    expect(clinicVerdict(pack(), diagnosisOf(), [], 'groups').act).toBe('use-on');
  });

  test('a channel is confirmed by a second named instrument; "not noted" is no instrument', () => {
    const blamed = diagnosisOf(group(2, 'meter-channel'));
    const read = (instruments: (string | null)[]) => act({ ...blamed, instruments });
    expect(read(['DM1', 'CK1'])).toMatchObject({ act: 'other-meter', isConfirmed: true });
    expect(read(['DM1', null])).toMatchObject({ act: 'other-meter', isConfirmed: false });
  });

  test('the same group low again is a fault, not chance', () => {
    const again = [{ position: 2, lowAt: new Date(0), evenAt: new Date(1) }];
    expect(act(diagnosisOf(group(2, 'charge-shifted')), pack(), again)).toMatchObject({
      act: 'repair',
      isRepeat: true,
    });
    expect(act(diagnosisOf(group(3, 'charge-shifted')), pack(), again)).toMatchObject({ act: 'balance' });
  });
});

describe('low again', () => {
  const round = (day: number, low: number | null, state: 'rest' | 'load' = 'rest') => ({
    state,
    takenAt: new Date(Date.UTC(2026, 4, day)),
    judgement: {
      groups: [1, 2, 3].map((position) => ({
        position,
        odd: position === low,
        deviationV: position === low ? -0.1 : 0,
      })),
    },
  });
  test('only where it stood with the others in between', () => {
    expect(repeatedLows([round(20, 2), round(12, null), round(4, 2)])).toEqual([
      { position: 2, lowAt: new Date(Date.UTC(2026, 4, 4)), evenAt: new Date(Date.UTC(2026, 4, 12)) },
    ]);
    expect(repeatedLows([round(20, 2), round(12, 2), round(4, 2)])).toEqual([]);
    expect(repeatedLows([round(20, 2), round(12, null), round(4, 3)])).toEqual([]);
    expect(repeatedLows([round(20, 2), round(12, null, 'load'), round(4, 2)])).toEqual([]);
    expect(repeatedLows([])).toEqual([]);
  });
});

test('two instruments that read all groups apart at about one time do not agree', () => {
  const round = (minute: number, instrument: string, medianV: number) => ({
    state: 'rest' as const,
    at: new Date(minute * 60_000),
    instrument,
    medianV,
  });
  const first = round(0, 'one', 3.9);
  expect(disagreeingIn([first, round(10, 'other', 3.93)])).toMatchObject({
    apartV: expect.closeTo(0.03, 9),
    instruments: ['one', 'other'],
    suspect: null,
  });
  expect(disagreeingIn([first, round(10, 'other', 3.93), round(20, 'third', 3.901)])?.suspect).toBe('other');
  expect(disagreeingIn([first, round(10, 'other', 3.93), round(20, 'third', 3.96)])?.suspect).toBeNull();
  expect(disagreeingIn([first, round(10, 'other', 3.902)])).toBeNull();
  expect(disagreeingIn([first, round(10, 'one', 3.93)])).toBeNull();
  expect(disagreeingIn([first, round(1000, 'other', 3.93)])).toBeNull();
});

test('a wide imbalance that no fault explains is measured again, not used on', () => {
  const apart = { ...pack(), judgement: { level: 'out-of-service' } } as unknown as Given[0];
  expect(act(diagnosisOf(), apart)).toEqual({ act: 'measure', why: 'apart' });
});

test('a round that looks mislabelled is asked about before a group is accused', () => {
  const diagnosis = {
    ...diagnosisOf(group(2, 'high-resistance')),
    questions: [{ round: 1, code: 'swapped' as const, probability: 0.8 }],
  };
  expect(act(diagnosis)).toEqual({ act: 'measure', why: 'question' });
  expect(act(diagnosis, pack('rescue-only'))).toEqual({ act: 'rescue' });
});
