import { positive } from '../impossibleInput';
import { quadrature, type Quantity, rectangular } from '../quantity/quantity';
import { createPulseFinder, type LoadEdge } from '../resistance/pulses';
import type { Warning } from '../warning';
import { createSwitchGuess } from './switchGuess';
import type { Sample } from './logReader';
import { createWildFilter } from './wildSamples';

/** What drew the current: a known resistor, a regulated current, or whatever the log's own column says. */
export type DischargeLoad = { kind: 'resistor'; resistanceOhm: number } | { kind: 'current'; currentA: number } | { kind: 'column' };

export interface DischargeSettings {
  load: DischargeLoad;
  /** Standard uncertainty of the load (resistor, regulation or current column) relative to itself. */
  loadRelativeU?: number;
  /** Cut-off of the whole stack, V. */
  cutoffV?: number;
  seriesCells?: number;
}

export interface Discharge {
  samples: number;
  durationS: number;
  capacityAh: Quantity;
  energyWh: number;
  meanVoltageV: number;
  meanCurrentA: number;
  endVoltageV: number;
  /** False: the capacity is a lower bound. Null where no cut-off was asked for. */
  reachedCutoff: boolean | null;
  gaps: { fromS: number; toS: number }[];
  edges: LoadEdge[];
  warnings: Warning[];
}

/** Raised whenever the arithmetic below changes a result, so that kept results are made again. */
export const dischargeArithmetic = 2;

/** One per cent of tolerance, rectangular. */
export const usualLoadRelativeU = 0.01 / Math.sqrt(3);
const wildPerCellV = 0.15;
/** A crossing lasts when this many samples and seconds stay below it. */
const lastingSamples = 3;
const lastingS = 10;
/** A silence is a gap beyond this many usual steps and at least this long. */
const gapSteps = 10;
const leastGapS = 30;
/** After a crossing, a rise by this much per cell means that the load was taken off. */
const releasePerCellV = 0.03;

/** Up to so much a logger may show while nothing flows: it does not tell the sign of a discharge. */
const restingA = 0.01;

interface Totals {
  timeS: number;
  voltageV: number;
  currentA: number;
  chargeAs: number;
  energyWs: number;
  voltSeconds: number;
  gapVarianceAs2: number;
  /** Fall of voltage at the end, V/s, positive downwards. */
  fallVPerS: number;
}

/**
 * Integrates a discharge sample by sample in constant memory: the area under the current by the trapezoid rule over
 * uneven steps, the cut-off interpolated between two samples, everything counted up to the first lasting crossing.
 * Wild samples are left out; gaps are bridged by a straight line and paid for in uncertainty.
 *
 * Uncertainty: the load's own (fully correlated along the log), the voltage step for a resistor, the cut-off's step over
 * the fall of voltage, and for each gap the rectangular distribution between its end currents. Source: GUM for the
 * combination, common practice for the integration.
 */
