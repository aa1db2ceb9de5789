import type { Discharge } from '../capacity/discharge';
import { type Chemistry, chemistries } from '../chemistry/chemistries';
import { learnCurve } from '../chemistry/measuredCurve';
import { type FullDischarge, makeByDesignation, makesAfter, makesByDesignation } from '../chemistry/makes';
import {
  curveOfMakes,
  type Make,
  makes,
  type OpenCircuitCurve,
  openCircuitOf,
  type Rechargeable,
} from '../chemistry/openCircuit';
import { groupedBy } from '../grouped';
import { type InstrumentRange, limitOf } from '../instruments/instrument';
import { usualOhmAh } from '../packs/diagnosis/roundMedians';
import { firstLoadOhm } from '../resistance/pulses';
import type { InstrumentBook } from './instrumentBook';

/** Whose curve: a cell's model, a cell of unknown model, or a pack. */
export interface CurveOf {
  chemistry: Chemistry;
  /** Of a pack alone. */
  series?: number;
  code?: string;
  maker?: string | null;
  model?: string | null;
}

/** A discharge that shows something of the open-circuit voltage of its model, the newest first. */
export interface TeachingRun extends CurveOf {
  runId: number;
  endedAt: Date;
  chemistry: Rechargeable;
  groups: number;
  loggerId: number | null;
  cutoffV: number;
  /** As the log begins, V of the whole; null where unknown. */
  startV: number | null;
  result: Pick<Discharge, 'capacityAh' | 'edges' | 'course' | 'meanVoltageV' | 'meanCurrentA' | 'reachedCutoff'>;
}

/** A measured curve, and its run. */
export interface MeasuredCurve {
  runId: number;
  curve: OpenCircuitCurve;
}

/** Why a curve was chosen for a cell or pack. */
export type CurveBasis =
  | { by: 'learnt'; runId: number }
  /** Its chemistry has one table. */
  | { by: 'table' }
  /** The likeliest make, its probability, and the discharges that show it. */
  | { by: 'discharges'; make: Make; probability: number; runIds: number[] }
  | { by: 'designation'; make: Make }
  | { by: 'unknown' };

/** The open-circuit curve to read charge by. */
export interface CurveBook {
  /** Learnt from its own model, else of the makes that it may be; null of a primary cell. */
  of(subject: CurveOf): OpenCircuitCurve | null;
  basisOf(subject: CurveOf): CurveBasis;
  /** Null where its model has not taught any. */
  learntOf(subject: CurveOf): MeasuredCurve | null;
  /** Two books of one state teach the same. */
  state: string;
}

/** Assumed where the accuracy of a voltmeter is not noted, a fraction. */
const assumedVoltageFraction = 0.005;

/** Standard uncertainty of what logged a voltage, V a cell or group; of several in series the whole was read. */
export const voltmeterU = (range: InstrumentRange | null, perGroupV: number, groups = 1): number =>
  (range ? limitOf(perGroupV * groups, range) / groups : assumedVoltageFraction * perGroupV) / Math.sqrt(3);

/** Cells of one model share a curve; a pack, or a cell of unknown model, has its own. Null: nothing is shared. */
function keyOf({ series, code, maker, model }: CurveOf): string | null {
  if (series === undefined && model != null) return `${maker} ${model}`;
  return code === undefined ? null : `itself ${code}`;
}

/** A discharge is from full where it begins no further below the end of a charge, V a cell. */
const belowFullV = 0.12;
/**
 * What lags over hours against the ten-second resistance, and its standard uncertainty, a fraction: where that
 * resistance was measured, and where the usual one is taken. From memory.
 */
const [lagTimes, lagU, usualLagU] = [1.7, 0.3, 0.6];
/** The newest discharges of a model that show its make. */
export const mostDischarges = 8;

function fullDischarge(run: TeachingRun, instruments: InstrumentBook): FullDischarge[] {
  const { groups, startV, cutoffV, loggerId, result, chemistry } = run;
  const { capacityAh, edges, meanVoltageV, meanCurrentA, reachedCutoff } = result;
  if (chemistry !== 'li-ion' || startV === null || reachedCutoff !== true) return [];
  const measuredOhm = firstLoadOhm(edges);
  const ohm = (measuredOhm ?? (groups * usualOhmAh) / capacityAh.value) / groups;
  if (startV / groups + ohm * meanCurrentA < chemistries[chemistry].fullV - belowFullV) return [];
  const [meanV, lagV] = [meanVoltageV / groups, lagTimes * ohm * meanCurrentA];
  // A result of an older version may lack a figure.
  if (!Number.isFinite(meanV) || !Number.isFinite(lagV)) return [];
  const u = voltmeterU(instruments.byId(loggerId)?.ranges.voltage ?? null, meanV, groups);
  return [
    { meanV: { value: meanV, u }, lagV: { value: lagV, u: (measuredOhm === null ? usualLagU : lagU) * lagV }, cutoffV },
  ];
}

