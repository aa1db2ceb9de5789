import { calibrate, type CalibrationPoint, corrected, errorInterval } from '@/core/instruments/calibration';
import { consensusOf } from '@/core/instruments/consensus';
import { shownU } from '@/core/instruments/instrument';
import type { Chance } from '@/core/statistics/random';
import { interval, type Population, type TrueCase } from './coverage';
import { between, shown } from './trueCell';

interface Setting {
  /** True voltages of the levels that are read. */
  levels: readonly number[];
  kind: 'offset' | 'line';
  /**
   * Of the meter that is corrected: its gain lies anywhere within that share, and its noise as a share of its digit.
   */
  gainFraction: number;
  noiseDigits: number;
  digit: number;
}

/** A meter corrected against a reference, and what then is said of its next reading of some other battery. */
function calibrationCases(chance: Chance, { levels, kind, gainFraction, noiseDigits, digit }: Setting): TrueCase[] {
  const meter = {
    gain: 1 + between(chance, -gainFraction, gainFraction),
    offset: between(chance, -0.05, 0.05),
    noise: noiseDigits * digit,
    digit,
  };
  const referenceError = chance.normal(0, 0.0005);
  const points = levels.map((trueV): CalibrationPoint => ({
    reading: { value: shown(trueV, meter, chance), u: shownU(digit) },
    reference: { value: trueV + referenceError, u: 0.0005 },
  }));
  const verdict = calibrate(kind, points, { resolution: digit, statedU: 0.03, accuracyShare: gainFraction });
  const trueV = between(chance, 3.1, 4.2);
  if (!verdict.ok)
    return [
      { told: null, truth: 0 },
      { told: null, truth: trueV },
    ];
  const next = shown(trueV, meter, chance);
  const { low, high } = errorInterval(verdict.correction, next, shownU(digit));
  return [
    { told: interval(low, high), truth: next - trueV },
    { told: corrected({ value: next, u: shownU(digit) }, verdict.correction), truth: trueV },
  ];
}

/** Meters on one battery, one of them wrong by more than its maker promises. */
function consensusCase(chance: Chance, us: readonly number[], wrong: { u: number; offV: number } | null): TrueCase {
  const trueV = between(chance, 3.2, 4.15);
  const opinions = us.map((u, i) => ({
    of: `m${i}`,
    instrument: `m${i}`,
    reading: { value: trueV + chance.normal(0, u), u },
  }));
  if (wrong) opinions.push({ of: 'wrong', instrument: 'wrong', reading: { value: trueV + wrong.offV, u: wrong.u } });
  const found = consensusOf(opinions);
  return { told: found.kind === 'agreed' ? found.reference : null, truth: trueV };
}

const calibration = (made: string, change: Partial<Setting>): Population => ({
  figures: ['error of the next reading', 'corrected voltage'],
  made,
  draw: (chance) =>
    calibrationCases(chance, {
      levels: [3.3, 3.7, 4.1],
      kind: 'offset',
      gainFraction: 0.003,
      noiseDigits: 0.5,
      digit: 0.001,
      ...change,
    }),
});

const consensus = (made: string, us: readonly number[], wrong: { u: number; offV: number } | null): Population => ({
  figures: ['reference of a cross-check'],
  made,
  draw: (chance) => [consensusCase(chance, us, wrong)],
});

export const instrumentPopulations: Population[] = [
  calibration('offset from one level', { levels: [3.7] }),
  calibration('offset from two levels', { levels: [3.4, 4.0] }),
  calibration('offset from three levels', {}),
  calibration('offset and gain from three levels', { kind: 'line', gainFraction: 0.01 }),
  calibration('offset and gain from five levels', {
    kind: 'line',
    gainFraction: 0.01,
    levels: [3.2, 3.45, 3.7, 3.95, 4.15],
  }),
  consensus('five meters that are as good as they promise', [0.001, 0.002, 0.002, 0.003, 0.004], null),
  consensus('five meters and one 60 mV low', [0.001, 0.002, 0.002, 0.003, 0.004], { u: 0.002, offV: -0.06 }),
  consensus('four coarse meters and a fine one 6 mV high', [0.004, 0.004, 0.004, 0.004], { u: 0.0003, offV: 0.006 }),
  consensus('four coarse meters and a fine one 15 mV high', [0.004, 0.004, 0.004, 0.004], { u: 0.0003, offV: 0.015 }),
];
