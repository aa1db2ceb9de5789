import type { Discharge } from '../capacity/discharge';
import type { Chemistry } from '../chemistry/chemistries';
import { learnCurve } from '../chemistry/learntCurve';
import { type OpenCircuitCurve, openCircuitOf, type Rechargeable } from '../chemistry/openCircuit';
import { type InstrumentRange, limitOf } from '../instruments/instrument';
import { firstLoadOhm } from '../resistance/pulses';
import type { InstrumentBook } from './instrumentBook';

/** Whose curve: a cell's model, or a pack. */
export interface CurveOf {
  chemistry: Chemistry;
  /** Of a pack, with its code; a cell has none. */
  series?: number;
  code?: string;
  maker?: string | null;
  model?: string | null;
  size?: string | null;
  batchCode?: string;
}

/** A discharge that shows the open-circuit voltage of its model, the newest first. */
export interface TeachingRun extends CurveOf {
  runId: number;
  chemistry: Rechargeable;
  groups: number;
  loggerId: number | null;
  result: Pick<Discharge, 'capacityAh' | 'edges' | 'course'>;
}

/** A curve that was learnt, and from which run. */
export interface Learnt {
  runId: number;
  curve: OpenCircuitCurve;
}

/** The open-circuit curve to read charge by. */
export interface CurveBook {
  /** Its own model's where that was learnt, else that of its chemistry; null of what is never charged. */
  of(subject: CurveOf): OpenCircuitCurve | null;
  /** Null where its model has not taught any. */
  learntOf(subject: CurveOf): Learnt | null;
  /** Two books of one state teach the same. */
  state: string;
}

/** What a voltmeter may be off by where nobody noted it, a share. */
const assumedVoltageShare = 0.005;

/**
 * Standard uncertainty of what logged a voltage, V a cell or group; of several in series the whole was read.
 * @worked 3.7 V a group read as a pack of four, steps of 10 mV, ± 0.5 % ± 1 count: `voltmeterU({ resolution: 0.01,
 * accuracyShare: 0.005, accuracyCounts: 1 }, 3.7, 4)` V
 */
export const voltmeterU = (range: InstrumentRange | null, perGroupV: number, groups = 1): number =>
  (range ? limitOf(perGroupV * groups, range) / groups : assumedVoltageShare * perGroupV) / Math.sqrt(3);

/** Cells of a model are alike; of an unknown one those of a batch. A pack is like itself. */
const keyOf = ({ series, code, maker, model, size, batchCode }: CurveOf): string => {
  if (series !== undefined) return `pack ${code}`;
  return model == null ? `${size} of ${batchCode}` : `${maker} ${model}`;
};

/** @param runs the newest first: of each model the newest that teaches counts */
export function curveBook(runs: readonly TeachingRun[], instruments: InstrumentBook): CurveBook {
  const learnt = new Map<string, Learnt>();
  for (const run of runs) {
    const { chemistry, groups, loggerId, result, runId } = run;
    const key = keyOf(run);
    if (learnt.has(key) || !result.course) continue;
    const perGroupV = (result.course.points[0]?.[1] ?? 0) / groups;
    const curve = learnCurve({
      chemistry,
      series: groups,
      course: result.course,
      capacityAh: result.capacityAh.value,
      resistanceOhm: firstLoadOhm(result.edges),
      voltmeterU: voltmeterU(instruments.byId(loggerId)?.ranges.voltage ?? null, perGroupV, groups),
    });
    if (curve) learnt.set(key, { runId, curve });
  }
  const learntOf = (subject: CurveOf): Learnt | null => learnt.get(keyOf(subject)) ?? null;
  return {
    of: (subject) =>
      subject.chemistry === 'alkaline' ? null : (learntOf(subject)?.curve ?? openCircuitOf(subject.chemistry)),
    learntOf,
    state: [...learnt].map(([key, { runId }]) => `${key} ${runId}`).join(';'),
  };
}
