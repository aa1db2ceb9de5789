import { type Chemistry, chemistries } from '../chemistry/chemistries';
import type { OpenCircuitCurve } from '../chemistry/openCircuit';
import { propagate, type Propagated, type Quantity } from '../quantity/quantity';

/** A resting cell whose voltage drifts. */
export interface Drifting {
  chemistry: Chemistry;
  /** V per day, negative where it falls. */
  drift: Quantity;
  /** About which it was read, V. */
  voltageV: number;
  capacityAh: Quantity;
  curve: OpenCircuitCurve;
}

/** A; `fell` is the part that is the cell's own, the rest leans alike for cells of one curve and one tool. */
export type SelfDischarge = Propagated<'fell' | 'share' | 'capacity'>;

const hoursOfDay = 24;
/** The slope is taken over this much to either side, V: a curve is known point by point only. */
const besideV = 0.02;
/** How steep a curve is differs by about this fraction (standard) between cells within 30 mV of a table. */
const cellsOfMakeDiffer = 0.085;
/** Cells of one model hardly differ in it. From memory. */
const cellsDiffer = 0.01;

/**
 * The current that a resting cell loses within, A: drift × dQ/dV, the charge that lies at its voltage by the
 * open-circuit curve. Of a table the slope is less well known than of a measured curve. Null of other than lithium,
 * whose voltage falls by itself, and where the curve does not reach that voltage. Source: common practice.
 */
export function selfDischarge({ chemistry, drift, voltageV, capacityAh, curve }: Drifting): SelfDischarge | null {
  if (chemistries[chemistry].family !== 'lithium') return null;
  const fractionPerV = slopeAt(curve, voltageV);
  if (!(fractionPerV > 0)) return null;
  const fromOptions = curve.options.reduce((sum, { probability, curve: option }) => {
    const placeU = slopeU(option, voltageV);
    return sum + probability * ((slopeAt(option, voltageV) - fractionPerV) ** 2 + placeU ** 2);
  }, 0);
  const u = Math.hypot(
    Math.sqrt(fromOptions),
    fractionPerV * (curve.source === 'learnt' ? cellsDiffer : cellsOfMakeDiffer),
  );
  return propagate(({ fell, share: fraction, capacity }) => (-fell * fraction * capacity) / hoursOfDay, {
    fell: drift,
    share: { value: fractionPerV, u },
    capacity: capacityAh,
  });
}

/** Where on the curve the cell is, is known no better than the curve. */
function slopeU(curve: OpenCircuitCurve, voltageV: number): number {
  const curveU = curve.uAt(curve.socAt({ value: voltageV, u: 0 }).value);
  return Math.abs(slopeAt(curve, voltageV + curveU) - slopeAt(curve, voltageV - curveU)) / 2;
}

/** How much of its charge a cell loses for a volt, there. */
function slopeAt(curve: OpenCircuitCurve, voltageV: number): number {
  const socAt = (value: number): number => curve.socAt({ value, u: 0 }).value;
  return (socAt(voltageV + besideV) - socAt(voltageV - besideV)) / (2 * besideV);
}
