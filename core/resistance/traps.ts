import { type Chemistry, chemistries } from '../chemistry/chemistries';
import type { OpenCircuitCurve } from '../chemistry/openCircuit';
import type { Warning } from '../warning';
import type { MethodKey } from './methods';

/** The conditions that a protocol asks for. */
export interface Window {
  charge: { from: number; to: number } | null;
  temperature: { coldestC: number; warmestC: number } | null;
  restS: number;
}

/** What is known of the cell at the moment it was read. */
export interface Conditions {
  method: MethodKey;
  chemistry: Chemistry;
  /** Tells charge by voltage; null of what is never charged. */
  curve: OpenCircuitCurve | null;
  /** Voltage without the load, where it was read. */
  openV: number | null;
  temperatureC: number | null;
  /** Since the last charge or discharge ended; null where nothing is known of one. */
  restedS: number | null;
  /** A protection board lies between the probes. */
  board: boolean;
}

export interface Traps {
  warnings: Warning[];
  /** Why the reading may not be compared with others of its protocol; null where it may. */
  leftOut: Warning | null;
}

/** A cell this near its full voltage may carry a surface voltage. */
const nearFullV = 0.06;
/** The flat part of the curve and the uncertainty of a table: this much charge beyond the window is still within it. */
const chargeSlack = 0.07;

const loads: readonly MethodKey[] = ['resistor', 'ammeter'];
/** Methods whose reading holds no open voltage unless it was typed beside it. */
const withoutVoltage: readonly MethodKey[] = ['ac-meter', 'told'];

/**
 * The traps of a resistance reading, with the facts: outside its protocol's temperature or charge window, not rested,
 * surface voltage not taken off, a protection board in the path. Source: common practice.
 */
export function trapsOf(
  { method, chemistry, curve, openV, temperatureC, restedS, board }: Conditions,
  { charge, temperature, restS }: Window,
): Traps {
  const apart: Warning[] = [];
  const notes: Warning[] = [];
  if (temperature && temperatureC === null) notes.push({ code: 'temperature-unknown', ...temperature });
  if (
    temperature &&
    temperatureC !== null &&
    (temperatureC < temperature.coldestC || temperatureC > temperature.warmestC)
  )
    apart.push({ code: 'temperature-outside', temperatureC, ...temperature });
  const unrested = restS > 0 && restedS !== null && restedS < restS;
  if (unrested) apart.push({ code: 'not-rested', restedS, askedS: restS });
  if (charge && openV !== null && curve) {
    const soc = curve.socAt({ value: openV, u: 0.002 }).value;
    if (soc < charge.from - chargeSlack || soc > charge.to + chargeSlack)
      apart.push({ code: 'charge-outside', openV, soc, asked: charge });
  }
  if (charge && openV === null && withoutVoltage.includes(method) && restedS === null)
    notes.push({ code: 'charge-unknown', asked: charge });
  if (
    loads.includes(method) &&
    openV !== null &&
    openV > chemistries[chemistry].fullV - nearFullV &&
    (restedS === null || unrested)
  )
    notes.push({ code: 'surface-charge', openV });
  if (board) notes.push({ code: 'board-in-path' });
  return { warnings: [...apart, ...notes], leftOut: apart[0] ?? null };
}
