import { createDigitWatch } from '../quantity/lastDigit';
import { rectangular } from '../quantity/quantity';
import { type CutoffMet, cutoffMet, type LogPoint } from './cutoff';

/** A crossing lasts when this many samples and seconds stay below it. */
const lastingSamples = 3;
const lastingS = 10;
/** A load that returns within this time was only interrupted. */
const interruptedS = 60;
/** A silence is a gap beyond this many usual steps and at least this long. */
const gapSteps = 10;
const leastGapS = 30;
/** A charge of more than this share of what was discharged begins another discharge. */
const chargedFraction = 0.02;
/** A change of current beyond this share between two samples happened anywhere between them. */
const stepFraction = 0.2;
/** The last stretch before the cut-off: how many points, each averaged over at least this time. */
const stretchS = 0.5;
const stretches = 24;

/** What is tallied of a sample. */
export interface Tallying {
  timeS: number;
  voltageV: number;
  /** What is compared with the cut-off: the voltage itself, or that of the lowest group of a pack. */
  watchedV: number;
  /** Null where no groups were logged. */
  groupsV: readonly number[] | null;
}

/** A discharge at this much charge, so far. */
export interface CourseAt {
  chargeAs: number;
  voltageV: number;
  /** Null where no groups were logged. */
  groupsV: readonly number[] | null;
}

/** Charge, energy and time of one discharge, under load alone. */
interface Counted {
  fromS: number;
  /** When it was last loaded. */
  toS: number;
  loadedS: number;
  chargeAs: number;
  energyWs: number;
  voltSeconds: number;
  voltageV: number;
  watchedV: number;
  groupsV: readonly number[] | null;
  /** From when exactly the load went on, off or changed. */
  switchVarianceAs2: number;
  gapVarianceAs2: number;
}

/** How a discharge met its cut-off. */
export interface DischargeEnd {
  uS: number;
  /** Between the samples on either side of it. */
  stepS: number;
  /** No sample under load lay below the cut-off. */
  carriedOn: boolean;
  inGap: boolean;
}

export interface Tallied extends Counted {
  gaps: { fromS: number; toS: number }[];
  restBeforeS: number;
  restBetweenS: number;
  restAfterS: number;
  /** Null: it ended above the cut-off, or none was asked for. */
  end: DischargeEnd | null;
  endVarianceAs2: number;
  briefDips: number;
  /** Thinned. */
  course: CourseAt[];
  /** By how much each group jumped as the load came on or, where that was not logged, went off; null without both. */
  groupJumpsV: number[] | null;
}

export interface TallySettings {
  cutoffV: number | undefined;
  /** The most by which the voltmeter may be off at the cut-off, V. */
  limitV: number;
  /** Last digit of what is watched, where it is known. */
  digitV: number | undefined;
  /** A resistor draws less as the voltage falls; null for other loads. */
  resistorOhm: number | null;
}

interface Ended {
  counted: Counted;
  end: DischargeEnd;
  varianceAs2: number;
}

interface Point {
  voltageV: number;
  currentA: number;
}

/** A copy, in place of one that is not needed any more. */
function copied(counted: Counted, over: Counted | null): Counted {
  if (over === null) return { ...counted };
  over.fromS = counted.fromS;
  over.toS = counted.toS;
  over.loadedS = counted.loadedS;
  over.chargeAs = counted.chargeAs;
  over.energyWs = counted.energyWs;
  over.voltSeconds = counted.voltSeconds;
  over.voltageV = counted.voltageV;
  over.watchedV = counted.watchedV;
  over.groupsV = counted.groupsV;
  over.switchVarianceAs2 = counted.switchVarianceAs2;
  over.gapVarianceAs2 = counted.gapVarianceAs2;
  return over;
}

type Drawn = Tallying & { currentA: number };

/** A sample with its current, in place of the one before. */
function keptOf(over: Drawn | null, { timeS, voltageV, watchedV, groupsV }: Tallying, currentA: number): Drawn {
  if (over === null) return { timeS, voltageV, watchedV, groupsV, currentA };
  over.timeS = timeS;
  over.voltageV = voltageV;
  over.watchedV = watchedV;
  over.groupsV = groupsV;
  over.currentA = currentA;
  return over;
}

