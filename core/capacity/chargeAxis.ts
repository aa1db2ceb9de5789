import type { DischargeLoad } from './discharge';
import type { SampleColumns } from './sampleColumns';
import type { Segment } from './segments';

/** A point of a discharge by the charge that was given up to it. */
export interface ChargePoint {
  /** Its place among the samples. */
  index: number;
  chargeAh: number;
}

/**
 * The samples of a curve that lie in discharges, by the charge given up to each: the charge of a segment is known, and
 * is shared out over its samples as the current ran. Charges and rests are passed over, as if the discharges between
 * them were one.
 *
 * @param columns a curve, reduced or not
 */
export function chargeAxis(
  { timeS, voltageV, currentA }: SampleColumns,
  segments: readonly Segment[],
  load: DischargeLoad,
): ChargePoint[] {
  const flowAt = (i: number): number => {
    if (load.kind === 'column') return Math.abs(currentA?.[i] ?? 0);
    return load.kind === 'resistor' ? (voltageV[i] ?? 0) : 1;
  };
  const points: ChargePoint[] = [];
  let beforeAh = 0;
  for (const { kind, fromS, toS, chargeAh } of segments) {
    if (kind !== 'discharge') continue;
    const within = timeS.flatMap((atS, i) => (atS >= fromS && atS <= toS ? [i] : []));
    let flowed = 0;
    const flowedAt = within.map((i, n) => {
      const last = within[n - 1];
      if (last !== undefined)
        flowed += ((flowAt(i) + flowAt(last)) / 2) * ((timeS[i] as number) - (timeS[last] as number));
      return flowed;
    });
    const ofWhole = flowed > 0 ? chargeAh / flowed : 0;
    within.forEach((index, n) => points.push({ index, chargeAh: beforeAh + (flowedAt[n] as number) * ofWhole }));
    beforeAh += chargeAh;
  }
  return points;
}
