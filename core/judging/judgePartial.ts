import { type PartialCapacity, partialCapacity, type PartialCharge } from '../capacity/partial';
import { ImpossibleInput } from '../impossibleInput';
import { type Quantity, quadrature, rectangular } from '../quantity/quantity';
import type { CurveBasis, CurveOf } from './curveBook';
import { correctedVoltage } from './correctedVoltage';
import type { CapacityNoted, PartialCharged } from './facts';
import type { Equipment } from './equipment';
import { channelOfGroup } from './instrumentBook';

/** The result of a partial charge. Plain data: it goes to the browser. */
export interface JudgedPartial extends PartialCapacity {
  entry: string;
  takenAt: Date;
  /** Which curve the charge was read by. */
  curveBasis: CurveBasis;
  /** It was charged full. */
  isToFull: boolean;
}

/** What is known of a capacity. */
export interface KnownCapacity {
  capacity: Quantity | null;
  /** The discharge ended above the cut-off. */
  capacityIsAtLeast: boolean;
  capacityBy: CapacityBy | null;
}
export type CapacityBy = 'discharge' | 'partial' | 'noted';

/** At rest a voltage still moves by this much. */
const settlingU = 0.002;

/** Standard uncertainty of a rested voltage with that last digit, V; what the meter is off by beside. */
export const restedU = (step: number, meterU = 0): number => quadrature(settlingU, rectangular(step), meterU);

/** Null without a result, as where the start lies too near the end. */
export function judgePartial(
  facts: PartialCharged,
  of: CurveOf,
  { instruments, curves }: Equipment,
): JudgedPartial | null {
  const curve = curves.of(of);
  if (!curve) return null;
  const { startVoltagesV, step, chargeAh, chargeLimit, endVoltageV, entry, takenAt } = facts;
  const read = startVoltagesV.map((valueV, i) =>
    correctedVoltage(
      { ...facts, valueV, step, channel: facts.channel ?? channelOfGroup(instruments, facts.instrumentId, i + 1) },
      instruments,
    ),
  );
  const partial = unlessImpossible({
    curve,
    startVoltagesV: read.map(({ value }) => value),
    chargeAh,
    ...(chargeLimit === null ? {} : { chargeAccuracyShare: chargeLimit }),
    ...(endVoltageV === null ? {} : { endVoltageV }),
    voltageUncertaintyV: restedU(step, Math.max(...read.map(({ u }) => u))),
  });
  return partial && { ...partial, entry, takenAt, curveBasis: curves.basisOf(of), isToFull: endVoltageV === null };
}

/** Null where the start lies too near the end, as it may by a curve that was measured since. */
function unlessImpossible(charge: PartialCharge): PartialCapacity | null {
  try {
    return partialCapacity(charge);
  } catch (error) {
    if (error instanceof ImpossibleInput) return null;
    throw error;
  }
}

/**
 * What a noted capacity is right to, where it is not known with what it was measured: a share, a limit. From memory.
 */
const notedLimit = 0.05;

/**
 * The newest that gives a capacity counts: a discharge down to the cut-off, a partial charge, or what a person noted. A
 * discharge that ended early is a lower bound, and counts where there is nothing else.
 */
export function capacityOf(
  run: { endedAt: Date; capacityAh: number; capacityU: number; reachedCutoff: boolean | null } | null,
  partial: JudgedPartial | null,
  noted: CapacityNoted | null,
): KnownCapacity {
  const isAtLeast = run?.reachedCutoff === false;
  const discharged = run && { value: run.capacityAh, u: run.capacityU };
  const known: { by: CapacityBy; at: Date; capacity: Quantity }[] = [];
  if (run && discharged && !isAtLeast) known.push({ by: 'discharge', at: run.endedAt, capacity: discharged });
  if (partial) known.push({ by: 'partial', at: partial.takenAt, capacity: partial.capacityAh });
  if (noted) known.push({ by: 'noted', at: noted.takenAt, capacity: notedCapacity(noted) });
  const [newest] = known.sort((one, other) => other.at.getTime() - one.at.getTime());
  if (newest) return { capacity: newest.capacity, capacityIsAtLeast: false, capacityBy: newest.by };
  return { capacity: discharged, capacityIsAtLeast: isAtLeast, capacityBy: run && 'discharge' };
}

export const notedCapacity = ({ capacityAh, step }: CapacityNoted): Quantity => ({
  value: capacityAh,
  u: quadrature(rectangular(step), (notedLimit * capacityAh) / Math.sqrt(3)),
});