/** Counts a stretch under load by the trapezoid rule. */
function addStretch(counted: Counted, stepS: number, from: Point, to: Point): void {
  counted.loadedS += stepS;
  counted.chargeAs += ((from.currentA + to.currentA) / 2) * stepS;
  counted.energyWs += ((from.currentA * from.voltageV + to.currentA * to.voltageV) / 2) * stepS;
  counted.voltSeconds += ((from.voltageV + to.voltageV) / 2) * stepS;
}

const none = (sample: Tallying): Counted => ({
  fromS: sample.timeS,
  toS: sample.timeS,
  loadedS: 0,
  chargeAs: 0,
  energyWs: 0,
  voltSeconds: 0,
  voltageV: sample.voltageV,
  watchedV: sample.watchedV,
  groupsV: sample.groupsV,
  switchVarianceAs2: 0,
  gapVarianceAs2: 0,
});

/**
 * Counts one discharge after the other, sample by sample, in constant memory, and keeps the one that counts: the first
 * that met its cut-off, else the largest.
 */
export function createDischargeTally({ cutoffV, limitV, digitV, resistorOhm }: TallySettings) {
  let logFromS: number | null = null;
  let counted: Counted | null = null;
  let previous: Drawn | null = null;
  let lowest: Counted | null = null;
  let started = cutoffV === undefined;
  /** In one object: a number in a variable of a closure is boxed again at every change. */
  const usual = { stepS: 0 };
  let gaps: { fromS: number; toS: number }[] = [];
  let restBetweenS = 0;
  let onJumpV: number | null = null;
  let wentOnNow = false;
  let groupJumpsV: number[] | null = null;
  const course = createCourse();
  let offSinceS: number | null = null;
  let chargedS = 0;
  /** Below the cut-off, not yet for long. */
  let pending: { ended: Ended; sinceS: number; samples: number } | null = null;
  /** The load went off at the cut-off. */
  let provisional: { ended: Ended; atS: number; aboveSamples: number } | null = null;
  let settled: Ended | null = null;
  let briefDips = 0;
  let best: Tallied | null = null;
  const last = createLastStretch(digitV);

  /** Closes the present discharge; a later one is another. */
  const close = (endS: number): void => {
    const tallied = result(endS);
    if (tallied && (best === null || (best.end === null && (tallied.end !== null || tallied.chargeAs > best.chargeAs))))
      best = tallied;
    forget();
  };
  const forget = (): void => {
    [counted, lowest, pending, provisional, gaps, restBetweenS, offSinceS, briefDips] = [
      null,
      null,
      null,
      null,
      [],
      0,
      null,
      0,
    ];
    settled = null;
    groupJumpsV = null;
    started = cutoffV === undefined;
    last.clear();
    course.clear();
  };
  const result = (endS: number): Tallied | null => {
    if (!counted) return null;
    const ended = settled ?? pending?.ended ?? provisional?.ended ?? null;
    const whole = ended?.counted ?? counted;
    // A log that begins under load began with it, as a device's does, or anywhere in the step after it came on: up to a
    // whole step is missing, and with two of these no more.
    const begunU =
      whole.fromS === logFromS && whole.loadedS > 0 ? ((whole.chargeAs / whole.loadedS) * usual.stepS) / 2 : 0;
    return {
      ...whole,
      switchVarianceAs2: whole.switchVarianceAs2 + begunU ** 2,
      gaps: gaps.filter((gap) => gap.fromS < whole.toS),
      restBeforeS: whole.fromS - (logFromS ?? 0),
      restBetweenS,
      restAfterS: offSinceS === null ? 0 : Math.max(0, endS - Math.max(offSinceS, whole.toS)),
      end: ended?.end ?? null,
      endVarianceAs2: ended?.varianceAs2 ?? 0,
      briefDips,
      course: course.upTo(whole.chargeAs),
      groupJumpsV,
    };
  };

  const endAt = (met: CutoffMet, from: Counted, currentA: number, below: Tallying | null, latestS: number): Ended => {
    const stepS = met.atS - from.toS;
    // What is watched falls to the cut-off, and the whole by as much.
    const endV = from.voltageV - from.watchedV + (cutoffV ?? from.watchedV);
    const endA = resistorOhm === null ? currentA : endV / resistorOhm;
    const chargeAs = ((currentA + endA) / 2) * stepS;
    return {
      counted: {
        ...from,
        toS: met.atS,
        loadedS: from.loadedS + stepS,
        chargeAs: from.chargeAs + chargeAs,
        energyWs: from.energyWs + (chargeAs * (from.voltageV + endV)) / 2,
        voltSeconds: from.voltSeconds + ((from.voltageV + endV) / 2) * stepS,
        voltageV: below ? endV : from.voltageV,
        watchedV: below && cutoffV !== undefined ? cutoffV : from.watchedV,
        groupsV: below
          ? between(from, below, (from.watchedV - (cutoffV ?? 0)) / (from.watchedV - below.watchedV))
          : from.groupsV,
      },
      end: { uS: met.uS, stepS: latestS - from.toS, carriedOn: below === null, inGap: isGap(latestS - from.toS) },
      varianceAs2: (endA * met.uS) ** 2,
    };
  };
  const meet = (
    points: readonly LogPoint[],
    from: Counted,
    below: Tallying | null,
    latestS: number,
    restedV: number | null = null,
  ): CutoffMet =>
    cutoffMet({
      cutoffV: cutoffV ?? 0,
      endedV: restedV === null || onJumpV === null ? null : restedV - onJumpV,
      points: points.length > 0 ? points : [{ timeS: from.toS, voltageV: from.watchedV }],
      below: below && { timeS: below.timeS, voltageV: below.watchedV },
      latestS,
      inSilence: isGap(latestS - from.toS),
      readingU: last.readingU(),
      limitV,
    });
  const isGap = (stepS: number): boolean => usual.stepS > 0 && stepS > Math.max(leastGapS, gapSteps * usual.stepS);

  /** The load is off, or the log ends: was that the cut-off? */
  const endLoad = (latestS: number, currentA: number, restedV: number | null): void => {
    if (!counted || settled || cutoffV === undefined || !started) return;
    if (pending) {
      provisional = { ended: pending.ended, atS: latestS, aboveSamples: 0 };
      pending = null;
      return;
    }
    if (provisional) return;
    const met = meet(last.upTo(counted.toS), counted, null, latestS, restedV);
    if (met.reached)
      provisional = { ended: endAt(met, counted, currentA, null, latestS), atS: latestS, aboveSamples: 0 };
  };

  const goOn = (sample: Tallying, currentA: number): void => {
    if (!counted) {
      counted = none(sample);
      started = cutoffV === undefined || sample.watchedV >= cutoffV;
    }
    if (offSinceS !== null) restBetweenS += sample.timeS - offSinceS;
    offSinceS = null;
    if (!previous) return;
    if (previous.watchedV > sample.watchedV) onJumpV = previous.watchedV - sample.watchedV;
    groupJumpsV ??= jumpsBetween(previous, sample);
    // The load went on somewhere between the two samples.
    const stepS = sample.timeS - previous.timeS;
    const now = { voltageV: sample.voltageV, currentA };
    counted.fromS = counted.chargeAs === 0 ? sample.timeS - stepS / 2 : counted.fromS;
    addStretch(counted, stepS / 2, now, now);
    counted.switchVarianceAs2 += rectangular(currentA * stepS) ** 2;
    counted.toS = sample.timeS;
    look(counted, sample);
  };

  const stayOn = (sample: Tallying, currentA: number): void => {
    if (!counted || !previous) return;
    const before: Counted | null =
      cutoffV !== undefined && started && sample.watchedV < cutoffV && !pending ? { ...counted } : null;
    const stepS = sample.timeS - previous.timeS;
    addStretch(counted, stepS, previous, { voltageV: sample.voltageV, currentA });
    counted.toS = sample.timeS;
    look(counted, sample);
    const changeA = Math.abs(currentA - previous.currentA);
    if (isGap(stepS)) {
      gaps.push({ fromS: previous.timeS, toS: sample.timeS });
      counted.gapVarianceAs2 += rectangular(changeA * stepS) ** 2;
    } else {
      usual.stepS = usual.stepS === 0 ? stepS : 0.95 * usual.stepS + 0.05 * stepS;
      if (changeA > stepFraction * Math.max(currentA, previous.currentA))
        counted.switchVarianceAs2 += rectangular(changeA * stepS) ** 2;
    }
    watchCutoff(sample, before, previous.currentA);
  };

  /** Its present totals, and its course. */
  const look = (counted: Counted, { voltageV, watchedV, groupsV }: Tallying): void => {
    counted.voltageV = voltageV;
    counted.watchedV = watchedV;
    counted.groupsV = groupsV;
    course.push(counted.chargeAs, voltageV, groupsV);
  };

  const watchCutoff = (sample: Tallying, before: Counted | null, beforeA: number): void => {
    if (cutoffV === undefined) return;
    if (!started) {
      started = sample.watchedV >= cutoffV;
      return;
    }
    if (sample.watchedV >= cutoffV) {
      if (pending) briefDips += 1;
      pending = null;
      if (provisional) {
        provisional.aboveSamples += 1;
        if (provisional.aboveSamples >= lastingSamples && sample.timeS - provisional.atS >= lastingS)
          [provisional, briefDips] = [null, briefDips + 1];
      }
      return;
    }
    if (pending) pending.samples += 1;
    else if (before) {
      const met = meet(last.upTo(before.toS), before, sample, sample.timeS);
      pending = { ended: endAt(met, before, beforeA, sample, sample.timeS), sinceS: sample.timeS, samples: 1 };
    }
    if (pending && pending.samples >= lastingSamples && sample.timeS - pending.sinceS >= lastingS)
      settled = pending.ended;
  };

  const endAtLowest = (): void => {
    if (!counted || !lowest || !previous) return;
    counted = lowest;
    lowest = null;
    offSinceS = counted.toS;
    endLoad(counted.toS, previous.currentA, null);
  };

  return {
    /** @param currentA positive; 0 where no load is on · @param isCharge current flows the other way */
    push(sample: Tallying, currentA: number, isCharge = false): void {
      logFromS ??= sample.timeS;
      if (settled) {
        offSinceS ??= currentA > 0 ? null : sample.timeS;
        if (isCharge) close(sample.timeS);
        return;
      }
      const stepS = previous ? sample.timeS - previous.timeS : 0;
      if (previous && stepS <= 0) return;
      const [wasOn, isOn] = [(previous?.currentA ?? 0) > 0, currentA > 0];
      if (wentOnNow && previous) onJumpV = previous.watchedV - sample.watchedV;
      wentOnNow = false;
      if (isOn) {
        chargedS = 0;
        if (wasOn) stayOn(sample, currentA);
        else {
          if (provisional && sample.timeS - provisional.atS > interruptedS) settled = provisional.ended;
          if (settled) return;
          goOn(sample, currentA);
        }
        last.push(sample.timeS, sample.watchedV, stepS);
      } else if (wasOn && previous && counted) {
        endLoad(sample.timeS, previous.currentA, sample.watchedV);
        groupJumpsV ??= jumpsBetween(sample, previous);
        // It went off somewhere between the two samples; within a silence that is not known, and nothing of it is
        // counted.
        const moreS = isGap(stepS) ? 0 : stepS / 2;
        addStretch(counted, moreS, previous, previous);
        counted.switchVarianceAs2 += rectangular(2 * previous.currentA * moreS) ** 2;
        counted.toS += moreS;
        offSinceS = counted.toS;
        lowest = null;
      }
      if (isCharge && counted) {
        chargedS += stepS;
        if (chargedS > chargedFraction * counted.loadedS) close(sample.timeS);
      }
      previous = keptOf(previous, sample, currentA);
    },
    beginAnew(): void {
      forget();
      if (previous) previous.currentA = 0;
    },
    /** The load's end may show only later, by a voltage that recovers: then it ended at the sample last marked. */
    markLowest(): void {
      lowest = counted && copied(counted, lowest);
    },
    endAtLowest,
    /** The load comes on with the next sample. */
    wentOn(): void {
      wentOnNow = true;
    },
    /** What was counted so far at less than this current was noise. */
    forgetBelow(leastA: number): void {
      if (counted && counted.loadedS > 0 && counted.chargeAs / counted.loadedS < leastA) this.beginAnew();
    },
    finish(): Tallied | null {
      const endS = previous?.timeS ?? 0;
      if (previous && previous.currentA > 0) endLoad(endS + usual.stepS, previous.currentA, null);
      close(endS);
      return best;
    },
  };
}

