import type { Chance } from '../statistics/random';

/** How an instrument turns a true value into a reading. */
export interface MeterModel {
  offset: number;
  gain: number;
  /** Standard deviation of its noise. */
  noise: number;
  /** Last digit shown. */
  step: number;
}

/** A reading of that value, rounded to the last digit shown. */
export function readingOf(trueValue: number, { offset, gain, noise, step }: MeterModel, chance: Chance): number {
  const shown = trueValue * gain + offset + chance.normal(0, noise);
  return Number((Math.round(shown / step) * step).toPrecision(12));
}
