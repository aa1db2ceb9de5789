import type { OpenCourse } from '../capacity/openCourse';
import { quadrature } from '../quantity/quantity';
import { chemistries } from './chemistries';
import { hysteresisOf, type OpenCircuitCurve, openCircuitCurve, type Rechargeable } from './openCircuit';

/** What a curve is measured from: a discharge from full to the cut-off, slow or with rests. */
export interface CurveSource {
  chemistry: Rechargeable;
  /** Cells or groups in series. */
  series: number;
  course: OpenCourse;
  /** What it gave, Ah. */
  capacityAh: number;
  /** Of the whole after ten seconds, Ω; null where not measured. */
  resistanceOhm: number | null;
  /** Standard uncertainty of its voltmeter, V a cell or group. */
  voltmeterU: number;
  /** Since that discharge. */
  ageYears?: number;
}

/** It begins at full where it is no further below the end of a charge, V a cell. */
const belowFullV = 0.15;
/** What lags over hours is this many times the ten-second resistance, give or take half. */
const lagTimes = 1.7;
/** Without a resistance a slow load is taken to cost this much, V a cell, give or take half. */
const assumedLagV = 0.008;
/** After half an hour a cell has settled within this much. */
const settledU = 0.003;
/** Cells of one model differ by this much at the same charge (standard). From memory. */
const cellsDifferU = 0.003;
/** As cells age their curve changes by this much a year (standard), V. From memory. */
const agesByU = 0.003;
/** Steps in state of charge at which a curve is kept. */
const knots = 40;

/**
 * A model's own open-circuit curve, from one discharge that was slow or rested in between. Null where it did not begin
 * full, has too few points, or does not fall as it should. Source: common practice.
 */
export function learnCurve(from: CurveSource): OpenCircuitCurve | null {
  const { chemistry, series, course, capacityAh, resistanceOhm, voltmeterU, ageYears = 0 } = from;
  const [lagV, lagU] = lagOf(course, series, resistanceOhm);
  const points = course.points.map(([chargeAh, voltageV]) => ({
    soc: 1 - chargeAh / capacityAh,
    voltageV: voltageV / series + lagV,
  }));
  const [first, last] = [points[0], points.at(-1)];
  if (!first || !last || first.voltageV < chemistries[chemistry].fullV - belowFullV) return null;
  if (first.soc < 0.98 || last.soc > 0.1) return null;
  const rising = points.toReversed();
  const kept = Array.from({ length: knots + 1 }, (_, i): [number, number] => [i / knots, valueAt(rising, i / knots)]);
  for (const [i, point] of kept.entries()) point[1] = Math.max(point[1], kept[i - 1]?.[1] ?? -Infinity);
  return openCircuitCurve(
    kept,
    quadrature(
      voltmeterU,
      course.by === 'rests' ? settledU : lagU,
      cellsDifferU,
      agesByU * ageYears,
      // Learnt as it was discharged; after a charge it rests higher.
      (2 * hysteresisOf(chemistry)) / Math.sqrt(3),
    ),
    'learnt',
  );
}

/** What the load took off a cell's voltage, and the uncertainty of it. */
function lagOf({ by, currentA }: OpenCourse, series: number, resistanceOhm: number | null): [number, number] {
  if (by === 'rests') return [0, 0];
  const lagV = resistanceOhm === null ? assumedLagV : (lagTimes * resistanceOhm * currentA) / series;
  return [lagV, lagV / 2];
}

/** Between the two points that enclose it; at the ends that of the end. */
function valueAt(rising: readonly { soc: number; voltageV: number }[], soc: number): number {
  const next = rising.findIndex((point) => point.soc >= soc);
  const [before, after] = [rising[next - 1], rising[next]];
  if (!after) return rising.at(-1)?.voltageV ?? NaN;
  if (!before) return after.voltageV;
  const fraction = (soc - before.soc) / Math.max(1e-12, after.soc - before.soc);
  return before.voltageV + fraction * (after.voltageV - before.voltageV);
}
