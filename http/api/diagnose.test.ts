import { computeDiagnosis } from './diagnose';
import { diagnoseRequest } from './schemas';

const ask = (request: unknown) => computeDiagnosis(diagnoseRequest.parse(request));
const pack = { chemistry: 'li-ion', series: 4, ratedCapacityAh: 6 };

test('tells each group with how sure it is and on what, and what to measure next', () => {
  const {
    groups,
    pack: whole,
    nextMeasurement,
  } = ask({
    ...pack,
    rounds: [{ state: 'rest', groupVoltagesV: [4.101, 4.098, 3.902, 4.1], terminalVoltageV: 16.2 }],
  });
  expect(groups[2]?.findings[0]).toMatchObject({
    fault: 'charge-shifted',
    evidence: ['at rest it is 197 mV below the median of the groups'],
  });
  expect(groups.map(({ position }) => position)).toEqual([1, 2, 3, 4]);
  expect(whole.findings.map(({ fault }) => fault)).toContain('none');
  expect(nextMeasurement.why).toMatch(/^(Group \d is not settled|No further measurement)/);
});

test('rounds are put in their order by time; a current alone is no load on a pack that was never at rest', () => {
  const later = { state: 'load', at: '2026-03-01T10:05:00Z', currentA: 6, groupVoltagesV: [4.0, 3.8, 4.0, 4.001] };
  const before = { state: 'rest', at: '2026-03-01T10:00:00Z', groupVoltagesV: [4.1, 4.1, 4.101, 4.099] };
  const { groups } = ask({ ...pack, rounds: [later, before] });
  expect(groups[1]?.findings[0]?.fault).toBe('high-resistance');
  expect(groups[1]?.findings[0]?.evidence.at(-1)).toContain('under load it is 200 mV below');
});

test('a count that does not fit names the round', () => {
  const request = diagnoseRequest.safeParse({ ...pack, rounds: [{ state: 'rest', groupVoltagesV: [4.1, 4.1] }] });
  expect(request.error?.issues).toMatchObject([
    { path: ['rounds', 0, 'groupVoltagesV'], message: 'The pack has 4 groups; here are 2 figures.' },
  ]);
});

test('what does not go together is said: two instruments, the other end, another chemistry', () => {
  const rest = (minute: number, groupVoltagesV: number[], instrument = 'one') => ({
    state: 'rest',
    at: new Date(Date.UTC(2026, 2, 1, 10, minute)).toISOString(),
    groupVoltagesV,
    instrument,
  });
  const codes = (...rounds: object[]) => ask({ ...pack, rounds }).warnings.map(({ code }) => code);
  const even = [3.9, 3.901, 3.9, 3.902];
  expect(codes(rest(0, even), rest(5, even))).toEqual([]);
  expect(
    codes(
      rest(0, even),
      rest(
        5,
        even.map((v) => v + 0.03),
        'other',
      ),
    ),
  ).toEqual(['instruments-disagree']);
  expect(codes(rest(0, [3.9, 3.8, 3.9, 3.9]), rest(5, [3.9, 3.9, 3.8, 3.9]))).toEqual(['perhaps-from-red']);
  expect(codes(rest(0, [4.31, 4.3, 4.31, 4.3]))).toEqual(['above-its-chemistry']);
});

test('a round that looks mislabelled is asked about by its place as sent; the reason of the visit weighs', () => {
  const rest = { state: 'rest', at: '2026-03-01T10:00:00Z', groupVoltagesV: [4.0, 3.999, 4.001, 4.0] };
  const load = { state: 'rest', at: '2026-03-01T10:05:00Z', groupVoltagesV: [3.9, 3.82, 3.901, 3.9] };
  const { questions } = ask({ ...pack, rounds: [load, rest] });
  expect(questions).toMatchObject([{ round: 0, code: 'under-load' }]);
  expect(questions[0]?.message).toContain('Was it at rest?');
  expect(ask({ ...pack, rounds: [{ ...rest, sinceChargeS: 60 }] }).questions).toMatchObject([{ code: 'not-settled' }]);

  const low = { ...rest, groupVoltagesV: [4.0, 3.97, 4.001, 4.0] };
  const noneFor = (reason: string) =>
    ask({ ...pack, rounds: [low], reason }).pack.findings.find(({ fault }) => fault === 'none')?.probability ?? NaN;
  expect(noneFor('routine')).toBeGreaterThan(noneFor('after-use'));
  expect(noneFor('after-use')).toBeGreaterThan(noneFor('complaint'));
});

// Common practice: a cause and the state it led to are two findings.
test('a group that was low when full and below its floor at the end: the cause first, the state beside it', () => {
  const { groups } = ask({
    ...pack,
    reason: 'complaint',
    rounds: [
      { state: 'rest', at: '2026-03-01T10:00:00Z', groupVoltagesV: [4.17, 4.171, 3.87, 4.17] },
      { state: 'rest', at: '2026-03-01T12:00:00Z', groupVoltagesV: [3.5, 3.501, 2.1, 3.499] },
    ],
  });
  const [first, ...more] = groups[2]?.findings ?? [];
  expect(first).toMatchObject({ fault: 'charge-shifted' });
  expect(first?.probability).toBeGreaterThan(0.7);
  expect(more).toContainEqual(expect.objectContaining({ fault: 'over-discharged', probability: 0.97 }));
});

test('three groups within 30 mV are sound; 15.3 beside 6.9 mΩ is a high resistance', () => {
  const even = ask({ ...pack, series: 3, rounds: [{ state: 'rest', groupVoltagesV: [3.77, 3.76, 3.74] }] });
  expect(even.pack.findings[0]).toMatchObject({ fault: 'none' });
  expect(even.pack.findings[0]?.probability).toBeGreaterThan(0.6);
  const rounds = [
    { state: 'rest', groupVoltagesV: [3.9, 3.9, 3.901, 3.9], groupResistancesOhm: [0.0069, 0.0153, 0.007, 0.0068] },
  ];
  const [found] = ask({ ...pack, rounds }).groups[1]?.findings ?? [];
  expect(found).toMatchObject({ fault: 'high-resistance' });
  expect(found?.probability).toBeGreaterThan(0.8);
});
