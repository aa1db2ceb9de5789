import type { NewInstrument } from '@/core/judging/facts';
import { type MeterModel, readingOf } from '@/core/simulation/meter';
import type { Chance } from '@/core/statistics/random';

/** An instrument of the society with what its makers promise, and what the bench never sees: how each channel errs. */
export interface DemoInstrument extends NewInstrument {
  truth: Omit<MeterModel, 'step'>[];
}

const errs = (offset: number, gain = 1, noise = 0.0003): Omit<MeterModel, 'step'> => ({ offset, gain, noise });
const plain = { wires: null, leads: null, certified: false } as const;

/** The third channel of the charger reads low, so it overfills its cell. */
export const instruments: DemoInstrument[] = [
  {
    ...plain,
    code: 'DM1',
    name: 'Bench multimeter, yellow leads',
    kind: 'meter',
    channels: 1,
    ranges: {
      voltage: { resolution: 0.001, accuracyShare: 0.0005, accuracyCounts: 2 },
      current: { resolution: 0.01, accuracyShare: 0.01, accuracyCounts: 3 },
    },
    truth: [errs(0.0006, 1.0002)],
  },
  {
    ...plain,
    code: 'CK1',
    name: 'Cell checker from the choir',
    kind: 'checker',
    channels: 4,
    ranges: { voltage: { resolution: 0.001, accuracyShare: 0.001, accuracyCounts: 3 } },
    truth: [errs(0.002), errs(-0.001), errs(0.0015), errs(-0.002)],
  },
  {
    ...plain,
    code: 'CK2',
    name: 'Cell checker, cracked case',
    kind: 'checker',
    channels: 4,
    ranges: { voltage: { resolution: 0.001, accuracyShare: 0.001, accuracyCounts: 4 } },
    truth: [errs(-0.003), errs(0.001), errs(0.0025), errs(-0.0005)],
  },
  {
    ...plain,
    code: 'CH1',
    name: 'Balancing charger by the window',
    kind: 'charger',
    channels: 4,
    wires: 2,
    leads: { gauge: 22, lengthM: 0.25 },
    charging: {
      maxA: 7,
      maxW: 90,
      dischargeMaxW: 8,
      stepA: 0.1,
      bleedA: 0.2,
      outputs: 2,
      modes: ['4.20', '4.35', '3.65', 'nickel', 'lead'],
    },
    ranges: {
      voltage: { resolution: 0.001, accuracyShare: 0.001, accuracyCounts: 2 },
      resistance: { resolution: 0.001, accuracyShare: 0.05, accuracyCounts: 2 },
    },
    truth: [errs(0.002), errs(-0.001), errs(-0.071), errs(0.001)],
  },
  {
    ...plain,
    code: 'LD1',
    name: 'Load with a fan, on the slate shelf',
    kind: 'load',
    channels: 1,
    ranges: { current: { resolution: 0.01, accuracyShare: 0.01, accuracyCounts: 2 } },
    truth: [errs(0)],
  },
  {
    ...plain,
    code: 'RM1',
    name: 'Milliohm meter with four clips',
    kind: 'meter',
    channels: 1,
    wires: 4,
    ranges: { resistance: { resolution: 0.0001, accuracyShare: 0.005, accuracyCounts: 2 } },
    truth: [errs(0, 1.001, 0.00005)],
  },
];

export const instrumentOf = (code: string): DemoInstrument => {
  const found = instruments.find((one) => one.code === code);
  if (!found) throw new Error(`The demo has no instrument ${code}.`);
  return found;
};

/** What an instrument shows, channel by channel, on a battery of that true voltage. */
export const shownVolts = ({ truth, ranges }: DemoInstrument, trueV: number, chance: Chance): number[] =>
  truth.map((model) => readingOf(trueV, { ...model, step: ranges.voltage?.resolution ?? 0.001 }, chance));

/** The sheet that holds all of them against each other: batteries by name and true voltage. */
export const crossCheck = {
  name: 'All meters, before the lantern season',
  batteries: [
    ['trolley cell, low', 3.412],
    ['trolley cell, half', 3.756],
    ['trolley cell, full', 4.127],
  ] as [string, number][],
};
