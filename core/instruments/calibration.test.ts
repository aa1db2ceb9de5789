import { calibrationRefusalText } from '@/words/instruments';
import fc from 'fast-check';
import { calibrate, type Calibrated, type CalibrationPoint, corrected, errorInterval, fillsTo } from './calibration';

const point = (reading: number, reference: number, u = 0.001, referenceU = 0.0004): CalibrationPoint => ({
  reading: { value: reading, u },
  reference: { value: reference, u: referenceU },
});
const fine: Calibrated = { resolution: 0.001, statedU: 0.01, accuracyShare: 0 };
const correctionOf = (...given: Parameters<typeof calibrate>) => {
  const verdict = calibrate(...given);
  if (!verdict.ok) throw new Error(calibrationRefusalText(verdict.because));
  return verdict.correction;
};

test('a channel that reads 28 mV low fills its cell by as much too high (common practice)', () => {
  const correction = correctionOf('offset', [point(3.572, 3.6), point(4.071, 4.099)], fine);
  expect(correction.offset.value).toBeCloseTo(-0.028, 9);
  expect(fillsTo(4.2, correction).value).toBeCloseTo(4.228, 9);
  expect(corrected({ value: 3.9, u: 0.001 }, correction)).toEqual({
    value: expect.closeTo(3.928, 9),
    u: expect.closeTo(Math.hypot(0.001, correction.offset.u), 12),
  });
});

test('offset and gain come back from levels made with them', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -0.05, max: 0.05, noNaN: true }),
      fc.double({ min: 0.002, max: 0.02, noNaN: true }),
      (offset, gain) => {
        const points = [3.1, 3.7, 4.15].map((truth) => point((truth + offset) / (1 - gain), truth));
        const correction = correctionOf('line', points, { ...fine, resolution: 0.0001 });
        for (const { reading, reference } of points)
          expect(corrected(reading, correction).value).toBeCloseTo(reference.value, 9);
      },
    ),
  );
});

test('reading more levels does not make the reference surer than it is', () => {
  const levels = (count: number) =>
    Array.from({ length: count }, (_, i) => point(3.2 + 0.05 * i, 3.23 + 0.05 * i, 0.0003, 0.001));
  const uncertainty = (count: number) => correctionOf('offset', levels(count), fine).offset.u;
  expect(uncertainty(1)).toBeGreaterThan(0.001);
  expect(uncertainty(18)).toBeGreaterThan(0.001);
  expect(uncertainty(18)).toBeLessThan(uncertainty(1));
});

test('far from the levels the correction is less certain', () => {
  const correction = correctionOf('line', [point(3.5, 3.52), point(4.1, 4.13)], fine);
  const width = (at: number) => errorInterval(correction, at, 0.0003).high - errorInterval(correction, at, 0.0003).low;
  expect(width(1)).toBeGreaterThan(2 * width(3.8));
});

test("an offset from one level is less certain away from it, by the maker's limit for the gain", () => {
  const correction = correctionOf('offset', [point(3.5, 3.52)], { ...fine, accuracyShare: 0.004 });
  const uncertainty = (volts: number) => corrected({ value: volts, u: 0 }, correction).u;
  expect(uncertainty(4.2) ** 2 - uncertainty(3.5) ** 2).toBeCloseTo(((0.004 / Math.sqrt(3)) * 0.7) ** 2, 9);
});

test('the next error is as wide as so few levels allow: Student for their scatter, and the digit of the reading', () => {
  const scattered = correctionOf('offset', [point(3.57, 3.6), point(3.572, 3.6), point(3.568, 3.6)], {
    ...fine,
    accuracyShare: 0,
  });
  const { low, high } = errorInterval(scattered, 3.57, 0.0003);
  // Deviation 2 mV of three, pooled with 0.3 mV of four: 1.18 mV, and t(6) = 2.447.
  expect((high - low) / 2).toBeGreaterThan(2.447 * 0.00118);
  const single = correctionOf('offset', [point(3.57, 3.6)], { ...fine, accuracyShare: 0 });
  const one = errorInterval(single, 3.57, 0.003);
  expect((one.high - one.low) / 2).toBeGreaterThan(1.96 * 0.003);
});

test('no correction leaves a reading as it is', () => {
  expect(corrected({ value: 3.7, u: 0.001 }, null)).toEqual({ value: 3.7, u: 0.001 });
});

test.each([
  ['nothing read', 'offset', [], fine, 'not measured at the same level'],
  ['a gain from one level', 'line', [point(3.57, 3.6)], fine, 'two levels'],
  ['a gain from equal levels', 'line', [point(3.57, 3.6), point(3.57, 3.601)], fine, 'levels are equal'],
  [
    'a reference worse than the instrument',
    'offset',
    [point(3.57, 3.6, 0.001, 0.02)],
    fine,
    'less certain than the instrument',
  ],
  [
    'a reference coarser than the correction wanted',
    'offset',
    [point(3.594, 3.6, 0.0003, 0.004)],
    fine,
    'must be more accurate',
  ],
  [
    'a last digit coarser than the correction',
    'offset',
    [point(3.6, 3.606, 0.003)],
    { ...fine, resolution: 0.01 },
    'finer than this instrument',
  ],
  ['an error lost in its doubt', 'offset', [point(3.6, 3.606, 0.005)], fine, 'cannot be distinguished from zero'],
] as const)('refused: %s', (_, kind, points, instrument, words) => {
  const verdict = calibrate(kind, points, instrument);
  expect(verdict.ok || calibrationRefusalText(verdict.because)).toContain(words);
});
