import type { OpenCircuitCurve } from '../chemistry/openCircuit';
import { ImpossibleInput, positive } from '../impossibleInput';
import { quadrature, type Quantity } from '../quantity/quantity';

/** Preferred values of one decade. Source: IEC 60063, series E24. */
export const e24 = [
  1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0, 3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2,
  9.1,
] as const;

/** Power ratings that resistors are sold with, W. From memory. */
const ratingsW = [0.25, 0.5, 1, 2, 3, 5, 7, 10, 15, 25, 50, 100, 200] as const;
/** In still air one keeps to half of the rating: at all of it a resistor is too hot to be near. Common practice. */
const derating = 2;

/** What is to be discharged through a resistor. */
export interface ToDischarge {
  /** Its own curve or that of its chemistry. */
  curve: OpenCircuitCurve;
  /** Cells or groups in series. */
  series: number;
  /** What it holds, where known, Ah. */
  capacityAh: Quantity;
  /** Where it is to end, V a cell or group. */
  cutoffV: number;
  /** A share, a limit. */
  tolerance: number;
}

/** A resistor that one can buy, and what a discharge through it is like. */
export interface ResistorPlan {
  resistanceOhm: number;
  /** As it begins, and in the mean. */
  startA: number;
  meanA: number;
  rateC: number;
  /** What it turns into heat as it begins. */
  startW: number;
  /** The rating to buy, W; null where no single resistor will do. */
  ratingW: number | null;
  /** From full to the cut-off. */
  durationS: Quantity;
  /** When a person has to be there at the latest: it may be empty by then. */
  alarmS: number;
}

/** The E24 value nearest to a resistance, in ratio, and those below and above it; ascending. */
export function e24Near(ohm: number): [number, number, number] {
  positive('resistanceOhm', ohm);
  const decade = Math.floor(Math.log10(ohm));
  const values = [decade - 1, decade, decade + 1].flatMap((power) =>
    e24.map((value) => Number((value * 10 ** power).toPrecision(2))),
  );
  const apart = (value: number): number => Math.abs(Math.log(value / ohm));
  const nearest = values.reduce((best, value, i) => (apart(value) < apart(values[best] as number) ? i : best), 0);
  return [values[nearest - 1] as number, values[nearest] as number, values[nearest + 1] as number];
}

/** Places along the curve between full and the cut-off. */
const places = 200;

/** Charge left at the cut-off, a share; mean voltage, and mean of its inverse, of the whole from full down to there. */
function alongCurve({ curve, series, cutoffV }: ToDischarge): { endSoc: number; meanV: number; inverseV: number } {
  const endSoc = curve.socAt({ value: cutoffV, u: 0 }).value;
  let [volts, inverse] = [0, 0];
  for (let i = 0; i < places; i++) {
    const v = series * curve.voltageAt(endSoc + ((1 - endSoc) * (i + 0.5)) / places);
    volts += v / places;
    inverse += 1 / v / places;
  }
  return { endSoc, meanV: volts, inverseV: inverse };
}

/**
 * What a discharge from full through that resistor is like: current V/R falls with the voltage, so that the time is
 * R · capacity · the mean of 1/V along the open-circuit curve. Source: Ohm's law.
 *
 * @throws ImpossibleInput for a resistance that is not above 0
 */
export function resistorPlan(of: ToDischarge, resistanceOhm: number): ResistorPlan {
  positive('resistanceOhm', resistanceOhm);
  positive('capacityAh', of.capacityAh.value);
  const { series, curve, capacityAh, tolerance } = of;
  const { endSoc, meanV, inverseV } = alongCurve(of);
  const startV = series * curve.voltageAt(1);
  const given = capacityAh.value * (1 - endSoc);
  const durationS = 3600 * resistanceOhm * given * inverseV;
  const relativeU = quadrature(
    capacityAh.u / capacityAh.value,
    tolerance / Math.sqrt(3),
    curve.uAt((1 + endSoc) / 2) / (meanV / series),
  );
  const startW = startV ** 2 / resistanceOhm;
  return {
    resistanceOhm,
    startA: startV / resistanceOhm,
    meanA: meanV / resistanceOhm,
    rateC: meanV / resistanceOhm / capacityAh.value,
    startW,
    ratingW: ratingsW.find((rating) => rating >= derating * startW) ?? null,
    durationS: { value: durationS, u: durationS * relativeU },
    alarmS: durationS * Math.max(0.5, 1 - 2 * relativeU),
  };
}

/**
 * Resistors for a wanted mean current, or for a wanted time: the E24 value nearest to it, and its neighbours.
 *
 * @throws ImpossibleInput where neither is above 0
 */
export function resistorsFor(of: ToDischarge, wanted: { currentA: number } | { hours: number }): ResistorPlan[] {
  positive('capacityAh', of.capacityAh.value);
  const { endSoc, meanV, inverseV } = alongCurve(of);
  if ('currentA' in wanted) positive('currentA', wanted.currentA);
  else positive('hours', wanted.hours);
  const ohm =
    'currentA' in wanted ? meanV / wanted.currentA : wanted.hours / (of.capacityAh.value * (1 - endSoc) * inverseV);
  if (!(ohm > 1e-3 && ohm < 1e9)) throw new ImpossibleInput('resistanceOhm', { code: 'no-such-resistor' });
  return e24Near(ohm).map((one) => resistorPlan(of, one));
}
