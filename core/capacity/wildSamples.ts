import { median } from 'simple-statistics';
import type { Sample } from './logReader';

const halfWindow = 3;
/** A current this far off its neighbours explains a voltage that is off too. */
const explainedBy = 0.2;

export interface WildFilter {
  push(sample: Sample): void;
  finish(): void;
  /** How many were left out, and when the first few were. */
  found(): { count: number; atS: readonly number[] };
}

/**
 * Passes samples on and leaves out wild ones: voltages that stand apart from the median of the three before and the three
 * after them by more than `limitV`, while no change of current explains it. Up to three wild samples in a row are found;
 * a lasting step of voltage is never one. Source: common practice (a running median, after Hampel 1974).
 *
 * @param pass called with each sample that stays, in order, three samples late
 */
export function createWildFilter(limitV: number, pass: (sample: Sample) => void): WildFilter {
  const window: Sample[] = [];
  const atS: number[] = [];
  let count = 0;
  let judgedAny = false;

  const isWild = (sample: Sample): boolean => {
    let [least, most] = [Infinity, -Infinity];
    for (const { voltageV } of window) {
      if (voltageV < least) least = voltageV;
      if (voltageV > most) most = voltageV;
    }
    if (most - least <= limitV || window.length < 3) return false;
    if (Math.abs(sample.voltageV - median(window.map((other) => other.voltageV))) <= limitV) return false;
    return !currentExplains(sample, window);
  };

  const judge = (from: number, to: number): void => {
    for (let i = from; i < to; i++) {
      const sample = window[i] as Sample;
      if (!isWild(sample)) {
        pass(sample);
        continue;
      }
      count += 1;
      if (atS.length < 5) atS.push(sample.timeS);
    }
  };

  return {
    push(sample) {
      window.push(sample);
      if (window.length > 2 * halfWindow + 1) window.shift();
      if (window.length <= 2 * halfWindow) return;
      judge(judgedAny ? halfWindow : 0, halfWindow + 1);
      judgedAny = true;
    },
    // The last three are judged by the last whole window, so that wild ones cannot be the majority of a shorter one.
    finish: () => judge(judgedAny ? halfWindow + 1 : 0, window.length),
    found: () => ({ count, atS }),
  };
}

function currentExplains(sample: Sample, window: readonly Sample[]): boolean {
  const currents = window.map((other) => other.currentA).filter((current) => current !== null);
  if (sample.currentA === null || currents.length === 0) return false;
  return Math.abs(sample.currentA - median(currents)) > explainedBy * Math.max(...currents.map(Math.abs));
}
