import { positive } from '../impossibleInput';
import { lastDigitOf, valuesLookedAt, writtenDigitOf } from '../quantity/lastDigit';
import { type Contribution, quadrature, type Quantity, rectangular } from '../quantity/quantity';
import { createPulseFinder, type LoadEdge, mostEdges, type PulseTools } from '../resistance/pulses';
import type { Warning } from '../warning';
import { createCurrentSense } from './currentSense';
import { createDischargeTally, type DischargeTally, type Tallied, type Tallying } from './dischargeTally';
import { type GroupAtEnd, groupsAtEnd } from './groupsAtEnd';
import type { Sample } from './logReader';
import type { LogTools } from './logTools';
import { type OpenCourse, openCourseOf } from './openCourse';
import { createSegmenter, mostSegments, type Segment } from './segments';
import { createVoltageSense } from './voltageSense';
import { createWildFilter, type WildFilter } from './wildSamples';

/** The kind of a load without a column of current. */
const givenMode = { resistor: 'resistor', current: 'constant-current', column: null } as const;

/** What drew the current: a known resistor, a regulated current, or whatever the log's own column says. */
export type DischargeLoad =
  { kind: 'resistor'; resistanceOhm: number } | { kind: 'current'; currentA: number } | { kind: 'column' };

export interface DischargeSettings {
  load: DischargeLoad;
  tools?: LogTools;
  /** Cut-off of the whole stack, V. */
  cutoffV?: number;
  /** Cut-off of a group of a pack whose groups were logged, V: the first of them to cross it ends the discharge. */
  cutoffPerGroupV?: number;
  seriesCells?: number;
  /** Last digits of the logged voltage and of those of the groups, where they are known beforehand. */
  voltageDigitV?: number;
  groupDigitV?: number;
}

export type CapacityInput = 'load' | 'current column' | 'voltmeter' | 'cut-off' | 'moment of switching' | 'gaps';

export interface Discharge {
  samples: number;
  /** Of the time under load alone. */
  durationS: number;
  capacityAh: Quantity;
  /** Where the uncertainty of the capacity comes from, largest first, Ah. */
  budget: Contribution<CapacityInput>[];
  energyWh: number;
  meanVoltageV: number;
  meanCurrentA: number;
  endVoltageV: number;
  /** False: the capacity is a lower bound. Null where no cut-off was asked for. */
  reachedCutoff: boolean | null;
  /** When the load came on, and up to when it was counted, seconds from the log's start. */
  fromS: number;
  toS: number;
  gaps: { fromS: number; toS: number }[];
  /** From the negative terminal, as it ended; null where none were logged. */
  groups: GroupAtEnd[] | null;
  edges: LoadEdge[];
  /** How its voltage went with its charge, where that shows the open-circuit voltage; null where it does not. */
  course: OpenCourse | null;
  /** What went on in the log, one after the other. */
  segments: Segment[];
  /** Samples that were left out as wild: the first of them. */
  wild: Pick<Sample, 'timeS' | 'voltageV'>[];
  warnings: Warning[];
}

/** Raised whenever the arithmetic below changes a result, so that kept results are made again. */
export const dischargeArithmetic = 7;

/** Limits assumed, and said to be, where nothing is known of the tools. */
const assumedLoadTolerance = 0.01;
const assumedCurrentFraction = 0.01;
const assumedVoltageFraction = 0.005;

/** A sample is wild where it lies so far off what its neighbours let expect, V a cell. */
const wildPerCellV = 0.15;
/** Less than this share of a discharge is no charge of its own. */
const chargedFraction = 0.01;
/** A current that moves over fewer digits than this is off by the same part of one all along. */
const ditheredDigits = 2;

