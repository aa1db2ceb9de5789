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
    evidence: ['at rest it stands 197 mV below the middle of the others'],
  });
  expect(groups.map(({ position }) => position)).toEqual([1, 2, 3, 4]);
  expect(whole.findings.map(({ fault }) => fault)).toContain('none');
  expect(nextMeasurement.why).toMatch(/^(Of group \d it is not settled|What was read settles it)/);
});

test('rounds are put in their order by time; a current alone is no load on a pack that was never at rest', () => {
  const later = { state: 'load', at: '2026-03-01T10:05:00Z', currentA: 6, groupVoltagesV: [4.0, 3.8, 4.0, 4.001] };
  const before = { state: 'rest', at: '2026-03-01T10:00:00Z', groupVoltagesV: [4.1, 4.1, 4.101, 4.099] };
  const { groups } = ask({ ...pack, rounds: [later, before] });
  expect(groups[1]?.findings[0]?.fault).toBe('high-resistance');
  expect(groups[1]?.findings[0]?.evidence.at(-1)).toContain('under load it stands 200 mV below');
});

test('a count that does not fit names the round', () => {
  const asked = diagnoseRequest.safeParse({ ...pack, rounds: [{ state: 'rest', groupVoltagesV: [4.1, 4.1] }] });
  expect(asked.error?.issues).toMatchObject([
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
