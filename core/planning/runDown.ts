import { chemistries } from '../chemistry/chemistries';
import { type OpenCircuitCurve, openCircuitOf, type Rechargeable } from '../chemistry/openCircuit';
import { mean } from 'simple-statistics';

/** A lamp that empties a pack, and how long that takes. */
export interface Lamp {
  ratedV: 12 | 24;
  ratedW: number;
  /** As it begins, A and W. */
  beginsA: number;
  beginsW: number;
  /** Until it glows no more; as many as it may be, h. */
  hours: number;
  mostHours: number;
}

/** Of how many groups in series a lamp is common practice. */
export const lampSeries = [2, 4] as const;
const ratedW = 21;
/** The current of a filament follows its voltage to this power, since it is colder. From memory. */
const filament = 0.55;
/** A 12 V lamp bears what a car's dynamo gives; beyond that a lorry's. From memory. */
const most12V = 15;
/** What is left below its usual lowest, a share, from memory; how much longer it may take, by simulation. */
const [below, factorU] = [0.04, 1.35];

/** Whether a lamp is common practice for it: two to four lithium groups in series. */
export const isForLamp = (chemistry: Rechargeable, series: number): boolean =>
  chemistries[chemistry].family === 'lithium' && series >= lampSeries[0] && series <= lampSeries[1];

/**
 * The lamp for a pack, and how long it takes to run it flat: the current of a filament over the rested curve.
 *
 * @param groupsV as it was read last; null where not read: then it is taken for full
 */
export function lampFor(
  chemistry: Rechargeable,
  series: number,
  capacityAh: number,
  groupsV: readonly number[] | null,
  curve: OpenCircuitCurve = openCircuitOf(chemistry),
): Lamp {
  const soc = groupsV ? curve.socAt({ value: mean([...groupsV]), u: 0 }).value : 1;
  const ratedV = series * chemistries[chemistry].fullV > most12V ? 24 : 12;
  const currentAt = (v: number): number => (ratedW / ratedV) * (v / ratedV) ** filament;
  const steps = 200;
  let hours = (below * capacityAh) / currentAt((series * curve.voltageAt(0)) / 2);
  for (let i = 0; i < steps; i += 1)
    hours += (soc * capacityAh) / steps / currentAt(series * curve.voltageAt((soc * (i + 0.5)) / steps));
  const beginsV = series * curve.voltageAt(soc);
  const beginsA = currentAt(beginsV);
  return { ratedV, ratedW, beginsA, beginsW: beginsA * beginsV, hours, mostHours: factorU * hours };
}
