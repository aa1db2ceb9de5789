import type { Sample } from './logReader';

/** A jump of voltage between neighbouring samples shows the load going on or off from this size on, per cell. */
const leastJumpV = 0.015;
/** And from this many usual changes on. */
const leastChanges = 12;
const longestGapS = 2;

/**
 * Tells from jumps of voltage alone when a load of known size went on and off, for logs without a column of current. The
 * current given back counts from an unknown level: only its steps mean something.
 */
export function createSwitchGuess(seriesCells: number) {
  let previous: Sample | null = null;
  let usualChangeV = 0;
  let levelA: number | null = null;
  return {
    /** @param loadA what the load draws while it is on */
    currentA(sample: Sample, loadA: number): number {
      levelA ??= loadA;
      if (previous) {
        const change = sample.voltageV - previous.voltageV;
        const isJump = Math.abs(change) > Math.max(leastJumpV * seriesCells, leastChanges * usualChangeV) && sample.timeS - previous.timeS <= longestGapS;
        if (isJump) levelA -= Math.sign(change) * loadA;
        else usualChangeV += (Math.abs(change) - usualChangeV) / 50;
      }
      previous = sample;
      return levelA;
    },
  };
}
