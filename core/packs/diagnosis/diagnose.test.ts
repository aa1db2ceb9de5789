import fc from 'fast-check';
import { openCircuitOf } from '../../chemistry/openCircuit';
import { diagnosePack } from './diagnose';
import type { PackFault } from './faults';
import { nextMeasurement } from './nextMeasurement';
import { type Diagnosed, type DiagnosedRound, nothingKnown } from './visit';

const curve = openCircuitOf('lipo');
const round = (groupVoltagesV: (number | null)[], more: Partial<DiagnosedRound> = {}): DiagnosedRound => ({
  state: 'rest',
  atS: 0,
  currentA: 0,
  digitV: 0.01,
  instrument: null,
  sinceChargeS: null,
  terminalV: null,
  groupVoltagesV,
  ...more,
});
const packOf = (rounds: DiagnosedRound[]): Diagnosed => ({
  curve,
  series: rounds[0]?.groupVoltagesV.length ?? 1,
  ratedCapacityAh: 5,
  rounds,
  floorV: 3,
  groupResistancesOhm: null,
  beforehand: { ...nothingKnown, reason: 'complaint' },
});
const diagnosed = (...rounds: DiagnosedRound[]) => diagnosePack(packOf(rounds));
const first = (findings: readonly { fault: PackFault }[] | undefined) => findings?.[0]?.fault;

// Common practice: five groups of a pack that shows full and shuts down early.
test('of 4.14 4.04 4.14 4.09 3.59 V it is the last group, and it holds less charge', () => {
  const { groups, pack } = diagnosed(round([4.14, 4.04, 4.14, 4.09, 3.59]));
  expect(first(groups[4]?.findings)).toBe('charge-shifted');
  expect(groups[4]?.findings[0]?.probability).toBeGreaterThan(0.9);
  expect(groups[4]?.stateOfCharge).toBeLessThan(0.1);
  expect(pack.find(({ fault }) => fault === 'none')?.probability).toBeLessThan(0.01);
});

test('a group above the others holds more charge than they do, not less', () => {
  const high = diagnosed(round([3.9, 3.9, 4.1, 3.9, 3.9])).groups[2]?.findings[0];
  expect(high).toMatchObject({ fault: 'charge-shifted', isAbove: true });
  const low = diagnosed(round([3.9, 3.9, 3.7, 3.9, 3.9])).groups[2]?.findings[0];
  expect(low).not.toHaveProperty('isAbove');
});

test('3.77 3.76 3.74 V is balanced enough (common practice): no group is more likely bad than sound', () => {
  for (const { soundProbability, findings } of diagnosed(round([3.77, 3.76, 3.74])).groups)
    expect(soundProbability).toBeGreaterThan(findings[0]?.probability ?? 0);
});

test('two groups of one voltage say nothing of their match (common practice)', () => {
  const diagnosis = diagnosed(round([4.11, 4.11]));
  for (const { findings } of diagnosis.groups)
    expect(findings.map(({ fault }) => fault)).toEqual(expect.arrayContaining(['low-capacity', 'high-resistance']));
  expect(nextMeasurement(diagnosis, packOf([round([4.11, 4.11])]))?.what).toBe('load');
});

test('a tap shows in two neighbours, one low and one high by the same', () => {
  const { groups } = diagnosed(round([3.95, 3.85, 4.05, 3.951, 3.949], { digitV: 0.001 }));
  expect(groups.map(({ findings }) => first(findings) === 'sense-tap')).toEqual([false, true, true, false, false]);
});

test('what sinks under load at once and stands with the others at rest has a high resistance', () => {
  const { groups } = diagnosed(
    round([3.95, 3.951, 3.949, 3.95], { digitV: 0.001 }),
    round([3.85, 3.65, 3.849, 3.851], { digitV: 0.001, state: 'load', currentA: 5, atS: 60 }),
  );
  expect(first(groups[1]?.findings)).toBe('high-resistance');
});

test('rounds that do not go together are weighed as noted and as mislabelled, and the likelier counts', () => {
  const rest = round([3.95, 3.951, 3.949, 3.95], { digitV: 0.001 });
  const loaded = { digitV: 0.001, atS: 60 };
  const noted = diagnosed(rest, round([3.87, 3.83, 3.872, 3.871], loaded));
  expect(noted.questions).toMatchObject([{ round: 1, code: 'under-load' }]);
  const asLoad = diagnosed(rest, round([3.87, 3.83, 3.872, 3.871], { ...loaded, state: 'load', currentA: 1.6 }));
  // As a load, one group sags more.
  expect(first(asLoad.groups[1]?.findings)).toBe('high-resistance');
  expect(first(noted.groups[1]?.findings)).toBe('high-resistance');
  expect(noted.questions[0]?.probability).toBeGreaterThan(0.75);
  // What to measure next is weighed with the rounds as they probably were, too.
  expect(noted.likelierRounds.map(({ state }) => state)).toEqual(['rest', 'load']);
  expect(nextMeasurement(noted, packOf([]))?.what).not.toBe('load');
});

test('a group counts for less while it settles after a charge', () => {
  const uAt = (sinceChargeS: number | null) =>
    diagnosed(round([3.62, 3.621, 3.62], { sinceChargeS })).roundMedians[0]?.u ?? NaN;
  expect(uAt(600)).toBeGreaterThan(uAt(7200));
  expect(uAt(null)).toBe(uAt(7200));
});

