import { leadPairOhm } from '../instruments/leads';
import { type InstrumentRange, limitOf, rangeFor } from '../instruments/instrument';
import { exact, type Propagated, propagate, type Quantity, rectangular } from '../quantity/quantity';
import type { Warning } from '../warning';

export interface DirectReading {
  resistanceOhm: number;
  /** Last digit shown. */
  stepOhm: number;
  /** What its maker promises; null where nothing is known of the instrument. */
  range: InstrumentRange | null;
  wires: 2 | 4 | null;
  leads: { gauge: number; lengthM: number } | null;
  /** The probes were shorted and the figure set to 0 before; null: not noted. */
  zeroTaken: boolean | null;
  /** Noise of one reading, one standard uncertainty. */
  noiseOhm?: number;
}

export type DirectInput = 'last digit' | 'noise of the readings' | 'accuracy' | 'leads and clips';

/** Clips and contacts of a two-wire reading, either way. From memory of common practice. */
export const clipsOhm = 0.005;
/** Leads that are more than this share of the figure swamp it. */
const swampedFraction = 0.2;

/**
 * A resistance read off an instrument: value, uncertainty and where it comes from. Leads of a two-wire reading are in
 * the figure unless a zero took them off; they are never taken off here, but are uncertainty, and a warning where they
 * swamp the value.
 */
export function directResistance({
  resistanceOhm,
  stepOhm,
  range,
  wires,
  leads,
  zeroTaken,
  noiseOhm = 0,
}: DirectReading): { resistance: Propagated<DirectInput>; warnings: Warning[] } {
  const leadOhm = wires === 2 ? (leads && !zeroTaken ? leadPairOhm(leads.gauge, leads.lengthM) : 0) + clipsOhm : 0;
  const inputs: Record<DirectInput, Quantity> = {
    'last digit': { value: resistanceOhm, u: rectangular(stepOhm) },
    'noise of the readings': { value: 0, u: noiseOhm },
    accuracy: { value: 0, u: range ? limitOf(resistanceOhm, rangeFor(range, stepOhm)) / Math.sqrt(3) : 0 },
    'leads and clips': wires === 2 ? { value: 0, u: leadOhm / Math.sqrt(3) } : exact(0),
  };
  const resistance = propagate<DirectInput>(
    (x) => x['last digit'] + x['noise of the readings'] + x.accuracy + x['leads and clips'],
    inputs,
  );
  const warnings: Warning[] = [];
  if (wires === 2 && leadOhm > swampedFraction * Math.abs(resistanceOhm))
    warnings.push({ code: 'leads-swamp', leadOhm, resistanceOhm, zeroTaken: zeroTaken === true });
  if (zeroTaken === false) warnings.push({ code: 'zero-not-taken' });
  return { resistance, warnings };
}