/** The curve that a discharge teaches, older by the quarters of a year since; null where it teaches none. */
function measuredCurves(run: TeachingRun, instruments: InstrumentBook, now: Date): OpenCircuitCurve | null {
  const { chemistry, groups, loggerId, result } = run;
  if (!result.course) return null;
  const perGroupV = (result.course.points[0]?.[1] ?? 0) / groups;
  return learnCurve({
    chemistry,
    series: groups,
    course: result.course,
    capacityAh: result.capacityAh.value,
    resistanceOhm: firstLoadOhm(result.edges),
    voltmeterU: voltmeterU(instruments.byId(loggerId)?.ranges.voltage ?? null, perGroupV, groups),
    ageYears: quartersSince(run.endedAt, now) / 4,
  });
}

const quarterMs = (365.25 / 4) * 86_400_000;
const quartersSince = (at: Date, now: Date): number =>
  Math.max(0, Math.floor((now.getTime() - at.getTime()) / quarterMs));

interface Chosen {
  curve: OpenCircuitCurve;
  basis: CurveBasis;
  state: string;
}

/** The makes that cells of a model may be, by its discharges and by its designation. */
function choose(model: string | null | undefined, runs: readonly TeachingRun[], instruments: InstrumentBook): Chosen {
  const shown = runs
    .slice(0, mostDischarges)
    .flatMap((run) => fullDischarge(run, instruments).map((discharge) => ({ discharge, runId: run.runId })));
  const probabilities = makesAfter(
    makesByDesignation(model),
    shown.map(({ discharge }) => discharge),
  );
  const [make] = makes.toSorted((one, other) => probabilities[other] - probabilities[one]) as [Make];
  const named = makeByDesignation(model);
  const runIds = shown.map(({ runId }) => runId);
  const withoutRuns: CurveBasis = named ? { by: 'designation', make: named } : { by: 'unknown' };
  return {
    curve: curveOfMakes(probabilities),
    basis: shown.length > 0 ? { by: 'discharges', make, probability: probabilities[make], runIds } : withoutRuns,
    state: JSON.stringify(probabilities),
  };
}

/** @param runs the newest first: of each model the newest that teaches counts */
export function curveBook(runs: readonly TeachingRun[], instruments: InstrumentBook, now: Date): CurveBook {
  const measured = new Map<string, MeasuredCurve>();
  const chosen = new Map<string, Chosen>();
  const state: string[] = [];
  for (const [key, ofModel] of groupedBy(runs, keyOf)) {
    const [newest] = ofModel;
    if (key === null) continue;
    for (const run of ofModel) {
      const curve = measured.has(key) ? null : measuredCurves(run, instruments, now);
      if (curve) measured.set(key, { runId: run.runId, curve });
    }
    const own = measured.get(key);
    if (own) state.push(`${key} ${own.runId} ${own.curve.uAt(0.5)}`);
    else if (newest.chemistry === 'li-ion') {
      const choice = choose(modelOf(newest), ofModel, instruments);
      chosen.set(key, choice);
      state.push(`${key} ${choice.state}`);
    }
  }
  const measuredOf = (subject: CurveOf): MeasuredCurve | null => measured.get(keyOf(subject) ?? '') ?? null;
  /** Of a model without discharges. */
  const byName = new Map<Make | null, Chosen>();
  const choiceOf = (subject: CurveOf): Chosen => {
    const byRuns = chosen.get(keyOf(subject) ?? '');
    if (byRuns) return byRuns;
    const named = makeByDesignation(modelOf(subject));
    const choice = byName.get(named) ?? choose(modelOf(subject), [], instruments);
    byName.set(named, choice);
    return choice;
  };
  return {
    of: (subject) => {
      const { chemistry } = subject;
      if (chemistry === 'alkaline') return null;
      const own = measuredOf(subject)?.curve;
      return own ?? (chemistry === 'li-ion' ? choiceOf(subject).curve : openCircuitOf(chemistry));
    },
    basisOf: (subject) => {
      const own = measuredOf(subject);
      if (own) return { by: 'learnt', runId: own.runId };
      return subject.chemistry === 'li-ion' ? choiceOf(subject).basis : { by: 'table' };
    },
    learntOf: measuredOf,
    state: state.join(';'),
  };
}

/** A pack has a name, and no designation of its cells. */
const modelOf = ({ series, model }: CurveOf): string | null => (series === undefined ? (model ?? null) : null);
