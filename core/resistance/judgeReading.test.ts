import { judgeReading, noTools, type ResistanceFacts, type Tools } from './judgeReading';

const step: Extract<ResistanceFacts, { kind: 'load-step' }> = {
  kind: 'load-step',
  openV: 3.95,
  loadedV: 3.87,
  afterV: null,
  afterS: null,
  currentA: null,
  step: 0.001,
  currentStep: null,
  loadResistanceOhm: 2,
  loadTolerance: 0.01,
  loadRatingW: null,
};
const byAmmeter = { ...step, loadResistanceOhm: null, currentA: 1.6, currentStep: 0.01 };
const meter: Tools = { ...noTools, voltage: { resolution: 0.001, accuracyShare: 0.005, accuracyCounts: 3 } };

test('the recovery voltage takes the droop off, at the price of its own uncertainty', () => {
  const [plain, drooped] = [judgeReading(step, noTools), judgeReading({ ...step, afterV: 3.94 }, noTools)];
  expect(plain?.resistance.value).toBeCloseTo((0.08 * 2) / 3.87, 9);
  const late = judgeReading({ ...step, afterV: 3.94, afterS: 600 }, noTools);
  expect(late?.resistance.value).toBeCloseTo((0.07 * 2) / 3.87, 9);
  // Open, loaded and after: the open reading cancels, so there are two readings in it as before.
  expect(late?.resistance.u ?? 0).toBeCloseTo(plain?.resistance.u ?? 1, 4);
  expect(drooped?.resistance.u ?? 0).toBeGreaterThan(plain?.resistance.u ?? 1);
});

test('a level read soon after the load lies low: 4 % of the resistance after 20 s, 1 % after a minute', () => {
  const ohm = (afterS: number | null) => judgeReading({ ...step, afterV: 3.94, afterS }, noTools);
  const settled = (0.07 * 2) / 3.87;
  expect((ohm(20)?.resistance.value ?? 0) / settled).toBeCloseTo(1 / 0.96, 2);
  expect((ohm(60)?.resistance.value ?? 0) / settled).toBeCloseTo(1 / 0.99, 2);
  expect(ohm(60)?.resistance.u).toBeLessThan(ohm(20)?.resistance.u ?? 0);
  expect(ohm(null)).toMatchObject({ resistance: ohm(20)?.resistance, warnings: [{ code: 'after-time-unknown' }] });
});

test('the counts of the ammeter count: 1 % and 5 counts at 1 A promise 3.48 %', () => {
  const byAmmeter = { ...step, loadResistanceOhm: null, loadTolerance: null, currentA: 1, currentStep: 0.01 };
  const u = (current: Tools['current']) =>
    judgeReading(byAmmeter, { ...noTools, current })?.budget.find(({ input }) => input === 'load current')?.u ?? 0;
  expect(u({ resolution: 0.01, accuracyShare: 0.01, accuracyCounts: 5 }) / 0.08).toBeCloseTo(
    Math.hypot(0.06 / Math.sqrt(3), 0.01 / Math.sqrt(12)),
    4,
  );
});

test('a digit of noise is assumed until pressing again has taught better', () => {
  const noise = (noiseOhm: number | null) =>
    judgeReading(step, noTools, noiseOhm)?.budget.find(({ input }) => input === 'noise of the readings')?.u ?? 0;
  expect(noise(null)).toBeCloseTo((Math.SQRT2 * 0.001) / Math.sqrt(3) / 1.935, 6);
  expect(noise(0.0001)).toBeCloseTo(0.0001, 6);
});

test('leads that carry the load’s current are taken off where they are known, and are doubt', () => {
  const leads = { gauge: 18, lengthM: 0.5 };
  const plain = judgeReading(step, noTools)?.resistance.value ?? 0;
  const wired = judgeReading(step, { ...noTools, wires: 2, leads });
  expect(wired?.resistance.value).toBeCloseTo(plain - 0.02095, 5);
  expect(wired?.budget.map(({ input }) => input)).toContain('leads and clips');
  expect(judgeReading(step, { ...noTools, wires: 2, leads: { gauge: 28, lengthM: 1 } })).toBeNull();
});