// Common practice: 6 6 8 22 mΩ, the last is failing; 8.4 9.3 9.0 mΩ, nothing odd.
test.each([
  [
    [0.006, 0.006, 0.008, 0.022],
    [null, null, null, 'high-resistance'],
  ],
  [
    [0.0084, 0.0093, 0.009],
    [null, null, null],
  ],
])('measured resistances %j are weighed with the voltages', (groupResistancesOhm, faults) => {
  const even = packOf([round(groupResistancesOhm.map(() => 3.95))]);
  const { groups } = diagnosePack({ ...even, groupResistancesOhm });
  expect(
    groups.map(({ findings, soundProbability }) =>
      (findings[0]?.probability ?? 0) > soundProbability ? first(findings) : null,
    ),
  ).toEqual(faults);
});

test('what drifts down over days leaks; what stays low was only never balanced', () => {
  const week = 7 * 86_400;
  const low = (before: number, later: number) =>
    diagnosed(
      round([4.11, before, 4.111, 4.109], { digitV: 0.001 }),
      round([4.106, later, 4.107, 4.105], { digitV: 0.001, atS: week }),
    ).groups[1]?.findings;
  expect(first(low(4.05, 3.98))).toBe('leak');
  expect(first(low(3.9, 3.896))).toBe('charge-shifted');
});

test('dead, run down, cut off: the voltage alone says it, and nothing is loaded to learn more', () => {
  const readDead = round([4.1, 4.1, 0.02, 4.1]);
  const dead = diagnosed(readDead);
  expect(first(dead.groups[2]?.findings)).toBe('dead');
  expect(nextMeasurement(dead, packOf([readDead]))).toBeNull();
  expect(first(diagnosed(round([2.1, 2.0, 2.2])).pack)).toBe('over-discharged');
  expect(first(diagnosed(round([4.1, 4.1, 4.1], { terminalV: { value: 0.1, digitV: 0.1 } })).pack)).toBe(
    'board-cut-off',
  );
});

test('a group that was not read is not guessed; one alone has nothing to be compared with', () => {
  const { groups } = diagnosed(round([3.9, null, 3.92]));
  expect(groups[1]).toMatchObject({ stateOfCharge: null, apartV: [null] });
  expect(diagnosed(round([3.9])).groups[0]?.soundProbability).toBeLessThan(0.9);
  expect(() => diagnosed(round([null, null]))).toThrow('no-group-voltages');
});

test('whatever is read, probabilities are probabilities, and the order of the leads mirrors them', () => {
  const volts = fc.double({ min: 0, max: 4.3, noNaN: true });
  const groups = fc
    .integer({ min: 1, max: 6 })
    .chain((n) =>
      fc.array(fc.array(fc.option(volts, { freq: 8 }), { minLength: n, maxLength: n }), { minLength: 1, maxLength: 4 }),
    );
  fc.assert(
    fc.property(groups, (rounds) => {
      fc.pre(rounds.some((one) => one.some((v) => v !== null)));
      const taken = rounds.map((one, r) => round(one, { atS: r * 3600 }));
      const there = diagnosed(...taken);
      const back = diagnosed(...taken.map((one) => ({ ...one, groupVoltagesV: one.groupVoltagesV.toReversed() })));
      for (const { findings, soundProbability } of there.groups)
        for (const p of [soundProbability, ...findings.map(({ probability }) => probability)])
          expect(p >= 0 && p <= 1).toBe(true);
      there.groups.forEach(({ soundProbability }, i) =>
        expect(back.groups.at(-1 - i)?.soundProbability).toBeCloseTo(soundProbability, 6),
      );
    }),
    { numRuns: 60 },
  );
});

// Common practice: off on one instrument only.
test('what one instrument alone shows is its channel, not the cells', () => {
  const off = (instrument: string, volts: number[], atS = 0) => round(volts, { digitV: 0.001, instrument, atS });
  const low = [3.912, 3.911, 3.842, 3.911, 3.912];
  const even = [3.911, 3.912, 3.91, 3.912, 3.911];
  // One reading alone may be the channel: another instrument, or the terminals, gives most information for the time.
  const once = nextMeasurement(diagnosed(off('first', low)), packOf([off('first', low)]));
  expect(['other-instrument', 'terminals']).toContain(once?.what);
  const both = diagnosed(off('first', low), off('second', even, 60));
  expect(both.groups[2]?.findings[0]).toMatchObject({ fault: 'meter-channel', instrument: 'first' });
  const after = nextMeasurement(both, packOf([off('first', low), off('second', even, 60)]));
  expect(after?.what).not.toBe('other-instrument');
  expect(both.groups[2]?.findings[0]?.probability).toBeGreaterThan(0.9);
  const same = diagnosed(off('first', low), off('second', low, 60));
  expect(same.groups[2]?.findings.find(({ fault }) => fault === 'meter-channel')).toBeUndefined();
});

test('a cause rests on the readings that speak for it', () => {
  const level = [4.05, 4.051, 4.049, 4.05];
  const restsOn = (...rounds: DiagnosedRound[]) => diagnosed(...rounds).groups.map((group) => group.restsOn);
  const more = { digitV: 0.001 };
  const load = round([3.95, 3.75, 3.949, 3.951], { ...more, state: 'load', currentA: 5, atS: 60 });
  // At rest it agrees with the others, which rules out a low charge.
  expect(restsOn(round(level, more), load)).toEqual([[], [0, 1], [], []]);
  expect(restsOn(round([3.95, 3.85, 4.05, 3.951, 3.949], more))).toEqual([[], [0], [0], [], []]);
  // A leak is in the difference of two rounds.
  const later = round([4.045, 3.95, 4.045, 4.045], { ...more, atS: 7 * 86_400 });
  expect(restsOn(round([4.05, 4.03, 4.049, 4.05], more), later)[1]).toContain(1);
  expect(restsOn(round(level, more))).toEqual([[], [], [], []]);
  expect(restsOn(round([4.1, 0.1, 4.1]), round([4.1, 0.1, 4.1], { atS: 60 }))).toEqual([[], [0, 1], []]);
});
