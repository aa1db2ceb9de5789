import { createDigitWatch } from '../quantity/lastDigit';
import type { Sample } from './logReader';

/** What the voltage alone shows about a load of known size. */
export interface Sensed {
  /**
   * @param isLoaded whether the load was on
   * @param stepsOn how often the load went on less how often it went off: only its changes mean something
   * @param isLowest no voltage under this load was lower: where it ended, should it turn out to be over
   */
  sample(sample: Sample, isLoaded: boolean, stepsOn: number, isLowest: boolean): void;
  /** The load comes on with the next sample. */
  wentOn(): void;
  /** What came before was no discharge after all: the load goes on only now. */
  beginAnew(): void;
  /** The load went off at the lowest voltage so far, slowly enough to be seen only now. */
  endedAtLowest(): void;
}

/**
 * A jump between neighbouring samples is the load going on or off from this size on, per cell; from this many last
 * digits; from this many usual changes.
 */
const leastJumpV = 0.005;
const leastDigits = 1.6;
/** Before this many samples were seen, what is usual is not known. */
const warmSamples = 12;
const leastChanges = 12;
/** A cell that rose by this much above its lowest voltage is not loaded any more, per cell. */
const recoveredV = 0.03;
const recoveredDigits = 5;
const recoveredChanges = 16;
/** Nothing but a charger lifts a cell so far above every voltage seen before. */
const chargedV = 0.15;
/** This many samples after a jump show whether it lasts. */
const ahead = 3;
/**
 * After a load went on the voltage falls on at less than this share of the rate of the jump; before it, it was quiet
 * within this share.
 */
const slowingFraction = 0.6;
const quietFraction = 0.3;
/** A rest at the head of a log, after a charge, settles by this much at most, per cell. */
const settlingV = 0.05;
/** A jump is this many times quicker than the usual fall. */
const leastTimes = 4;
/**
 * A fall of this many digits in a step does not stop under load; what it rises by then is less than this share of it.
 */
const stalledDigits = 4;
const stalledFraction = 0.35;
/** It would have fallen on by this many digits in the samples that show it. */
const statedDigits = 3;
/** A dip that comes back within this many samples, to fall on from there, was a contact. */
const briefSamples = 10;

type Mode = 'unknown' | 'charging' | 'resting' | 'loaded';

/**
 * Tells from the voltage alone when a load of known size was on: a fall that slows down at once is the load going on, a
 * rise that lasts is it going off, and a voltage that falls ever faster is the end of a discharge, not another load.
 * One load is on or off, never twice on. A log is taken to begin under load until it shows a quiet or rising voltage
 * before a fall. Source: common practice.
 */