export function createDischargeMeter({ load, loadRelativeU = usualLoadRelativeU, cutoffV, seriesCells = 1 }: DischargeSettings) {
  if (load.kind === 'resistor') positive('load', load.resistanceOhm);
  if (load.kind === 'current') positive('load', load.currentA);
  const pulses = createPulseFinder();
  const guess = createSwitchGuess(seriesCells);
  const crossing = createCrossing(cutoffV, releasePerCellV * seriesCells);
  const gaps: { fromS: number; toS: number }[] = [];
  let totals: Totals | null = null;
  let samples = 0;
  let usualStepS = 0;
  let sign = 0;

  const currentOf = ({ voltageV, currentA }: Sample): number => {
    if (load.kind === 'resistor') return voltageV / load.resistanceOhm;
    if (load.kind === 'current') return load.currentA;
    if (sign === 0 && currentA !== null && Math.abs(currentA) > restingA) sign = Math.sign(currentA);
    return (currentA ?? 0) * (sign || 1);
  };

  const count = (sample: Sample): void => {
    if (crossing.done()) return;
    const currentA = currentOf(sample);
    pulses.push(sample.timeS, sample.voltageV, load.kind === 'column' ? currentA : guess.currentA(sample, currentA));
    if (!totals) {
      totals = { timeS: sample.timeS, voltageV: sample.voltageV, currentA, chargeAs: 0, energyWs: 0, voltSeconds: 0, gapVarianceAs2: 0, fallVPerS: 0 };
      crossing.begin(sample.voltageV);
      return;
    }
    const stepS = sample.timeS - totals.timeS;
    if (stepS <= 0) return;
    const isGap = stepS > Math.max(leastGapS, gapSteps * usualStepS) && usualStepS > 0;
    if (isGap) gaps.push({ fromS: totals.timeS, toS: sample.timeS });
    else usualStepS = usualStepS === 0 ? stepS : 0.95 * usualStepS + 0.05 * stepS;

    const before = totals;
    totals = advanced(before, sample.timeS, sample.voltageV, currentA, isGap);
    crossing.watch(before, totals, (at) => advanced(before, at.timeS, at.voltageV, before.currentA + (currentA - before.currentA) * at.share, isGap));
  };

  const wild = createWildFilter(wildPerCellV * positive('seriesCells', seriesCells), count);

  return {
    push(sample: Sample): void {
      samples += 1;
      wild.push(sample);
    },

    /** @param voltageStepV last digit of the logged voltage, for the uncertainty */
    finish(voltageStepV: number): Discharge {
      wild.finish();
      const { end, reached, released, briefDips } = crossing.end();
      const at = end ?? totals ?? { timeS: 0, voltageV: NaN, currentA: 0, chargeAs: 0, energyWs: 0, voltSeconds: 0, gapVarianceAs2: 0, fallVPerS: 0 };
      const capacity = at.chargeAs / 3600;
      const durationS = at.timeS;
      const meanVoltageV = durationS > 0 ? at.voltSeconds / durationS : at.voltageV;
      const stepU = rectangular(voltageStepV);
      const cutoffU = reached && at.fallVPerS > 0 ? (stepU / at.fallVPerS) * (at.currentA / 3600) : 0;
      const u = quadrature(
        capacity * loadRelativeU,
        load.kind === 'resistor' ? (stepU / load.resistanceOhm / 3600) * durationS : 0,
        Math.min(cutoffU, 0.05 * capacity),
        Math.sqrt(at.gapVarianceAs2) / 3600,
      );
      const keptGaps = gaps.filter((gap) => gap.fromS < at.timeS);
      return {
        samples,
        durationS,
        capacityAh: { value: capacity, u },
        energyWh: at.energyWs / 3600,
        meanVoltageV,
        meanCurrentA: durationS > 0 ? at.chargeAs / durationS : 0,
        endVoltageV: at.voltageV,
        reachedCutoff: cutoffV === undefined ? null : reached,
        gaps: keptGaps,
        edges: pulses.finish().filter((edge) => edge.atS <= at.timeS),
        warnings: warningsOf({ gaps: keptGaps, wild: wild.found(), negated: sign < 0, cutoffV, reached, released, briefDips, end: at }),
      };
    },
  };
}

export type DischargeMeter = ReturnType<typeof createDischargeMeter>;

function advanced(from: Totals, timeS: number, voltageV: number, currentA: number, isGap: boolean): Totals {
  const stepS = timeS - from.timeS;
  const chargeAs = ((from.currentA + currentA) / 2) * stepS;
  const gapU = isGap ? rectangular((from.currentA - currentA) * stepS) : 0;
  return {
    timeS,
    voltageV,
    currentA,
    chargeAs: from.chargeAs + chargeAs,
    energyWs: from.energyWs + ((from.currentA * from.voltageV + currentA * voltageV) / 2) * stepS,
    voltSeconds: from.voltSeconds + ((from.voltageV + voltageV) / 2) * stepS,
    gapVarianceAs2: from.gapVarianceAs2 + gapU * gapU,
    // Smoothed, so that the last digit's dither does not pass for the slope.
    fallVPerS: stepS > 0 ? 0.9 * from.fallVPerS + (0.1 * (from.voltageV - voltageV)) / stepS : from.fallVPerS,
  };
}

