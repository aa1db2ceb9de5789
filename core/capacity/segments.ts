import { createRunningDeviation } from '../statistics/runningDeviation';
import type { Counter } from './logColumns';
import type { Sample } from './logReader';

export type SegmentKind = 'rest' | 'discharge' | 'charge';
export type SegmentMode = 'constant-current' | 'constant-voltage' | 'resistor' | 'power' | 'pulse' | 'other';

/** A stretch of a log in which one thing went on. */
export interface Segment {
  kind: SegmentKind;
  /** What was held; a rest holds nothing: `other`. */
  mode: SegmentMode;
  fromS: number;
  toS: number;
  /** What flowed in it, out of the cell or into it. */
  chargeAh: number;
  energyWh: number;
  startVoltageV: number;
  endVoltageV: number;
  /** As the device numbered them, where it did. */
  cycle?: number;
  step?: number;
}

/** How a load of a known kind draws. */
export type GivenMode = Extract<SegmentMode, 'constant-current' | 'resistor'>;
/** The sign of a current; 0 where none flows. */
export type Way = -1 | 0 | 1;

/** This many segments of one log are listed; those beyond are counted. */
export const mostSegments = 500;
/** What flows for less is a pulse. */
const longestPulseS = 60;
/** What is held keeps within this share; what is not moves by more than that. */
const heldFraction = 0.02;
const movedFraction = 0.04;
/** A current that changed by this share from one sample to the next, and by that share of the largest, is another. */
const stepFraction = 0.2;
const stepOfLargest = 0.05;
/** A taper has begun once the current lies so far below where it was held while the voltage stayed. */
const taperFraction = 0.03;
const stayedFraction = 0.005;
const stillHeldFraction = 0.01;
/** This many samples show where a current is held. */
const samplesToHold = 10;

const modes = ['current', 'voltage', 'resistance', 'power'] as const;

interface Point {
  timeS: number;
  voltageV: number;
  currentA: number;
}

/** What flowed up to a sample. */
interface UpTo {
  last: Point;
  chargeAs: number;
  energyWs: number;
}

/** The device's own numbers of cycle and step; null where it has none. */
type Numbered = Pick<Sample, Counter>;
const isAnother = (one: Numbered, other: Numbered): boolean =>
  differ(one.cycle, other.cycle) || differ(one.step, other.step);
const differ = (one: number | null | undefined, other: number | null | undefined): boolean =>
  one != null && other != null && one !== other;

interface Open extends UpTo {
  way: Way;
  fromS: number;
  start: Point;
  samples: number;
  largestA: number;
  isTaper: boolean;
  numbered: Numbered;
  /** Up to where the current was held. */
  held: UpTo | null;
  spread: Record<(typeof modes)[number], ReturnType<typeof createRunningDeviation>>;
}

type Closed = Omit<Segment, 'kind'> & { way: Way };

const isBelow = ({ way, chargeAh, fromS, toS }: Closed, leastA: number): boolean =>
  way !== 0 && 3600 * chargeAh < leastA * (toS - fromS);

/** A rest behind a rest is one with it. */
function addTo(list: Closed[], one: Closed): void {
  const last = list.at(-1);
  if (last?.way === 0 && one.way === 0) [last.toS, last.endVoltageV] = [one.toS, one.endVoltageV];
  else list.push(one);
}

const openAt = (way: Way, fromS: number, start: Point, numbered: Numbered): Open => ({
  way,
  numbered,
  fromS,
  start,
  last: start,
  chargeAs: 0,
  energyWs: 0,
  samples: 0,
  largestA: 0,
  isTaper: false,
  held: null,
  spread: {
    current: createRunningDeviation(),
    voltage: createRunningDeviation(),
    resistance: createRunningDeviation(),
    power: createRunningDeviation(),
  },
});

function take(open: Open, point: Point, given: GivenMode | null): void {
  open.last = point;
  open.samples += 1;
  if (open.way === 0) return;
  const sizeA = Math.abs(point.currentA);
  if (sizeA > open.largestA) open.largestA = sizeA;
  if (given) return;
  open.spread.voltage.push(point.voltageV);
  open.spread.current.push(sizeA);
  open.spread.resistance.push(point.voltageV / sizeA);
  open.spread.power.push(point.voltageV * sizeA);
}