export function createVoltageSense(
  { seriesCells, digitV }: { seriesCells: number; digitV: number | undefined },
  sensed: Sensed,
) {
  /** Those up to `at` are judged, and let go many at once: that is done a million times. */
  const samples: Sample[] = [];
  let at = 0;
  const pending = (): Sample[] => samples.slice(at);
  let mode: Mode = 'unknown';
  let previous: Sample | null = null;
  /** Numbers that change with every sample, in one object: a variable of a closure makes a new box of each. */
  const now = {
    /** First voltage of the present mode. */
    firstV: NaN,
    lowestV: Infinity,
    highestV: -Infinity,
    lastChangeV: 0,
    lastRate: 0,
    /** Usual change and usual rise: noise. */
    usualV: 0,
    usualVPerS: 0,
    usualRiseV: 0,
  };
  /** How many samples the present mode has, and the log. */
  let count = 0;
  let seen = 0;
  const digit = createDigitWatch(digitV);
  let stepsOn = 0;
  /** By how much the voltage jumped as the load went on. */
  let onJumpV: number | null = null;
  let dip: { fromV: number; samples: number } | null = null;

  const digits = digit.digit;
  const go = (to: Mode, at: Sample): void => {
    mode = to;
    [now.firstV, count, now.lowestV] = [at.voltageV, 0, at.voltageV];
  };
  const isQuiet = (from: Sample, jumpV: number): boolean =>
    count > 2 &&
    Math.abs(now.firstV - from.voltageV) <=
      Math.max(quietFraction * jumpV + 2 * digits(), mode === 'unknown' ? settlingV * seriesCells : 0);
  const rateV = (from: Sample, to: Sample): number =>
    (from.voltageV - to.voltageV) / Math.max(to.timeS - from.timeS, 1e-9);

  const fallen = (from: Sample, sample: Sample): void => {
    const jumpV = from.voltageV - sample.voltageV;
    const [next, then, last] = pending();
    if (!next) return;
    const rates = [
      rateV(from, sample),
      rateV(sample, next),
      ...(then ? [rateV(next, then)] : []),
      ...(then && last ? [rateV(then, last)] : []),
    ];
    const slowest = rates.at(-1) as number;
    if (
      slowest > slowingFraction * Math.max(...rates.slice(0, -1)) ||
      (rates.length < ahead + 1 && rates.some((rate, i) => i > 0 && rate > slowingFraction * (rates[0] as number)))
    )
      return;
    // The charger is off; whether a rest or a load follows shows only later.
    if (mode === 'charging' || (mode === 'unknown' && from.voltageV - now.firstV > recoveredV * seriesCells)) {
      sensed.beginAnew();
      return go('unknown', sample);
    }
    if (mode === 'resting' || isQuiet(from, jumpV)) {
      if (mode !== 'resting') sensed.beginAnew();
      if (mode !== 'loaded') stepsOn += 1;
      onJumpV = jumpV;
      sensed.wentOn();
      return go('loaded', sample);
    }
    // A dip under load: it may come back.
    if (mode === 'unknown') mode = 'loaded';
    dip = { fromV: from.voltageV, samples: 0 };
  };

  const risen = (from: Sample, sample: Sample, limitV: number): void => {
    const jumpV = sample.voltageV - from.voltageV;
    if (pending().some((one) => one.voltageV < sample.voltageV - quietFraction * jumpV)) return;
    if (mode === 'resting') {
      if (count >= ahead && Math.abs(now.lastChangeV) < quietFraction * jumpV) go('charging', sample);
      return;
    }
    if (mode === 'charging') return;
    if (mode === 'unknown' && count <= ahead + 1) {
      // The logger ran before the cell was there.
      sensed.beginAnew();
      return go('unknown', sample);
    }
    const wasContact =
      dip !== null &&
      dip.samples <= briefSamples &&
      sample.voltageV <= dip.fromV + limitV / 2 &&
      (pending().at(-1)?.voltageV ?? -Infinity) <= sample.voltageV;
    dip = null;
    if (wasContact) {
      now.lowestV = sample.voltageV;
      return;
    }
    stepsOn -= 1;
    go('resting', sample);
  };

  /**
   * Whether the load went off in the step up to this sample although the voltage lies no higher: it fell fast before,
   * and from here on it does not fall any more.
   */
  const hasStalled = (from: Sample, sample: Sample): boolean => {
    // What it fell by in the step before, or would have in this one had it gone on so.
    const fellV = Math.min(-now.lastChangeV, now.lastRate * (sample.timeS - from.timeS));
    if (fellV < leastJumpV * seriesCells) return false;
    const next = samples[at];
    const end = samples[samples.length - 1];
    // A very dense log does not show so soon whether the voltage goes on falling.
    if (!next || !end || now.lastRate * (end.timeS - sample.timeS) < statedDigits * Math.max(digits(), now.usualRiseV))
      return false;
    if (
      count <= ahead ||
      fellV < Math.max(stalledDigits * digits(), leastChanges * now.usualRiseV) ||
      sample.voltageV > from.voltageV + digits()
    )
      return false;
    if (next.voltageV - sample.voltageV > (onJumpV === null ? stalledFraction * fellV : onJumpV / 2)) return false;
    return pending().every(
      (one) => one.voltageV >= sample.voltageV - Math.max(digits(), (now.lastRate / 10) * (one.timeS - sample.timeS)),
    );
  };

  const recovered = (sample: Sample): void => {
    const limitV = Math.max(recoveredV * seriesCells, recoveredDigits * digits(), recoveredChanges * now.usualRiseV);
    if (sample.voltageV - now.lowestV <= limitV || pending().some((one) => one.voltageV < now.lowestV + limitV / 2))
      return;
    if (mode === 'unknown' && now.lowestV >= now.firstV - digits()) return;
    sensed.endedAtLowest();
    go('resting', sample);
  };

  const judge = (sample: Sample): void => {
    digit.push(sample.voltageV);
    if (previous === null) go('unknown', sample);
    else {
      const changeV = sample.voltageV - previous.voltageV;
      const size = Math.abs(changeV);
      const leastV = Math.max(
        (leastJumpV * seriesCells * Math.max(seen, warmSamples)) / Math.max(seen, 1),
        leastDigits * digits(),
      );
      const fallV = Math.max(leastV, leastChanges * now.usualV);
      const riseV = Math.max(leastV, leastChanges * now.usualRiseV);
      const stepS = sample.timeS - previous.timeS;
      const isFall = -changeV > fallV && size > leastTimes * now.usualVPerS * stepS;
      if ((mode === 'loaded' || mode === 'unknown') && hasStalled(previous, sample)) {
        stepsOn -= 1;
        go('resting', sample);
      } else if (isFall) fallen(previous, sample);
      else if (changeV > riseV) risen(previous, sample, riseV);
      // A jump counts as the largest change that would not be one, so that a log that goes on so becomes usual.
      seen += 1;
      const fraction = 1 / Math.min(50, seen);
      now.usualV += (Math.min(size, fallV) - now.usualV) * fraction;
      if (stepS > 0 && !isFall) now.usualVPerS += (size / stepS - now.usualVPerS) * fraction;
      now.usualRiseV += (Math.min(Math.max(0, changeV), riseV) - now.usualRiseV) * fraction;
      now.lastChangeV = changeV;
      now.lastRate = rateV(previous, sample);
    }
    count += 1;
    if (dip) dip.samples += 1;
    if (mode === 'loaded' || mode === 'unknown') recovered(sample);
    else if (sample.voltageV > now.highestV + chargedV * seriesCells) mode = 'charging';
    const isLowest = sample.voltageV <= now.lowestV;
    if (isLowest) now.lowestV = sample.voltageV;
    if (sample.voltageV > now.highestV) now.highestV = sample.voltageV;
    previous = sample;
    sensed.sample(sample, mode === 'loaded' || mode === 'unknown', stepsOn, isLowest);
  };

  const judgeNext = (): void => {
    const sample = samples[at] as Sample;
    at += 1;
    if (at === 256) {
      samples.splice(0, at);
      at = 0;
    }
    judge(sample);
  };

  return {
    push(sample: Sample): void {
      samples.push(sample);
      if (samples.length - at > ahead) judgeNext();
    },
    /** @returns whether the log only ever rose: then nothing in it was a discharge */
    finish(): { onlyRose: boolean } {
      while (at < samples.length) judgeNext();
      return {
        onlyRose: mode === 'unknown' && previous !== null && previous.voltageV > now.firstV + recoveredV * seriesCells,
      };
    },
  };
}