/**
 * Integrates a discharge sample by sample in constant memory: the area under the current by the trapezoid rule over
 * uneven steps, under load alone, up to the first lasting crossing of the cut-off. Rest and charge before, between and
 * after are left out: a column of current shows them; where only the load is given, the voltage does. Of several
 * discharges the first that ends at the cut-off counts, else the largest, as a lower bound. Of a pack whose groups were
 * logged the lowest group is compared with the cut-off of one.
 * Wild samples and those without a current are left out; gaps are bridged by a straight line and paid for in
 * uncertainty.
 *
 * Uncertainty by the GUM: the tolerance of the load or the accuracy, zero and digit of the column, the voltmeter, where
 * the cut-off was met, when the load went on and off between two samples, and gaps. Source: common practice for the
 * integration.
 */
export function createDischargeMeter({
  load,
  tools = {},
  cutoffV: stackCutoffV,
  cutoffPerGroupV,
  seriesCells = 1,
  voltageDigitV: digitV,
  groupDigitV,
}: DischargeSettings) {
  const cutoffV = cutoffPerGroupV ?? stackCutoffV;
  if (load.kind === 'resistor') positive('load', load.resistanceOhm);
  if (load.kind === 'current') positive('load', load.currentA);
  positive('seriesCells', seriesCells);
  const pulses = createPulseFinder();
  // Imported, it would be asked for by a call, sample after sample.
  const mostCurrents = valuesLookedAt;
  const segmenter = createSegmenter(givenMode[load.kind]);
  const tallyOf = (): DischargeTally =>
    createDischargeTally({
      cutoffV,
      digitV: cutoffPerGroupV === undefined ? digitV : groupDigitV,
      limitV: voltageLimit(cutoffV ?? 0, tools),
      resistorOhm: load.kind === 'resistor' ? load.resistanceOhm : null,
    });
  let samples = 0;
  const seenOf = ({ timeS, voltageV, groupsV = null }: Sample): Tallying => ({
    timeS,
    voltageV,
    watchedV: cutoffPerGroupV !== undefined && groupsV ? Math.min(...groupsV) : voltageV,
    groupsV,
  });

  const flowNow = (): Flow => {
    const tally = tallyOf();
    const currentOf = ({ voltageV }: Sample): number => {
      if (load.kind === 'resistor') return voltageV / load.resistanceOhm;
      return load.kind === 'current' ? load.currentA : 0;
    };
    let restedA = 0;
    const sense = createVoltageSense(
      { seriesCells, digitV },
      {
        sample(sample, isLoaded, stepsOn, isLowest) {
          const currentA = currentOf(sample);
          // Steps count from an unknown level: after a log that began loaded, "off" is less than nothing.
          if (!isLoaded && stepsOn < 0 && restedA === 0) restedA = -currentA;
          const restA = stepsOn < 0 ? restedA : 0;
          pulses.push(sample.timeS, sample.voltageV, isLoaded && stepsOn > 0 ? currentA : restA);
          segmenter.push(sample.timeS, sample.voltageV, currentA, isLoaded ? 1 : 0, sample);
          tally.push(seenOf(sample), isLoaded ? currentA : 0);
          if (isLoaded && isLowest) tally.markLowest();
        },
        wentOn: tally.wentOn,
        beginAnew: tally.beginAnew,
        endedAtLowest: tally.endAtLowest,
      },
    );
    return {
      push: sense.push,
      finish: () => (sense.finish().onlyRose ? null : { tallied: tally.finish(), way: 1, charged: false }),
      currents: [],
      restA: 0,
      missing: 0,
    };
  };

  const byColumn = (): Flow => {
    const sense = createCurrentSense();
    const [along, against] = [tallyOf(), tallyOf()];
    const direction = createDirection();
    const flow = { currents: [] as number[], restA: 0, missing: 0 };
    return {
      ...flow,
      push(sample) {
        if (sample.currentA === null) {
          this.missing += 1;
          return;
        }
        const { currentA } = sample;
        const way = sense.wayOf(currentA);
        direction.push(sample.voltageV, currentA, way);
        if (way === 0) this.restA += (currentA - this.restA) / 50;
        else if (this.currents.length < mostCurrents) this.currents.push(Math.abs(currentA));
        pulses.push(sample.timeS, sample.voltageV, currentA);
        segmenter.push(sample.timeS, sample.voltageV, currentA, way, sample);
        const leastA = sense.leastA();
        segmenter.forgetBelow(leastA);
        const seen = seenOf(sample);
        for (const [tally, its] of [
          [along, 1],
          [against, -1],
        ] as const) {
          if (way !== 0) tally.forgetBelow(leastA);
          tally.push(seen, way === its ? Math.abs(currentA) : 0, way === -its);
        }
      },
      finish() {
        const [one, other] = [along.finish(), against.finish()];
        const [oneAs, otherAs] = [one?.chargeAs ?? 0, other?.chargeAs ?? 0];
        const way = direction.ofDischarge(oneAs, otherAs);
        const [discharged, charged] = way === 1 ? [oneAs, otherAs] : [otherAs, oneAs];
        return { tallied: way === 1 ? one : other, way, charged: charged > chargedFraction * discharged };
      },
    };
  };

  const flow = load.kind === 'column' ? byColumn() : flowNow();
  const wild = createWildFilter(wildPerCellV * seriesCells, (sample) => flow.push(sample));

  return {
    push(sample: Sample): void {
      samples += 1;
      wild.push(sample);
    },

    /**
     * @param voltageStepV last digit of the logged voltage, for the uncertainty
     * @param currentStepA last digit of the column of current; inferred from its figures where it is not known
     */
    finish(voltageStepV: number, currentStepA: number | null = null): Discharge {
      wild.finish();
      const found = flow.finish();
      const at = found?.tallied ?? nothing;
      const capacity = at.chargeAs / 3600;
      const budget = budgetOf(at, load, tools, voltageStepV, currentStepA, flow);
      const { segments, beyond: segmentsBeyond } = segmenter.finish(found?.way ?? 1);
      const edges = pulses.finish(pulseTools(found?.way ?? 1, load, tools, voltageStepV, currentStepA));
      return {
        samples,
        durationS: at.loadedS,
        capacityAh: { value: capacity, u: quadrature(...budget.map((fraction) => fraction.u)) },
        budget,
        energyWh: at.energyWs / 3600,
        meanVoltageV: at.loadedS > 0 ? at.voltSeconds / at.loadedS : at.voltageV,
        meanCurrentA: at.loadedS > 0 ? at.chargeAs / at.loadedS : 0,
        endVoltageV: at.voltageV,
        reachedCutoff: cutoffV === undefined ? null : at.end !== null,
        fromS: at.fromS,
        toS: at.toS,
        gaps: at.gaps,
        groups: groupsAtEnd(at, cutoffPerGroupV ?? null, rectangular(groupDigitV ?? voltageStepV)),
        edges,
        course: at.end === null ? null : openCourseOf(at, segments),
        segments,
        wild: wild.found().samples.map(({ timeS, voltageV }) => ({ timeS, voltageV })),
        warnings: warningsOf({
          at,
          wild: wild.found(),
          negated: found?.way === -1,
          cutoffV,
          missing: flow.missing,
          charged: found?.charged ?? false,
          load,
          tools,
          ended: found !== null,
          stepsBeyond: pulses.beyond(),
          segmentsBeyond,
        }),
      };
    },
  };
}