export type DischargeTally = ReturnType<typeof createDischargeTally>;

/** By how much each group stood higher before than after. */
const jumpsBetween = (before: Tallying, after: Tallying): number[] | null =>
  before.groupsV && after.groupsV && before.groupsV.map((v, i) => v - (after.groupsV?.[i] ?? NaN));

/** The groups at a share of the way from one sample to the next. */
const between = (from: Counted, to: Tallying, fraction: number): number[] | null =>
  from.groupsV && to.groupsV && from.groupsV.map((v, i) => v + fraction * ((to.groupsV?.[i] ?? NaN) - v));

/** This many points make a curve. */
const coursePoints = 512;

/** The groups over the charge, every so many samples: in constant memory. */
function createCourse() {
  let points: CourseAt[] = [];
  let every = 1;
  let seen = 0;
  return {
    push(chargeAs: number, voltageV: number, groupsV: readonly number[] | null): void {
      if (seen++ % every !== 0) return;
      points.push({ chargeAs, voltageV, groupsV });
      if (points.length < 2 * coursePoints) return;
      points = points.filter((_, i) => i % 2 === 0);
      every *= 2;
    },
    upTo: (chargeAs: number): CourseAt[] => points.filter((point) => point.chargeAs <= chargeAs),
    clear(): void {
      points = [];
      [every, seen] = [1, 0];
    },
  };
}

