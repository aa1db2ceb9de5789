import { lastDigitOf, valuesLookedAt, writtenDigitOf } from '../quantity/lastDigit';
import { quadrature, type Quantity, rectangular } from '../quantity/quantity';
import { fitLine, type Line, onLine } from '../statistics/line';
import { fitRelaxation, type Relaxation } from './relaxation';

/** Times after the edge of a load at which its resistance is given, s. Common practice. */
export const horizonsS = { '0.1s': 0.1, '1s': 1, '10s': 10, '30s': 30 } as const;
export type Horizon = keyof typeof horizonsS;

/** One step of current found in a log and the resistance seen after it. */
export interface LoadEdge {
  /** The first sample after it; it lies between that and the one before. */
  atS: number;
  /** Current after less current before, positive where the load grew. */
  deltaCurrentA: number;
  /** Voltage before it. */
  fromV: number;
  /** Left out where the current did not hold that long, the log is too coarse or the cell had not settled. */
  resistanceOhm: Partial<Record<Horizon, number>>;
  standardUncertaintyOhm: Partial<Record<Horizon, number>>;
  /** The part of it that the current has, relative to the resistance. */
  currentRelativeU: number;
  /** What went before still went on so much that there is no value at these times. */
  unsettled: Horizon[];
  relaxation: Relaxation | null;
}

/** What the first load that came on in a log shows after ten seconds, Ω; null where none does. */
export const firstLoadOhm = (edges: readonly LoadEdge[]): number | null =>
  edges.find(({ deltaCurrentA }) => deltaCurrentA > 0)?.resistanceOhm['10s'] ?? null;

/** What is known of the log that a step is in. */
export interface PulseTools {
  /** The sign of a discharge in the log. */
  way: 1 | -1;
  voltageDigitV: number;
  /** Standard uncertainties, relative. */
  voltageRelativeU: number;
  currentRelativeU: number;
  /** Last digit of a column of current; 0 where the current is given, not logged; inferred where it is not known. */
  currentDigitA?: number;
}

/** This many steps of one log are evaluated; those beyond are counted. */
export const mostEdges = 200;
/**
 * A change of current counts from this size on, from this share of the larger current, and from this many last digits
 * on.
 */
const leastStepA = 0.05;
const leastFraction = 0.2;
const leastDigits = 2.5;
/** Samples further apart than this do not show an edge. */
const longestGapS = 2;
/**
 * How much of the log before an edge gives the drift, s; at most this fraction of the time since the edge before; and
 * the shortest stretch that is averaged, s.
 */
const baselineS = 20;
const baselineFraction = 0.5;
const stretchS = 0.25;
const watchedS = 60;
/** After the edge, samples are averaged in stretches that grow by this share. */
const growth = 1.09;
const firstBinS = 0.01;
/** A drift that may be wrong by more than this share of the resistance leaves no value. */
const mostUnsettled = 0.15;
const digitsWidening = 1.15;
/** A pulse may end this much before the time of its figure, a fraction of it: 9.99 s gives the value at 10 s. */
const mostMissing = 0.02;
/** Scatter beyond this share of a digit carries the mean across digits. */
const dithered = 0.58;

interface Stretch {
  timeS: number;
  voltageV: number;
  currentA: number;
  count: number;
}

interface OpenPulse {
  atS: number;
  /** The last sample before it. */
  beforeS: number;
  /** Since the edge before it, or the beginning of the log. */
  sinceS: number;
  before: Stretch[];
  beforeA: number;
  afterA: number;
  bins: Stretch[];
  binNumber: number;
  /** The last sample of it. */
  lastS: number;
}

/**
 * Finds steps of current sample by sample in constant memory and reads R = (voltage without the step − V)/ΔI at 0.1, 1,
 * 10 and 30 s after each, and fits the relaxation. The figure holds what the step's own charge costs in that time.
 *
 * The voltage without the step is the drift before it, carried on. A cell that still answers to what went before drifts
 * ever less: it is carried on between a straight line and an exponential as slow as the time since the step before, and
 * their difference is uncertainty; where that is large, there is no value.
 * The step lies anywhere between the last sample before and the first after it.
 * Source: common practice; uncertainty by the GUM.
 */
