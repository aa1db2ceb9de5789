import { type Quantity, quadrature } from '../quantity/quantity';
import { fitLine, type Line, onLine } from '../statistics/line';
import { fitRelaxation, type Relaxation } from './relaxation';

export const horizonsS = { '0.1s': 0.1, '1s': 1, '10s': 10, '30s': 30 } as const;
export type Horizon = keyof typeof horizonsS;

/** One step of current found in a log and the resistance seen after it. */
export interface LoadEdge {
  atS: number;
  /** Current after less current before, positive where the load grew. */
  deltaCurrentA: number;
  /** Voltage before it. */
  fromV: number;
  /** Left out where the current did not hold that long or the log is too coarse. */
  resistanceOhm: Partial<Record<Horizon, number>>;
  standardUncertaintyOhm: Partial<Record<Horizon, number>>;
  relaxation: Relaxation | null;
}

const mostEdges = 200;
/** A change of current counts from this size on, and from this share of the larger current. */
const leastStepA = 0.05;
const leastShare = 0.2;
/** Samples further apart than this do not show an edge. */
const longestGapS = 2;
/** So much of the log before an edge tells the drift, in stretches averaged over at least so long. */
const baselineS = 20;
const stretchS = 0.25;
const watchedS = 60;
/** After the edge, samples are averaged in stretches that grow by this share. */
const growth = 1.09;
const firstBinS = 0.01;

interface Stretch {
  timeS: number;
  voltageV: number;
  count: number;
}

/** What the log showed before an edge. */
interface Baseline {
  /** Where it drifted. */
  line: Line | null;
  voltage: Quantity;
  /** Scatter of one sample about it. */
  scatterV: number;
  /** Between the last sample before the edge and the first after it. */
  stepS: number;
}

interface OpenPulse {
  atS: number;
  beforeA: number;
  afterA: number;
  baseline: Baseline;
  bins: Stretch[];
  binNumber: number;
}

/**
 * Finds steps of current sample by sample in constant memory and reads R = (baseline − V)/ΔI at 0.1, 1, 10 and 30 s after
 * each, the drift before the step carried on as a straight line and taken off, and fits the relaxation.
 * Source: common practice; uncertainty by the GUM from the scatter before the step and the line carried on.
 */
export function createPulseFinder() {
  const edges: LoadEdge[] = [];
  let baseline: Stretch[] = [];
  let open: OpenPulse | null = null;
  let previous: { timeS: number; voltageV: number; currentA: number } | null = null;

  const close = (): void => {
    if (open && open.bins.length > 0) edges.push(edgeOf(open));
    open = null;
  };

  const begin = (timeS: number, currentA: number, before: NonNullable<typeof previous>): void => {
    // An edge that a sample caught halfway: one step from where it began.
    if (open && open.bins.length === 1 && open.bins[0]?.count === 1 && Math.sign(currentA - before.currentA) === Math.sign(open.afterA - open.beforeA)) {
      open = { ...open, atS: timeS, afterA: currentA, bins: [], binNumber: -1 };
      return;
    }
    close();
    if (edges.length < mostEdges) open = { atS: timeS, beforeA: before.currentA, afterA: currentA, baseline: baselineOf(baseline, before, timeS), bins: [], binNumber: -1 };
    baseline = [];
  };

  return {
    /** @param currentA positive on discharge */
    push(timeS: number, voltageV: number, currentA: number): void {
      if (previous) {
        const delta = currentA - previous.currentA;
        const size = Math.abs(delta);
        if (size > leastStepA && size > leastShare * Math.max(Math.abs(currentA), Math.abs(previous.currentA)) && timeS - previous.timeS <= longestGapS) begin(timeS, currentA, previous);
        else if (open && (Math.abs(currentA - open.afterA) > leastShare * Math.abs(open.afterA - open.beforeA) || timeS - open.atS > watchedS)) close();
      }
      if (open) addToBins(open, timeS, voltageV);
      addToBaseline(baseline, timeS, voltageV);
      previous = { timeS, voltageV, currentA };
    },
    finish(): LoadEdge[] {
      close();
      return edges;
    },
  };
}

