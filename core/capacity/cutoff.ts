import { solveLinear } from '../statistics/leastSquares';

export interface LogPoint {
  timeS: number;
  voltageV: number;
}

/** Where a discharge met its cut-off. */
export interface CutoffMet {
  /** False: the load ended above it. */
  reached: boolean;
  atS: number;
  /** Standard uncertainty of `atS`. */
  uS: number;
}

export interface LastStretch {
  cutoffV: number;
  /** The last points under load at or above the cut-off, in order; the very last is where the search begins. */
  points: readonly LogPoint[];
  /** The first sample under load below the cut-off, where there is one. */
  below: LogPoint | null;
  /** Where there is none: the load was off by then, or the next sample was due. */
  latestS: number;
  /** Nothing was logged for long between the last point and that. */
  inSilence: boolean;
  /**
   * What the voltage was when the load went off: the first one at rest less the jump of the load; null where that is
   * not known.
   */
  endedV: number | null;
  /** Standard uncertainty of one reading from its digit and noise, V. */
  readingU: number;
  /** The most by which the voltmeter may be off there, V. */
  limitV: number;
}

/** The window grows back in time until it fell by this many reading uncertainties. */
const distinguishable = 12;
/** A reading this many uncertainties above the cut-off is at it. */
const atCutoff = 4;
/** A slope is no smaller than this share of a reading's uncertainty a window. */
const leastFall = 0.5;
/** From one step to the next a fall does not grow more than this many times. */
const mostGrowth = 4;
/** How much quicker than seen the fall may grow beyond the last sample. */
const quicker = 2;

/** In a silence, the cut-off was met no earlier than this share of the time that the fall before would have taken. */
const earliestInSilence = 0.05;

/** A fall from the last point on: slope · (exp(growth · t) − 1)/growth. */
interface Fall {
  slope: number;
  growth: number;
  level: number;
}

/**
 * Where a falling voltage met the cut-off. The end of a discharge falls ever faster, like an exponential: between two
 * samples the straight line is too early and the slope before them carried on too late, so the truth lies between, most
 * likely on the exponential through the last points. The same carries on beyond the last sample, up to the moment at
 * which the load was seen off or the next sample was due: a log that would have crossed by then reached its cut-off. In
 * a long silence only that the fall did not slow down is known.
 *
 * The uncertainty is that interval's (rectangular), the reading's digit and noise, and the voltmeter's limits, each
 * turned into time by the slope there.
 */
export function cutoffMet({
  cutoffV,
  points,
  below,
  latestS,
  inSilence,
  endedV,
  readingU,
  limitV,
}: LastStretch): CutoffMet {
  const last = points.at(-1) as LogPoint;
  const fall = fallOf(points, readingU);
  const marginV = Math.max(0, (below ? last.voltageV : fall.level) - cutoffV);
  const edgeS = Math.max(0, (below?.timeS ?? latestS) - last.timeS);
  let [earliestS, bestS] = [timeToFall(marginV, { ...fall, growth: quicker * fall.growth }), timeToFall(marginV, fall)];
  if (below) {
    const stepV = Math.max(last.voltageV - below.voltageV, 1e-9);
    earliestS = (edgeS * marginV) / stepV;
    bestS = timeToFall(marginV, { ...fall, growth: growthThrough(stepV, edgeS, fall.slope) });
  } else {
    const lowestV = Math.min(
      fall.level - fallen(edgeS, { ...fall, growth: quicker * fall.growth }),
      endedV ?? Infinity,
    );
    if (lowestV > cutoffV + Math.max(atCutoff * readingU, limitV)) return { reached: false, atS: last.timeS, uS: 0 };
  }
  if (inSilence && !below) {
    // Its curve in that time was not recorded.
    const wholeS = Math.min(marginV / fall.slope, edgeS);
    [earliestS, bestS] = [earliestInSilence * wholeS, ((1 + earliestInSilence) / 2) * wholeS];
  }
  const latest = Math.max(earliestS, Math.min(marginV / fall.slope, edgeS));
  bestS = Math.min(Math.max(bestS, earliestS), latest);
  // As steep as the fall is by then, or as it was on average where the step is more than noise.
  const stepV = below ? last.voltageV - below.voltageV : 0;
  const steep =
    stepV > 2 * atCutoff * readingU
      ? Math.max(fall.slope, stepV / edgeS / 2)
      : fall.slope * Math.exp(fall.growth * bestS);
  return {
    reached: true,
    atS: last.timeS + bestS,
    uS: Math.hypot((latest - earliestS) / Math.sqrt(12), readingU / steep, limitV / Math.sqrt(3) / steep),
  };
}