/** Watches for the first crossing of the cut-off that lasts. */
function createCrossing(cutoffV: number | undefined, releaseV: number) {
  let started = false;
  let pending: { end: Totals; since: number; samples: number } | null = null;
  let dip: Totals | null = null;
  let settled: Totals | null = null;
  let dips = 0;
  let highSinceDip = 0;
  let startsBelow = false;

  return {
    done: () => settled !== null,
    begin(voltageV: number) {
      startsBelow = cutoffV !== undefined && voltageV < cutoffV;
      started = !startsBelow;
    },
    watch(before: Totals, after: Totals, endAt: (at: { timeS: number; voltageV: number; share: number }) => Totals): void {
      if (cutoffV === undefined) return;
      if (!started) {
        started = after.voltageV >= cutoffV;
        return;
      }
      if (after.voltageV >= cutoffV) {
        if (pending) {
          dips += 1;
          dip = pending.end;
          highSinceDip = 0;
        }
        pending = null;
        if (dip) highSinceDip = after.voltageV > cutoffV + releaseV ? highSinceDip + 1 : 0;
        return;
      }
      if (pending) pending.samples += 1;
      else {
        const share = (before.voltageV - cutoffV) / (before.voltageV - after.voltageV);
        pending = { end: endAt({ timeS: before.timeS + share * (after.timeS - before.timeS), voltageV: cutoffV, share }), since: after.timeS, samples: 1 };
      }
      if (pending.samples >= lastingSamples && after.timeS - pending.since >= lastingS) settled = pending.end;
    },
    end() {
      // A log that stops below the cut-off crossed it for good; one that stays well above after a dip was taken off the load.
      const stopped = settled ?? pending?.end ?? null;
      const released = stopped === null && dip !== null && highSinceDip >= lastingSamples;
      const end = stopped ?? (released ? dip : null);
      return { end, reached: end !== null, released, briefDips: released ? dips - 1 : dips };
    },
  };
}

interface Noticed {
  gaps: { fromS: number; toS: number }[];
  wild: { count: number; atS: readonly number[] };
  negated: boolean;
  cutoffV: number | undefined;
  reached: boolean;
  released: boolean;
  briefDips: number;
  end: Totals;
}

function warningsOf({ gaps, wild, negated, cutoffV, reached, released, briefDips, end }: Noticed): Warning[] {
  const warnings: Warning[] = [];
  if (wild.count > 0) {
    warnings.push({ code: 'wild-samples', message: `${wild.count} wild sample${wild.count === 1 ? '' : 's'} left out (at ${wild.atS.map((s) => `${Math.round(s)} s`).join(', ')}${wild.count > wild.atS.length ? ', …' : ''}).` });
  }
  for (const gap of gaps.slice(0, 5)) {
    warnings.push({ code: 'gap', message: `Nothing was logged for ${Math.round(gap.toS - gap.fromS)} s from ${Math.round(gap.fromS)} s on; bridged by a straight line.` });
  }
  if (negated) warnings.push({ code: 'current-negated', message: 'The current column counts discharge as negative; its sign was turned.' });
  if (briefDips > 0) warnings.push({ code: 'brief-dips', message: `The voltage touched the cut-off ${briefDips === 1 ? 'once' : `${briefDips} times`} and came back; only the lasting crossing counts.` });
  if (released) warnings.push({ code: 'load-released', message: 'After the cut-off the voltage rose again: the load was off. Counted up to the crossing.' });
  if (cutoffV !== undefined && !reached) {
    warnings.push({ code: 'cutoff-not-reached', message: `The log ends at ${end.voltageV.toFixed(3)} V, above the cut-off of ${cutoffV} V: the capacity is at least this.` });
  }
  return warnings;
}