/** Counts a step of time by the trapezoid rule. */
function count(open: Open, stepS: number, from: Point, to: Point): void {
  if (open.way === 0) return;
  const [fromA, toA] = [Math.abs(from.currentA), Math.abs(to.currentA)];
  open.chargeAs += (stepS * (fromA + toA)) / 2;
  open.energyWs += (stepS * (fromA * from.voltageV + toA * to.voltageV)) / 2;
}

/** What was held; where the voltage hardly moved, a current, a resistor and a power look the same. */
function modeOf({ way, fromS, isTaper, spread }: Open, toS: number, given: GivenMode | null): SegmentMode {
  if (way === 0) return 'other';
  if (toS - fromS < longestPulseS) return 'pulse';
  if (given) return given;
  const [current, voltage, resistance, power] = modes.map((mode) => spread[mode].share()) as [
    number,
    number,
    number,
    number,
  ];
  if (voltage < heldFraction / 2 && (isTaper || current > movedFraction)) return 'constant-voltage';
  if (current < heldFraction && (voltage < movedFraction / 2 || current < Math.min(resistance, power)))
    return 'constant-current';
  if (Math.min(resistance, power) >= heldFraction) return 'other';
  return resistance < power ? 'resistor' : 'power';
}

const isStep = (open: Open, fromA: number, toA: number): boolean =>
  Math.abs(toA - fromA) > stepFraction * Math.max(Math.abs(fromA), Math.abs(toA)) &&
  Math.abs(toA - fromA) > stepOfLargest * open.largestA;

/**
 * Cuts a log into what went on in it, sample by sample in constant memory: where a current begins, ends, turns or
 * steps, where the device numbers another step or cycle, and where a constant current becomes the taper at a constant
 * voltage. A change lies halfway between two
 * samples; each half counts with the current on its own side, so that charge adds up over any cut. Source: common
 * practice.
 *
 * @param given how a load of a known kind draws; null where there is a column of current
 */