export type DischargeMeter = ReturnType<typeof createDischargeMeter>;

/** How samples become a discharge: from a given load or from the column. */
interface Flow {
  push(sample: Sample): void;
  /**
   * Null where there is no discharge at all; `way` is the sign of a discharge in the column, `charged` whether current
   * flowed the other way as well.
   */
  finish(): { tallied: Tallied | null; way: 1 | -1; charged: boolean } | null;
  /** The first currents under load, for the column's last digit, and what it shows at rest. */
  currents: number[];
  restA: number;
  /** Samples without a current. */
  missing: number;
}

const nothing: Tallied = {
  fromS: 0,
  toS: 0,
  loadedS: 0,
  chargeAs: 0,
  energyWs: 0,
  voltSeconds: 0,
  voltageV: 0,
  switchVarianceAs2: 0,
  gapVarianceAs2: 0,
  gaps: [],
  restBeforeS: 0,
  restBetweenS: 0,
  restAfterS: 0,
  end: null,
  endVarianceAs2: 0,
  briefDips: 0,
  watchedV: 0,
  groupsV: null,
  course: [],
  groupJumpsV: null,
};

/**
 * Which sign of the column is the discharge: the one under which the voltage falls, and whose steps up bring it down.
 */
function createDirection() {
  let evidenceV = 0;
  let previous: { voltageV: number; currentA: number; way: number } | null = null;
  return {
    push(voltageV: number, currentA: number, way: number): void {
      if (previous) {
        const fellV = previous.voltageV - voltageV;
        evidenceV += previous.way === way ? way * fellV : Math.sign(currentA - previous.currentA) * fellV;
      }
      previous = { voltageV, currentA, way };
    },
    ofDischarge: (alongAs: number, againstAs: number): 1 | -1 => {
      const isAlong = Math.abs(evidenceV) > 1e-6 ? evidenceV > 0 : alongAs >= againstAs;
      return isAlong ? 1 : -1;
    },
  };
}