test('the meter’s promise counts by its gain alone, and not at all with a resistor', () => {
  expect(judgeReading(byAmmeter, meter)?.budget).toContainEqual({
    input: 'gain of the meter',
    u: expect.closeTo((0.05 * 0.005) / Math.sqrt(3), 9),
  });
  expect(judgeReading(step, meter)?.resistance.u).toBeCloseTo(judgeReading(step, noTools)?.resistance.u ?? NaN, 12);
});

test('a correction by offset leaves a drop as it is, one by gain does not', () => {
  const correction = {
    kind: 'offset' as const,
    offset: { value: -0.03, u: 0.001 },
    gain: { value: 0, u: 0 },
    covariance: 0,
    residual: 0,
    degrees: Infinity,
  };
  expect(judgeReading(byAmmeter, { ...meter, correction })?.resistance).toEqual({
    value: expect.closeTo(judgeReading(byAmmeter, meter)?.resistance.value ?? NaN, 9),
    u: expect.any(Number),
  });
  const gain = judgeReading(byAmmeter, {
    ...meter,
    correction: { ...correction, kind: 'line', offset: { value: 0, u: 0 }, gain: { value: 0.02, u: 0.001 } },
  });
  expect(gain?.resistance.value).toBeCloseTo(0.05 * 0.98, 9);
});

test('what varies from press to press leaves the tools out', () => {
  const result = judgeReading(step, noTools);
  expect(result?.budget.map((fraction) => fraction.input)).toContain('load resistor');
  expect(result?.randomU).toBeLessThan(result?.resistance.u ?? 0);
});

test('every method comes to a figure', () => {
  expect(
    judgeReading(
      {
        kind: 'two-current',
        atLowV: 3.98,
        lowCurrentA: 0.5,
        atHighV: 3.87,
        highCurrentA: 2.5,
        step: 0.001,
        currentStep: 0.01,
      },
      noTools,
    )?.resistance.value,
  ).toBeCloseTo(0.055, 9);
  expect(
    judgeReading(
      { kind: 'resistance', resistanceOhm: 0.0214, step: 0.0001, openV: null, zeroTaken: null },
      { ...noTools, wires: 4 },
    )?.resistance,
  ).toEqual({ value: 0.0214, u: expect.closeTo(Math.hypot(0.0001 / Math.sqrt(12), 0.0001 / Math.sqrt(3)), 9) });
  const edge = {
    atS: 10,
    deltaCurrentA: 2,
    fromV: 3.9,
    resistanceOhm: { '10s': 0.05 },
    standardUncertaintyOhm: { '10s': 0.001 },
    currentRelativeU: 0.01,
    unsettled: [],
    relaxation: null,
  };
  expect(
    judgeReading({ kind: 'pulse', runId: 1, atS: 30, edge }, noTools)?.budget.map((fraction) => fraction.input),
  ).toEqual(['scatter of the log', 'current of the log']);
});

test.each<[string, ResistanceFacts]>([
  ['swapped voltages', { ...step, loadedV: 4 }],
  [
    'a resistance below zero',
    { kind: 'resistance', resistanceOhm: -0.002, step: 0.0001, openV: null, zeroTaken: null },
  ],
  ['a pulse that is gone', { kind: 'pulse', runId: 1, atS: 30, edge: null }],
  [
    'currents in the wrong order',
    { kind: 'two-current', atLowV: 3.9, lowCurrentA: 2, atHighV: 3.8, highCurrentA: 1, step: 0.001, currentStep: 0.01 },
  ],
])('confirmed without sense, no figure: %s', (_, facts) => {
  expect(judgeReading(facts, noTools)).toBeNull();
});
