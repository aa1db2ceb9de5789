import { judgeReading, noTools, type ResistanceFacts, type Tools } from './judgeReading';

const step: Extract<ResistanceFacts, { kind: 'load-step' }> = { kind: 'load-step', openV: 3.95, loadedV: 3.87, afterV: null, currentA: null, step: 0.001, currentStep: null, loadResistanceOhm: 2, loadTolerance: 0.01, loadRatingW: null };
const byAmmeter = { ...step, loadResistanceOhm: null, currentA: 1.6, currentStep: 0.01 };
const meter: Tools = { ...noTools, voltage: { resolution: 0.001, accuracyShare: 0.005, accuracyCounts: 3 } };

test('the level after takes the droop off, at the price of its own uncertainty', () => {
  const [plain, drooped] = [judgeReading(step, noTools), judgeReading({ ...step, afterV: 3.94 }, noTools)];
  expect(plain?.resistance.value).toBeCloseTo((0.08 * 2) / 3.87, 9);
  expect(drooped?.resistance.value).toBeCloseTo((0.07 * 2) / 3.87, 9);
  expect(drooped?.resistance.u ?? 0).toBeGreaterThan(plain?.resistance.u ?? 1);
});

test('the meter’s promise counts by its gain alone, and not at all with a resistor', () => {
  expect(judgeReading(byAmmeter, meter)?.budget).toContainEqual({ input: 'gain of the meter', u: expect.closeTo((0.05 * 0.005) / Math.sqrt(3), 9) });
  expect(judgeReading(step, meter)?.resistance.u).toBeCloseTo(judgeReading(step, noTools)?.resistance.u ?? NaN, 12);
});

test('a correction by offset leaves a drop as it is, one by gain does not', () => {
  const correction = { kind: 'offset' as const, offset: { value: -0.03, u: 0.001 }, gain: { value: 0, u: 0 }, covariance: 0, residual: 0, degrees: Infinity };
  expect(judgeReading(byAmmeter, { ...meter, correction })?.resistance).toEqual({ value: expect.closeTo(judgeReading(byAmmeter, meter)?.resistance.value ?? NaN, 9), u: expect.any(Number) });
  const gain = judgeReading(byAmmeter, { ...meter, correction: { ...correction, kind: 'line', offset: { value: 0, u: 0 }, gain: { value: 0.02, u: 0.001 } } });
  expect(gain?.resistance.value).toBeCloseTo(0.05 * 0.98, 9);
});

test('what varies from press to press leaves the tools out', () => {
  const result = judgeReading(step, noTools);
  expect(result?.budget.map((share) => share.input)).toContain('load resistor');
  expect(result?.randomU).toBeLessThan(result?.resistance.u ?? 0);
});

test('every method comes to a figure', () => {
  expect(judgeReading({ kind: 'two-current', atLowV: 3.98, lowCurrentA: 0.5, atHighV: 3.87, highCurrentA: 2.5, step: 0.001, currentStep: 0.01 }, noTools)?.resistance.value).toBeCloseTo(0.055, 9);
  expect(judgeReading({ kind: 'resistance', resistanceOhm: 0.0214, step: 0.0001, openV: null, zeroTaken: null }, { ...noTools, wires: 4 })?.resistance).toEqual({ value: 0.0214, u: expect.closeTo(0.0001 / Math.sqrt(12), 9) });
  const edge = { atS: 10, deltaCurrentA: 2, fromV: 3.9, resistanceOhm: { '10s': 0.05 }, standardUncertaintyOhm: { '10s': 0.001 }, currentRelativeU: 0.01, unsettled: [], relaxation: null };
  expect(judgeReading({ kind: 'pulse', edge }, noTools)?.budget.map((share) => share.input)).toEqual(['scatter of the log', 'current of the log']);
});

test.each<[string, ResistanceFacts]>([
  ['swapped voltages', { ...step, loadedV: 4 }],
  ['a resistance below nought', { kind: 'resistance', resistanceOhm: -0.002, step: 0.0001, openV: null, zeroTaken: null }],
  ['a pulse that is gone', { kind: 'pulse', edge: null }],
  ['currents in the wrong order', { kind: 'two-current', atLowV: 3.9, lowCurrentA: 2, atHighV: 3.8, highCurrentA: 1, step: 0.001, currentStep: 0.01 }],
])('confirmed without sense, no figure: %s', (_, facts) => {
  expect(judgeReading(facts, noTools)).toBeNull();
});