export function createSegmenter(given: GivenMode | null) {
  const closed: Closed[] = [];
  let beyond = 0;
  let forgottenA = 0;
  let before: Open | null = null;
  let open: Open | null = null;

  const list = (segment: Open, toS: number): void => {
    if (closed.length >= mostSegments && !(segment.way === 0 && closed.at(-1)?.way === 0)) {
      beyond += 1;
      return;
    }
    addTo(closed, {
      way: segment.way,
      mode: modeOf(segment, toS, given),
      fromS: segment.fromS,
      toS,
      chargeAh: segment.chargeAs / 3600,
      energyWh: segment.energyWs / 3600,
      startVoltageV: segment.start.voltageV,
      endVoltageV: segment.last.voltageV,
      ...(segment.numbered.cycle != null && { cycle: segment.numbered.cycle }),
      ...(segment.numbered.step != null && { step: segment.numbered.step }),
    });
  };

  /** Another segment begins halfway between two samples. */
  const change = (from: Open, point: Point, way: Way, numbered: Numbered): Open => {
    const halfS = (point.timeS - from.last.timeS) / 2;
    const atS = from.last.timeS + halfS;
    count(from, halfS, from.last, from.last);
    // One sample between two segments that are alike is none of its own.
    if (
      before &&
      from.samples === 1 &&
      before.way === way &&
      !isStep(before, before.last.currentA, point.currentA) &&
      !isAnother(before.numbered, numbered)
    ) {
      const resumed = before;
      before = null;
      resumed.chargeAs += from.chargeAs;
      resumed.energyWs += from.energyWs;
      count(resumed, halfS, point, point);
      return resumed;
    }
    if (before) list(before, from.fromS);
    before = from;
    const next = openAt(way, atS, point, numbered);
    count(next, halfS, point, point);
    return next;
  };

  /** The current began to fall at a constant voltage somewhere behind: from there on it is a taper. */
  const split = (from: Open, held: UpTo): Open => {
    const [chargeAs, energyWs, last] = [from.chargeAs, from.energyWs, from.last];
    Object.assign(from, held);
    if (before) list(before, from.fromS);
    before = from;
    return {
      ...openAt(from.way, held.last.timeS, held.last, from.numbered),
      last,
      chargeAs: chargeAs - held.chargeAs,
      energyWs: energyWs - held.energyWs,
      samples: samplesToHold,
      largestA: from.largestA,
      isTaper: true,
    };
  };

  const watchTaper = (now: Open, point: Point): Open => {
    if (now.way === 0 || now.isTaper || now.samples < samplesToHold) return now;
    if (now.spread.current.share() > heldFraction) return now;
    const levelA = now.spread.current.mean();
    const sizeA = Math.abs(point.currentA);
    if (sizeA >= (1 - stillHeldFraction) * levelA) {
      now.held = { last: point, chargeAs: now.chargeAs, energyWs: now.energyWs };
      return now;
    }
    const hasStayed = now.held && Math.abs(point.voltageV / now.held.last.voltageV - 1) < stayedFraction;
    return hasStayed && now.held && sizeA < (1 - taperFraction) * levelA ? split(now, now.held) : now;
  };

  return {
    /** @param way of the current; 0 where none flows */
    push(timeS: number, voltageV: number, currentA: number, way: Way, numbered: Numbered = {}): void {
      const point = { timeS, voltageV, currentA: way === 0 ? 0 : currentA };
      if (!open) open = openAt(way, timeS, point, numbered);
      else if (timeS <= open.last.timeS) return;
      else if (
        open.way !== way ||
        isStep(open, open.last.currentA, point.currentA) ||
        isAnother(open.numbered, numbered)
      )
        open = change(open, point, way, numbered);
      else count(open, timeS - open.last.timeS, open.last, point);
      take(open, point, given);
      if (!given) open = watchTaper(open, point);
    },
    /** What flowed with less than this much in the mean, A, was nothing: the column's own zero and noise. */
    forgetBelow(leastA: number): void {
      if (leastA <= forgottenA) return;
      forgottenA = leastA;
      if (before && before.way !== 0 && before.chargeAs < leastA * (before.last.timeS - before.fromS))
        [before.way, before.chargeAs, before.energyWs] = [0, 0, 0];
      if (!closed.some((one) => isBelow(one, leastA))) return;
      const kept: Closed[] = [];
      for (const one of closed) {
        const rest: Closed = isBelow(one, leastA) ? { ...one, way: 0, mode: 'other', chargeAh: 0, energyWh: 0 } : one;
        addTo(kept, rest);
      }
      closed.splice(0, closed.length, ...kept);
    },
    /**
     * Ends the log.
     *
     * @param discharging the sign of the current that discharges
     */
    finish(discharging: 1 | -1): { segments: Segment[]; beyond: number } {
      if (before && open) list(before, open.fromS);
      if (open) list(open, open.last.timeS);
      const kindOf = (way: Way): SegmentKind => {
        if (way === 0) return 'rest';
        return way === discharging ? 'discharge' : 'charge';
      };
      return { segments: closed.map(({ way, ...segment }) => ({ kind: kindOf(way), ...segment })), beyond };
    },
  };
}

/** A charge and the discharge behind it, or a discharge alone. */
export interface Cycle {
  /** As the device numbered it; else counted from 1. */
  number: number;
  fromS: number;
  toS: number;
  chargedAh: number | null;
  dischargedAh: number | null;
  chargedWh: number | null;
  dischargedWh: number | null;
}

/** The cycles that segments make: as the device numbered them, else each charge with the discharge that follows it. */
export function cyclesOf(segments: readonly Segment[]): Cycle[] {
  const cycles: Cycle[] = [];
  for (const { kind, fromS, toS, chargeAh, energyWh, cycle: given } of segments) {
    if (kind === 'rest') continue;
    const last = cycles.at(-1);
    // A charge behind a discharge begins the next one.
    const isNext = kind === 'charge' && last?.dischargedAh != null;
    const isNew = !last || (given === undefined ? isNext : given !== last.number);
    const cycle: Cycle = isNew
      ? {
          number: given ?? cycles.length + 1,
          fromS,
          toS,
          chargedAh: null,
          dischargedAh: null,
          chargedWh: null,
          dischargedWh: null,
        }
      : last;
    if (isNew) cycles.push(cycle);
    cycle.toS = toS;
    if (kind === 'charge') {
      cycle.chargedAh = (cycle.chargedAh ?? 0) + chargeAh;
      cycle.chargedWh = (cycle.chargedWh ?? 0) + energyWh;
    } else {
      cycle.dischargedAh = (cycle.dischargedAh ?? 0) + chargeAh;
      cycle.dischargedWh = (cycle.dischargedWh ?? 0) + energyWh;
    }
  }
  return cycles;
}
