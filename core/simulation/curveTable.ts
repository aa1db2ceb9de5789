import type { OpenCircuitCurve } from '../chemistry/openCircuit';

/** Steps of the table that replaces a curve, over a whole charge. */
export const tableSteps = 1000;
/** It reaches so far above a full and below an empty cell, as straight lines. */
export const tableBeyond = 0.2;

/** Open-circuit volts at even steps of charge, from `-tableBeyond` to `1 + tableBeyond`. */
function tableOf(curve: OpenCircuitCurve): Float64Array {
  const size = Math.round((1 + 2 * tableBeyond) * tableSteps) + 1;
  return Float64Array.from({ length: size }, (_, k) => {
    const soc = k / tableSteps - tableBeyond;
    const inside = Math.min(1, Math.max(0, soc));
    return curve.voltageAt(inside) + (soc - inside) * curve.slopeAt(inside);
  });
}

/** Of each the table of its curve; one for all of one curve. */
export function tablesOf(groups: readonly { curve: OpenCircuitCurve }[]): Float64Array[] {
  const made = new Map<OpenCircuitCurve, Float64Array>();
  return groups.map(({ curve }) => {
    const table = made.get(curve) ?? tableOf(curve);
    made.set(curve, table);
    return table;
  });
}