/** The last points under load, averaged over short stretches, with the noise and the digit of one reading. */
function createLastStretch(digitV: number | undefined) {
  let points: (LogPoint & { count: number; fromS: number })[] = [];
  /** Its noise, and the voltages one and two samples before: in one object, since each is boxed again in a variable. */
  const now = { noiseV2: 0, one: NaN, two: NaN };
  const digit = createDigitWatch(digitV);
  return {
    push(timeS: number, voltageV: number, stepS: number): void {
      digit.push(voltageV);
      if (!Number.isNaN(now.two)) {
        // Second differences do not see a straight fall; a knee and a step are no noise.
        const second2 = (voltageV - 2 * now.one + now.two) ** 2 / 6;
        now.noiseV2 += (Math.min(second2, 9 * now.noiseV2 + digit.digit() ** 2) - now.noiseV2) / 100;
      }
      now.two = now.one;
      now.one = voltageV;
      const open = points[points.length - 1];
      if (open && stepS > 0 && timeS - open.fromS < stretchS) {
        open.count += 1;
        open.timeS += (timeS - open.timeS) / open.count;
        open.voltageV += (voltageV - open.voltageV) / open.count;
        return;
      }
      points.push({ timeS, voltageV, count: 1, fromS: timeS });
      if (points.length > stretches) points.shift();
    },
    upTo: (timeS: number): LogPoint[] => points.filter((point) => point.timeS <= timeS + 1e-9),
    /** Standard uncertainty of a reading. */
    readingU: (): number => Math.hypot(Math.sqrt(now.noiseV2), rectangular(digit.digit())),
    clear(): void {
      points = [];
      now.one = NaN;
      now.two = NaN;
    },
  };
}