/** Volts fallen that long after the last point. */
const fallen = (afterS: number, { slope, growth }: Fall): number =>
  growth * afterS < 1e-6 ? slope * afterS : (slope * Math.expm1(growth * afterS)) / growth;

/** Seconds until it has fallen by v. */
const timeToFall = (v: number, { slope, growth }: Fall): number =>
  growth * v < 1e-6 * slope ? v / slope : Math.log1p((v * growth) / slope) / growth;

/** The growth with which that slope falls by `stepV` within `stepS`; 0 where it fell less than straight on. */
function growthThrough(stepV: number, stepS: number, slope: number): number {
  if (stepV <= slope * stepS) return 0;
  let [low, high] = [0, 20 / stepS];
  for (let i = 0; i < 40; i++) {
    const growth = (low + high) / 2;
    if (fallen(stepS, { slope, growth, level: 0 }) < stepV) low = growth;
    else high = growth;
  }
  return (low + high) / 2;
}

/**
 * How the voltage falls at the last point: through the last three where they fall apart, else a parabola through as
 * many as do.
 */
function fallOf(points: readonly LogPoint[], readingU: number): Fall {
  const last = points.at(-1) as LogPoint;
  const leastSlope = slopeFloor(points, readingU);
  let from = Math.max(0, points.length - 3);
  while (from > 0 && (points[from] as LogPoint).voltageV - last.voltageV < distinguishable * readingU) from -= 1;
  const used = points.slice(from);
  const [first] = used as [LogPoint];
  const straight = {
    slope: Math.max(leastSlope, (first.voltageV - last.voltageV) / Math.max(last.timeS - first.timeS, 1e-9)),
    growth: 0,
    level: last.voltageV,
  };
  if (used.length < 3) return straight;
  if (used.length === 3) return throughThree(used as [LogPoint, LogPoint, LogPoint], straight);
  const scaleS = last.timeS - first.timeS;
  const sums = [0, 0, 0, 0, 0];
  const right = [0, 0, 0];
  for (const { timeS, voltageV } of used) {
    const x = (timeS - last.timeS) / scaleS;
    for (let n = 0; n < 5; n++) sums[n] = (sums[n] as number) + x ** n;
    for (let n = 0; n < 3; n++) right[n] = (right[n] as number) + (voltageV - last.voltageV) * x ** n;
  }
  const at = (n: number): number => sums[n] as number;
  const solved = solveLinear(
    [
      [at(0), at(1), at(2)],
      [at(1), at(2), at(3)],
      [at(2), at(3), at(4)],
    ],
    right,
  );
  if (!solved) return straight;
  const [level, slope, curve] = solved as [number, number, number];
  const steep = Math.max(-slope / scaleS, leastSlope);
  return {
    slope: steep,
    growth: Math.min(Math.max(0, (-2 * curve) / scaleS ** 2 / steep), Math.log(mostGrowth) / scaleS),
    level: last.voltageV + level,
  };
}

function throughThree([a, b, c]: [LogPoint, LogPoint, LogPoint], straight: Fall): Fall {
  const [before, after] = [
    (a.voltageV - b.voltageV) / (b.timeS - a.timeS),
    (b.voltageV - c.voltageV) / (c.timeS - b.timeS),
  ];
  if (!(after > before) || !(after > 0)) return { ...straight, slope: Math.max(straight.slope, after) };
  const stepS = c.timeS - b.timeS;
  const growth =
    Math.log(Math.min(mostGrowth, after / Math.max(before, after / mostGrowth))) / ((c.timeS - a.timeS) / 2);
  return { slope: (growth * after * stepS) / -Math.expm1(-growth * stepS), growth, level: c.voltageV };
}

const slopeFloor = (points: readonly LogPoint[], readingU: number): number => {
  const spanS = (points.at(-1) as LogPoint).timeS - (points[0] as LogPoint).timeS;
  return Math.max(1e-9, spanS > 0 ? (leastFall * readingU) / spanS : 0);
};
