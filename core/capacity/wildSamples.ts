import { median } from 'simple-statistics';
import type { Sample } from './logReader';

/** This many wild samples in a row are found; more are no accident. */
const longestRun = 3;
/** This many are kept to be shown. */
const mostKept = 200;
/** A current this far off its neighbours explains a voltage that is off too. */
const explainedBy = 0.2;
/**
 * The first and the last row of a log have a neighbour on one side only: it is wild only when it is this many times
 * off.
 */
const timesOff = 2;
/** A voltage that fell by this share of the limit in the step before it leapt is the steep end of a discharge. */
const steepFraction = 0.1;

export interface WildFilter {
  push(sample: Sample): void;
  finish(): void;
  /** How many were left out, and the first of them. */
  found(): { count: number; samples: readonly Sample[] };
}

/**
 * Passes samples on and leaves out wild ones: up to three in a row that leave the voltage before them by more than
 * `limitV` and come back to it, while no change of current explains it. The steep end of a discharge leaves as well,
 * but what follows it is a cell that recovers, or nothing: it stays, and so does the last row of a log unless it is
 * twice as high as any before. Source: common practice.
 *
 * @param pass called with each sample that stays, in order; some come a few samples late
 */
export function createWildFilter(limitV: number, pass: (sample: Sample) => void): WildFilter {
  let kept: Sample | null = null;
  let fellV = 0;
  let highestV = 0;
  /** The first samples of the log, and later those since the voltage leapt. */
  let held: Sample[] = [];
  const wild: Sample[] = [];
  let count = 0;

  const keep = (sample: Sample): void => {
    fellV = kept === null ? 0 : kept.voltageV - sample.voltageV;
    if (sample.voltageV > highestV) highestV = sample.voltageV;
    kept = sample;
    pass(sample);
  };
  const leaveOut = (samples: readonly Sample[]): void => {
    count += samples.length;
    wild.push(...samples.slice(0, mostKept - wild.length));
  };
  const isNear = (sample: Sample, to: Sample): boolean => Math.abs(sample.voltageV - to.voltageV) <= limitV;

  const begin = (): void => {
    const usualV = median(held.map((one) => one.voltageV));
    const isWild = ({ voltageV }: Sample): boolean =>
      held.length > 2 && usualV > 0 && (voltageV > timesOff * usualV || voltageV < usualV / timesOff);
    const from = Math.min(
      longestRun,
      held.findIndex((one) => !isWild(one)),
    );
    leaveOut(held.splice(0, from));
    const rest = held;
    held = [];
    rest.forEach(take);
  };

  const take = (sample: Sample): void => {
    if (kept === null || (held.length === 0 && isNear(sample, kept))) return keep(sample);
    held.push(sample);
    settle(kept, false);
  };

  /** How many of those held are wild; null while more must be seen. */
  const wildOf = (from: Sample, isEnd: boolean): number | null => {
    const away = held.findIndex((one) => isNear(one, from));
    if (away < 0) {
      if (held.length > longestRun) return 0;
      return isEnd ? held.filter((one) => highestV > 0 && one.voltageV > timesOff * highestV).length : null;
    }
    const [first, back, next] = [held[0] as Sample, held[away] as Sample, held[away + 1]];
    if (!next && !isEnd) return null;
    const isSteepEnd = first.voltageV < from.voltageV && fellV > steepFraction * limitV;
    const recovers = !next || next.voltageV >= back.voltageV || back.voltageV > from.voltageV + steepFraction * limitV;
    return (isSteepEnd && recovers) || currentExplains(first, [from, back]) ? 0 : away;
  };

  const settle = (from: Sample, isEnd: boolean): void => {
    const wild = wildOf(from, isEnd);
    if (wild === null) return;
    leaveOut(held.splice(0, wild));
    const rest = held;
    held = [];
    // What was held leapt for good, or came back.
    const [first, ...others] = rest;
    if (first) keep(first);
    others.forEach(take);
  };

  return {
    push(sample) {
      if (kept !== null) return take(sample);
      held.push(sample);
      if (held.length > 2 * longestRun) begin();
    },
    finish() {
      if (kept === null && held.length > 0) begin();
      while (kept !== null && held.length > 0) settle(kept, true);
    },
    found: () => ({ count, samples: wild }),
  };
}

function currentExplains({ currentA }: Sample, others: readonly Sample[]): boolean {
  const currents = others.map((other) => other.currentA).filter((current) => current !== null);
  if (currentA === null || currents.length === 0) return false;
  return Math.abs(currentA - median(currents)) > explainedBy * Math.max(Math.abs(currentA), ...currents.map(Math.abs));
}