function addToBaseline(baseline: Stretch[], timeS: number, voltageV: number): void {
  const last = baseline.at(-1);
  if (last && timeS - last.timeS < stretchS) average(last, timeS, voltageV);
  else baseline.push({ timeS, voltageV, count: 1 });
  while (baseline.length > 3 && timeS - (baseline[0]?.timeS ?? timeS) > baselineS) baseline.shift();
}

function addToBins(open: OpenPulse, timeS: number, voltageV: number): void {
  const after = timeS - open.atS;
  const number = after < firstBinS ? 0 : 1 + Math.floor(Math.log(after / firstBinS) / Math.log(growth));
  const last = open.bins.at(-1);
  if (last && number === open.binNumber) average(last, timeS, voltageV);
  else open.bins.push({ timeS, voltageV, count: 1 });
  open.binNumber = number;
}

function average(stretch: Stretch, timeS: number, voltageV: number): void {
  stretch.count += 1;
  stretch.timeS += (timeS - stretch.timeS) / stretch.count;
  stretch.voltageV += (voltageV - stretch.voltageV) / stretch.count;
}

/** The drift before an edge: a straight line where enough of it was logged and it is more than scatter, else the level. */
function baselineOf(stretches: readonly Stretch[], last: { timeS: number; voltageV: number }, edgeS: number): Baseline {
  const stepS = edgeS - last.timeS;
  if (stretches.length < 5) return { line: null, voltage: { value: last.voltageV, u: 0 }, scatterV: 0, stepS };
  const line = fitLine(stretches.map((stretch) => ({ x: stretch.timeS - edgeS, y: stretch.voltageV })));
  const samples = stretches.reduce((sum, stretch) => sum + stretch.count, 0);
  const scatterV = line.residual * Math.sqrt(samples / stretches.length);
  if (Math.abs(line.slope.value) > 2 * line.slope.u) return { line, voltage: onLine(line, 0), scatterV, stepS };
  const level = stretches.reduce((sum, stretch) => sum + stretch.voltageV, 0) / stretches.length;
  return { line: null, voltage: { value: level, u: line.residual / Math.sqrt(stretches.length) }, scatterV, stepS };
}

function edgeOf({ atS, beforeA, afterA, baseline, bins }: OpenPulse): LoadEdge {
  const deltaCurrentA = afterA - beforeA;
  const expected = (t: number): Quantity => (baseline.line ? onLine(baseline.line, t) : baseline.voltage);
  const seen = bins.map(({ timeS, voltageV, count }) => ({ x: timeS - atS, y: (expected(timeS - atS).value - voltageV) / deltaCurrentA, weight: count }));
  const edge: LoadEdge = { atS, deltaCurrentA, fromV: baseline.voltage.value, resistanceOhm: {}, standardUncertaintyOhm: {}, relaxation: fitRelaxation(seen) };
  for (const [name, horizonS] of Object.entries(horizonsS) as [Horizon, number][]) {
    const next = seen.findIndex((point) => point.x >= horizonS);
    const [a, b] = [seen[next - 1], seen[next]];
    if (!a || !b || b.x - a.x > 2 * horizonS) continue;
    const share = (horizonS - a.x) / (b.x - a.x);
    edge.resistanceOhm[name] = a.y + share * (b.y - a.y);
    // When exactly between two samples the load came on is not known: the curve's slope turns that into ohms.
    const whenOhm = ((Math.abs(b.y - a.y) / (b.x - a.x)) * baseline.stepS) / Math.sqrt(12);
    const shownU = baseline.scatterV * Math.hypot((1 - share) / Math.sqrt(a.weight), share / Math.sqrt(b.weight));
    edge.standardUncertaintyOhm[name] = quadrature(shownU / Math.abs(deltaCurrentA), expected(horizonS).u / Math.abs(deltaCurrentA), whenOhm);
  }
  return edge;
}
