import { chemistries, type Chemistry } from '../chemistry/chemistries';
import type { Segment } from './segments';

/** Except on a charger, no cell is above its full voltage by more than this fraction, nor below its lowest by this. */
const aboveFull = 0.1;
const belowLowest = 0.25;

/** A log whose voltage does not fit this many cells in series. */
export interface OtherCount {
  /** The highest it stood while not charged, V. */
  highestV: number;
  /** Of how many it would be. */
  likely: number;
}

/**
 * Whether a log can be of this many cells or groups in series: the highest voltage while it was not charged lies within
 * what such cells have. Null where it can, or where no discharge is in it: what was run down too far is charged from
 * below. Source: common practice.
 */
export function otherCount(
  segments: readonly Pick<Segment, 'kind' | 'startVoltageV' | 'endVoltageV'>[],
  series: number,
  chemistry: Chemistry,
): OtherCount | null {
  const voltages = segments
    .filter(({ kind }) => kind !== 'charge')
    .flatMap(({ startVoltageV, endVoltageV }) => [startVoltageV, endVoltageV]);
  if (!segments.some(({ kind }) => kind === 'discharge')) return null;
  const highestV = Math.max(...voltages);
  const { fullV, lowestV, nominalV } = chemistries[chemistry];
  const fits = highestV <= series * fullV * (1 + aboveFull) && highestV >= series * lowestV * (1 - belowLowest);
  return fits ? null : { highestV, likely: Math.max(1, Math.round(highestV / ((fullV + nominalV) / 2))) };
}
