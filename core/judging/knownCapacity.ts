import type { Quantity } from '../quantity/quantity';
import type { JudgedSubject } from './subject';

/** A label is good to this share (standard). From memory. */
const labelU = 0.1;

/**
 * What a cell or pack holds: as it was measured, or else as its label says, Ah.
 * @worked Of a label of 2.6 Ah alone: `knownCapacity({ capacity: null, ratedCapacityAh: 2.6 })` Ah
 */
export const knownCapacity = ({
  capacity,
  ratedCapacityAh,
}: Pick<JudgedSubject, 'capacity' | 'ratedCapacityAh'>): Quantity =>
  capacity ?? { value: ratedCapacityAh, u: labelU * ratedCapacityAh };