export function createPulseFinder() {
  const pulses: OpenPulse[] = [];
  const currents: number[] = [];
  // Imported, it would be asked for by a call, sample after sample.
  const mostCurrents = valuesLookedAt;
  let baseline: Stretch[] = [];
  let open: OpenPulse | null = null;
  let previous: { timeS: number; currentA: number } | null = null;
  let settledSinceS: number | null = null;
  let beyond = 0;

  const close = (): void => {
    if (open && open.bins.length > 0) {
      if (pulses.length < mostEdges) pulses.push(open);
      else beyond += 1;
    }
    open = null;
  };

  const begin = (timeS: number, currentA: number, before: NonNullable<typeof previous>): void => {
    // An edge that a sample caught halfway: one step from where it began.
    if (
      open &&
      open.bins.length === 1 &&
      open.bins[0]?.count === 1 &&
      Math.sign(currentA - before.currentA) === Math.sign(open.afterA - open.beforeA)
    ) {
      open = { ...open, atS: timeS, afterA: currentA, bins: [], binNumber: -1, lastS: timeS };
      return;
    }
    close();
    open = {
      atS: timeS,
      beforeS: before.timeS,
      sinceS: before.timeS - (settledSinceS ?? before.timeS),
      before: baseline,
      beforeA: before.currentA,
      afterA: currentA,
      bins: [],
      binNumber: -1,
      lastS: timeS,
    };
    settledSinceS = timeS;
    baseline = [];
  };

  return {
    push(timeS: number, voltageV: number, currentA: number): void {
      settledSinceS ??= timeS;
      if (currents.length < mostCurrents) currents.push(Math.abs(currentA));
      if (previous) {
        const size = Math.abs(currentA - previous.currentA);
        if (size > leastStepA && size > leastFraction * Math.max(Math.abs(currentA), Math.abs(previous.currentA))) {
          if (timeS - previous.timeS <= longestGapS) begin(timeS, currentA, previous);
          else {
            // Too coarse for a step, which still ends what went before.
            close();
            baseline = [];
            settledSinceS = timeS;
          }
        } else if (
          open &&
          (Math.abs(currentA - open.afterA) > leastFraction * Math.abs(open.afterA - open.beforeA) ||
            timeS - open.atS > watchedS)
        )
          close();
      }
      if (open) addToBins(open, timeS, voltageV, currentA);
      addToBaseline(baseline, timeS, voltageV, currentA);
      if (previous === null) previous = { timeS, currentA };
      else [previous.timeS, previous.currentA] = [timeS, currentA];
    },
    /** How many steps came after the last one that is evaluated. */
    beyond: (): number => beyond,
    finish(tools: PulseTools): LoadEdge[] {
      close();
      const written = writtenDigitOf(currents);
      const digitA = tools.currentDigitA ?? (written < 1 ? lastDigitOf(currents, written) : 0);
      return pulses
        .map((pulse) => edgeOf(pulse, { ...tools, currentDigitA: digitA }))
        .filter((edge) => Math.abs(edge.deltaCurrentA) > leastDigits * digitA);
    },
  };
}

function addToBaseline(baseline: Stretch[], timeS: number, voltageV: number, currentA: number): void {
  const last = baseline.at(-1);
  if (last && timeS - last.timeS < stretchS) average(last, timeS, voltageV, currentA);
  else baseline.push({ timeS, voltageV, currentA, count: 1 });
  while (baseline.length > 3 && timeS - (baseline[0]?.timeS ?? timeS) > baselineS) baseline.shift();
}

function addToBins(open: OpenPulse, timeS: number, voltageV: number, currentA: number): void {
  const after = timeS - open.atS;
  const number = after < firstBinS ? 0 : 1 + Math.floor(Math.log(after / firstBinS) / Math.log(growth));
  const last = open.bins.at(-1);
  if (last && number === open.binNumber) average(last, timeS, voltageV, currentA);
  else open.bins.push({ timeS, voltageV, currentA, count: 1 });
  open.binNumber = number;
  open.lastS = timeS;
}

function average(stretch: Stretch, timeS: number, voltageV: number, currentA: number): void {
  stretch.count += 1;
  stretch.timeS += (timeS - stretch.timeS) / stretch.count;
  stretch.voltageV += (voltageV - stretch.voltageV) / stretch.count;
  stretch.currentA += (currentA - stretch.currentA) / stretch.count;
}