/** The most by which the voltmeter may be off at that voltage. */
const voltageLimit = (voltageV: number, { voltageAccuracyShare, voltageAccuracyV }: LogTools): number =>
  voltageAccuracyShare === undefined && voltageAccuracyV === undefined
    ? assumedVoltageFraction * voltageV
    : (voltageAccuracyShare ?? 0) * voltageV + (voltageAccuracyV ?? 0);

function budgetOf(
  at: Tallied,
  load: DischargeLoad,
  tools: LogTools,
  voltageStepV: number,
  currentStepA: number | null,
  { currents, restA }: Flow,
): Contribution<CapacityInput>[] {
  const capacity = at.chargeAs / 3600;
  const hours = at.loadedS / 3600;
  const limit = (most: number): number => most / Math.sqrt(3);
  const loadU = load.kind === 'column' ? 0 : capacity * limit(tools.loadTolerance ?? assumedLoadTolerance);
  const fractions: Record<CapacityInput, number> = {
    load: loadU,
    'current column': load.kind === 'column' ? columnU(capacity, hours, tools, currents, currentStepA, restA) : 0,
    voltmeter:
      load.kind === 'resistor'
        ? (quadrature(
            limit(voltageLimit(at.loadedS > 0 ? at.voltSeconds / at.loadedS : 0, tools)),
            rectangular(voltageStepV),
          ) /
            load.resistanceOhm) *
          hours
        : 0,
    'cut-off': Math.sqrt(at.endVarianceAs2) / 3600,
    'moment of switching': Math.sqrt(at.switchVarianceAs2) / 3600,
    gaps: Math.sqrt(at.gapVarianceAs2) / 3600,
  };
  return (Object.entries(fractions) as [CapacityInput, number][])
    .filter(([, u]) => u > 0)
    .map(([input, u]) => ({ input, u }))
    .sort((a, b) => b.u - a.u);
}

function pulseTools(
  way: 1 | -1,
  load: DischargeLoad,
  tools: LogTools,
  voltageDigitV: number,
  currentStepA: number | null,
): PulseTools {
  const limit =
    load.kind === 'column'
      ? (tools.currentAccuracyShare ?? (tools.currentAccuracyA === undefined ? assumedCurrentFraction : 0))
      : (tools.loadTolerance ?? assumedLoadTolerance);
  // With a resistor the same voltmeter gives the current: its gain cancels.
  const gain =
    load.kind === 'resistor'
      ? 0
      : (tools.voltageAccuracyShare ?? (tools.voltageAccuracyV === undefined ? assumedVoltageFraction : 0));
  const currentDigitA = load.kind === 'column' ? currentStepA : 0;
  return {
    way,
    voltageDigitV,
    voltageRelativeU: gain / Math.sqrt(3),
    currentRelativeU: limit / Math.sqrt(3),
    ...(currentDigitA === null ? {} : { currentDigitA }),
  };
}

