import { positive } from '../impossibleInput';
import type { Quantity } from '../quantity/quantity';

export interface LabelledBuild {
  capacityAh: number;
  series: number;
  parallel: number;
}

/**
 * How a pack is built, from its label: capacity = energy / voltage, series = pack voltage / cell voltage,
 * parallel = pack capacity / cell capacity, both rounded. Source: common practice.
 */
export function buildFromLabel(
  energyWh: number,
  packV: number,
  cellNominalV: number,
  cellCapacityAh: number,
): LabelledBuild {
  const capacityAh = positive('energyWh', energyWh) / positive('packV', packV);
  return {
    capacityAh,
    series: Math.max(1, Math.round(packV / positive('cellNominalV', cellNominalV))),
    parallel: Math.max(1, Math.round(capacityAh / positive('cellCapacityAh', cellCapacityAh))),
  };
}

/** What a label says of a pack, as far as it does, and how a person counted it. */
export interface PackLabel {
  energyWh: number | null;
  packV: number | null;
  capacityAh: number | null;
  series: number;
}

/** How a label contradicts itself or the count; its sentence is in words/packs.ts. */
export type LabelContradiction =
  | { code: 'label-energy'; energyWh: number; packV: number; capacityAh: number; wouldBeAh: number }
  | { code: 'label-count'; packV: number; series: number; wouldBe: number };

/** Labels round: their energy is voltage times capacity within this share. */
const labelFraction = 0.05;

/**
 * Whether a label makes sense: energy = voltage · capacity, and a voltage that its cells have between them, at their
 * nominal voltage or at the end of their charge. Null where nothing contradicts. Source: common practice.
 */
export function contradictionOf(
  { energyWh, packV, capacityAh, series }: PackLabel,
  cell: { nominalV: number; fullV: number },
): LabelContradiction | null {
  if (packV === null) return null;
  if (energyWh !== null && capacityAh !== null) {
    const wouldBeAh = energyWh / positive('packV', packV);
    if (Math.abs(wouldBeAh / capacityAh - 1) > labelFraction)
      return { code: 'label-energy', energyWh, packV, capacityAh, wouldBeAh };
  }
  const wouldBe = Math.max(1, Math.round(packV / positive('cell', cell.nominalV)));
  const atFull = Math.max(1, Math.round(packV / positive('cell', cell.fullV)));
  return [wouldBe, atFull].includes(series) ? null : { code: 'label-count', packV, series, wouldBe };
}

export interface WeightVerdict {
  specificEnergyWhPerKg: number;
  /** Whether the claim can be true for that weight: doubtful asks for a look at the label, impossible is a fake. */
  claim: 'possible' | 'doubtful' | 'impossible';
  /** The most that this weight could hold, Ah. */
  mostAh: number;
}

/** Up to this many times the limit a claim is doubtful. */
const uncertainTimes = 1.25;

/**
 * Whether a cell of this weight can hold what its label claims: specific energy = capacity · nominal voltage / mass.
 * The limit is what the best cells made reach; a claim up to a quarter above it may be a newer cell or a misread label,
 * one beyond that is no cell's. Both for the heaviest mass the scale allows (k = 2). Source of the limit: house rule,
 * from memory of the best cylindrical lithium cells.
 */
export function weighClaim(claimedAh: number, nominalV: number, massKg: Quantity, bestWhPerKg: number): WeightVerdict {
  const mass = positive('massKg', massKg.value);
  const mostAh = (bestWhPerKg * (mass + 2 * massKg.u)) / positive('nominalV', nominalV);
  return {
    specificEnergyWhPerKg: (positive('claimedAh', claimedAh) * nominalV) / mass,
    claim: claimOf(claimedAh / mostAh),
    mostAh,
  };
}

/** @param times the claimed capacity in terms of the most that such a weight holds */
function claimOf(times: number): WeightVerdict['claim'] {
  if (times <= 1) return 'possible';
  return times <= uncertainTimes ? 'doubtful' : 'impossible';
}