/** What the voltage would have been without the step. */
interface Baseline {
  /** That long after the step, with the uncertainty of the line alone. */
  at(afterS: number): Quantity;
  /** By how much the drift carried on may be off, V, one standard uncertainty. */
  driftU(afterS: number): number;
  currentA: number;
  /** Scatter of one sample about it. */
  scatterV: number;
  /** Of a digit that scatter does not carry across: samples are off by the same part of one all along. */
  digitU: number;
}

function baselineOf(pulse: OpenPulse, edgeS: number, digitV: number): Baseline {
  const windowS = Math.min(baselineS, Math.max(1, baselineFraction * pulse.sinceS));
  const near = pulse.before.filter((stretch) => stretch.timeS >= pulse.beforeS - windowS);
  const stretches = near.length > 0 ? near : pulse.before.slice(-1);
  const samples = stretches.reduce((sum, stretch) => sum + stretch.count, 0);
  const mean = (of: (stretch: Stretch) => number): number =>
    stretches.reduce((sum, stretch) => sum + of(stretch) * stretch.count, 0) / Math.max(1, samples);
  const currentA = stretches.length > 0 ? mean((one) => one.currentA) : pulse.beforeA;
  const levelV = mean((one) => one.voltageV);
  if (stretches.length < 3)
    return {
      at: () => ({ value: levelV, u: rectangular(digitV) }),
      driftU: () => 0,
      currentA,
      scatterV: rectangular(digitV),
      digitU: rectangular(digitV),
    };
  const line: Line = fitLine(stretches.map((stretch) => ({ x: stretch.timeS - edgeS, y: stretch.voltageV })));
  const scatterV = line.residual * Math.sqrt(samples / stretches.length);
  const digitU = scatterV > dithered * digitV ? 0 : rectangular(digitV);
  const isDrifting = Math.abs(line.slope.value) > 2 * line.slope.u + digitV / Math.max(1e-9, windowS) / 2;
  if (!isDrifting)
    return {
      at: () => ({ value: levelV, u: quadrature(line.residual / Math.sqrt(stretches.length), digitU) }),
      driftU: () => 0,
      currentA,
      scatterV,
      digitU,
    };
  // The slope is that of the middle of the window; from there on the drift slows down, or it does not.
  const midS = stretches.reduce((sum, stretch) => sum + stretch.timeS, 0) / stretches.length - edgeS;
  const settlingS = Math.max(1e-3, pulse.sinceS + midS);
  const [straightS, slowingS] = [
    (afterS: number) => afterS - midS,
    (afterS: number) => settlingS * -Math.expm1(-(afterS - midS) / settlingS),
  ];
  const { value: slope } = line.slope;
  return {
    at: (afterS) => ({
      value: onLine(line, midS).value + (slope * (straightS(afterS) + slowingS(afterS))) / 2,
      u: quadrature(onLine(line, afterS).u, digitU),
    }),
    driftU: (afterS) => (Math.abs(slope) * (straightS(afterS) - slowingS(afterS))) / 2 / Math.sqrt(3),
    currentA,
    scatterV,
    digitU,
  };
}

function edgeOf(
  pulse: OpenPulse,
  { way, voltageDigitV, voltageRelativeU, currentRelativeU, currentDigitA = 0 }: PulseTools,
): LoadEdge {
  const edgeS = (pulse.atS + pulse.beforeS) / 2;
  const stepS = pulse.atS - pulse.beforeS;
  const baseline = baselineOf(pulse, edgeS, voltageDigitV);
  const meanTo = currentsOf(pulse, edgeS);
  const deltaOf = (afterS: number): number => way * (meanTo(afterS).value - baseline.currentA);
  const seen = pulse.bins.map(({ timeS, voltageV, count }) => ({
    x: timeS - edgeS,
    y: (baseline.at(timeS - edgeS).value - voltageV) / deltaOf(timeS - edgeS),
    weight: count,
  }));
  const deltaA = deltaOf(Infinity);
  const lastS = seen.at(-1)?.x ?? 0;
  // A digit of current before and one after; where they are a large part of the step, the quotient is wider than they
  // are.
  const digitsU = Math.SQRT2 * rectangular(currentDigitA) * digitsWidening;
  const relativeU = quadrature(currentRelativeU, digitsU / Math.abs(deltaA), voltageRelativeU);
  const edge: LoadEdge = {
    atS: pulse.atS,
    deltaCurrentA: deltaA,
    fromV: baseline.at(0).value,
    resistanceOhm: {},
    standardUncertaintyOhm: {},
    currentRelativeU: quadrature(currentRelativeU, digitsU / Math.abs(deltaA)),
    unsettled: [],
    relaxation: fitRelaxation({
      points: seen,
      stepS,
      sampleU: quadrature(baseline.scatterV, rectangular(voltageDigitV)) / Math.abs(deltaA),
      levelU: baseline.at(0).u / Math.abs(deltaA),
      driftUOhmPerS: baseline.driftU(lastS) / Math.abs(deltaA) / Math.max(lastS, 1e-9),
      relativeU,
    }),
  };
  for (const [name, horizonS] of Object.entries(horizonsS) as [Horizon, number][]) {
    const found = atHorizon(seen, horizonS, stepS, pulse.lastS - edgeS);
    if (!found) continue;
    const size = Math.abs(deltaOf(horizonS));
    const driftOhm = baseline.driftU(horizonS) / size;
    if (driftOhm > mostUnsettled * Math.abs(found.value)) {
      edge.unsettled.push(name);
      continue;
    }
    const readingU = quadrature(baseline.scatterV / Math.sqrt(found.samples), baseline.digitU);
    edge.resistanceOhm[name] = found.value;
    edge.standardUncertaintyOhm[name] = quadrature(
      readingU / size,
      baseline.at(horizonS).u / size,
      driftOhm,
      found.u,
      found.value * relativeU,
      (found.value * meanTo(horizonS).u) / size,
    );
  }
  return edge;
}