/** Accuracy, zero and digit of a column of current, over the whole discharge. */
function columnU(
  capacity: number,
  hours: number,
  { currentAccuracyShare, currentAccuracyA }: LogTools,
  currents: readonly number[],
  currentStepA: number | null,
  restA: number,
): number {
  const isKnown = currentAccuracyShare !== undefined || currentAccuracyA !== undefined;
  const digit = currentStepA ?? lastDigitOf(currents, writtenDigitOf(currents));
  const range =
    currents.length > 0 ? currents.reduce((a, b) => Math.max(a, b)) - currents.reduce((a, b) => Math.min(a, b)) : 0;
  const fractionU = (capacity * (isKnown ? (currentAccuracyShare ?? 0) : assumedCurrentFraction)) / Math.sqrt(3);
  // What the column shows at rest is not taken off, since it may be real; but it adds to the uncertainty.
  const zeroU = (Math.max(isKnown ? (currentAccuracyA ?? 0) : 0, Math.abs(restA)) / Math.sqrt(3)) * hours;
  return quadrature(fractionU, zeroU, range < ditheredDigits * digit ? rectangular(digit) * hours : 0);
}

interface Noticed {
  at: Tallied;
  wild: ReturnType<WildFilter['found']>;
  negated: boolean;
  cutoffV: number | undefined;
  missing: number;
  charged: boolean;
  load: DischargeLoad;
  tools: LogTools;
  ended: boolean;
  stepsBeyond: number;
  segmentsBeyond: number;
}

function warningsOf({
  at,
  wild,
  negated,
  cutoffV,
  missing,
  charged,
  load,
  tools,
  ended,
  stepsBeyond,
  segmentsBeyond,
}: Noticed): Warning[] {
  const warnings: Warning[] = [];
  if (!ended || at.chargeAs === 0) warnings.push({ code: 'no-discharge' });
  if (wild.count > 0)
    warnings.push({ code: 'wild-samples', count: wild.count, atS: wild.samples.slice(0, 5).map(({ timeS }) => timeS) });
  if (missing > 0) warnings.push({ code: 'current-missing', count: missing });
  for (const { fromS, toS } of at.gaps.slice(0, 5)) warnings.push({ code: 'gap', fromS, toS });
  if (negated) warnings.push({ code: 'current-negated' });
  if (charged) warnings.push({ code: 'charge-left-out' });
  const { restBeforeS: beforeS, restBetweenS: betweenS, restAfterS: afterS } = at;
  if (beforeS + betweenS + afterS > 0 && at.chargeAs > 0)
    warnings.push({ code: 'rest-left-out', beforeS, betweenS, afterS });
  if (at.briefDips > 0) warnings.push({ code: 'brief-dips', count: at.briefDips });
  if (at.end?.inGap) warnings.push({ code: 'cutoff-in-gap', silenceS: at.end.stepS, uS: at.end.uS });
  else if (at.end?.carriedOn) warnings.push({ code: 'cutoff-carried-on', voltageV: at.watchedV, uS: at.end.uS });
  if (cutoffV !== undefined && at.end === null && at.chargeAs > 0)
    warnings.push({ code: 'cutoff-not-reached', voltageV: at.watchedV, cutoffV });
  if (stepsBeyond > 0) warnings.push({ code: 'steps-not-evaluated', evaluated: mostEdges, beyond: stepsBeyond });
  if (segmentsBeyond > 0) warnings.push({ code: 'segments-not-listed', listed: mostSegments, beyond: segmentsBeyond });
  if (load.kind !== 'column' && tools.loadTolerance === undefined)
    warnings.push({ code: 'load-tolerance-assumed', load: load.kind, share: assumedLoadTolerance });
  if (load.kind === 'column' && tools.currentAccuracyShare === undefined && tools.currentAccuracyA === undefined)
    warnings.push({ code: 'current-accuracy-assumed' });
  if (
    tools.voltageAccuracyShare === undefined &&
    tools.voltageAccuracyV === undefined &&
    (load.kind === 'resistor' || cutoffV !== undefined)
  )
    warnings.push({ code: 'voltage-accuracy-assumed' });
  return warnings;
}