/**
 * The current that counts that long after the edge: between its mean up to then and its value then, for a slow part
 * answers to the one and the quick part to the other.
 */
function currentsOf({ bins, afterA }: OpenPulse, edgeS: number): (afterS: number) => Quantity {
  const all =
    bins.reduce((sum, bin) => sum + bin.currentA * bin.count, 0) / bins.reduce((sum, bin) => sum + bin.count, 0);
  return (afterS) => {
    if (!Number.isFinite(afterS)) return { value: all, u: 0 };
    let [area, fromS, nowA] = [0, 0, bins[0]?.currentA ?? afterA];
    for (const { timeS, currentA } of bins) {
      const x = Math.min(timeS - edgeS, afterS);
      if (x <= fromS) continue;
      area += currentA * (x - fromS);
      [fromS, nowA] = [x, currentA];
      if (timeS - edgeS >= afterS) break;
    }
    const mean = fromS > 0 ? area / fromS : nowA;
    return { value: (mean + nowA) / 2, u: Math.abs(mean - nowA) / 2 / Math.sqrt(3) };
  };
}

/**
 * The resistance that long after the edge between two points, or one step beyond the last; null where the log is too
 * coarse.
 */
function atHorizon(
  seen: readonly { x: number; y: number; weight: number }[],
  horizonS: number,
  stepS: number,
  lastS: number,
): { value: number; u: number; samples: number } | null {
  const found = seen.findIndex((point) => point.x >= horizonS);
  const isBeyond = found < 0;
  const isAtFirst = found === 0 && (seen[0]?.x ?? Infinity) <= horizonS * (1 + 1e-9);
  const within = isAtFirst ? 1 : found;
  const at = isBeyond ? seen.length - 1 : within;
  const [a, b] = [seen[at - 1], seen[at]];
  const missingS = horizonS - lastS;
  if (
    !a ||
    !b ||
    !(a.x > 0) ||
    b.x - a.x > 2 * horizonS ||
    (isBeyond && missingS > Math.max(stepS, mostMissing * horizonS) * (1 + 1e-6))
  )
    return null;
  const slope = (b.y - a.y) / (b.x - a.x);
  // When exactly between two samples the load came on is not known: the curve's slope turns that into ohms.
  const whenU = Math.abs(slope) * rectangular(stepS);
  const [straight, logarithmic] = [
    a.y + slope * (horizonS - a.x),
    a.y + ((b.y - a.y) * Math.log(horizonS / a.x)) / Math.log(b.x / a.x),
  ];
  // Carried on beyond the last point, its noise counts more.
  const reach = isBeyond ? 1 + (2 * (horizonS - b.x)) / (b.x - a.x) : 1;
  return {
    value: (straight + logarithmic) / 2,
    u: quadrature(
      whenU,
      (straight - logarithmic) / 2 / Math.sqrt(3),
      isBeyond ? (slope * Math.max(0, missingS)) / Math.sqrt(3) : 0,
    ),
    samples: Math.max(1, Math.min(a.weight, b.weight)) / reach ** 2,
  };
}
