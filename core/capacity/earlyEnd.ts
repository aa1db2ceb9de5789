import type { OpenCircuitCurve } from '../chemistry/openCircuit';
import { exact, propagate, quadrature, type Quantity } from '../quantity/quantity';
import { firstLoadOhm } from '../resistance/pulses';
import type { Discharge } from './discharge';

/** A discharge that ended above its cut-off, and what its voltage can be read by. */
export interface EndedEarly {
  discharge: Pick<Discharge, 'capacityAh' | 'endVoltageV' | 'meanCurrentA' | 'segments' | 'edges'>;
  curve: OpenCircuitCurve;
  /** Cells or groups in series. */
  series: number;
  /** Standard uncertainty of the voltmeter, V a cell or group. */
  voltmeterU: number;
  /** Of the whole after ten seconds, Ω; null where neither the log nor anybody measured it. */
  resistanceOhm: number | null;
}

export interface EarlyEnd {
  /** What it would have given down to empty. */
  capacityAh: Quantity;
  startSoc: Quantity;
  endSoc: Quantity;
}

/** After a rest of this length the voltage is the open-circuit voltage within this uncertainty. */
const settledRestS = 600;
const settledU = 0.004;
/** Under a load that lasts hours the voltage lags by this many times the ten-second resistance within this much. */
const lagTimes = 1.35;
const lagU = 0.15;
/** At once it falls by such a part of what it falls in ten seconds. */
const atOnceTimes = 0.8;
const atOnceU = 0.25;
/** Above this the end of its charge fixes the state of charge within this much. */
const nearFullSoc = 0.97;
const fullU = 0.012;
/** A smaller difference between start and end gives no capacity. */
const leastApart = 0.3;

/**
 * What a discharge that ended early would have given on to empty, by the open-circuit curve: charge given / (state of
 * charge at its start − at its end). The start is read from the rest before the load, the end from the rest after it,
 * else either from the loaded voltage and the resistance. Null where these are not known, or lie too near each other.
 * Source: common practice, the partial method turned round.
 */
export function estimateEarlyEnd(ended: EndedEarly): EarlyEnd | null {
  const { discharge, curve, series, voltmeterU } = ended;
  const { capacityAh, segments } = discharge;
  if (segments.length === 0 || !(capacityAh.value > 0)) return null;
  const [startV, endV] = [restedStart(ended), restedEnd(ended)];
  if (!startV || !endV) return null;
  const perCell = ({ value, u }: Quantity): Quantity => ({
    value: value / series,
    u: quadrature(u / series, voltmeterU),
  });
  const read = curve.socAt(perCell(startV));
  const startSoc = read.value > nearFullSoc ? { value: read.value, u: Math.min(fullU, read.u) } : read;
  const endSoc = curve.socAt(perCell(endV));
  if (startSoc.value - endSoc.value < leastApart) return null;
  const { value, u } = propagate(({ given, start, end }) => given / Math.max(leastApart / 2, start - end), {
    given: capacityAh,
    start: startSoc,
    end: endSoc,
  });
  return { capacityAh: { value, u }, startSoc, endSoc };
}

/** The rested voltage of the whole where the discharge ended. */
function restedEnd({ discharge, resistanceOhm }: Omit<EndedEarly, 'curve'>): Quantity | null {
  const { segments, edges, endVoltageV, meanCurrentA } = discharge;
  const last = segments.at(-1);
  if (last?.kind === 'rest' && segments.length > 1 && last.toS - last.fromS >= settledRestS)
    return { value: last.endVoltageV, u: settledU };
  const ohm = firstLoadOhm(edges) ?? resistanceOhm;
  if (ohm === null) return null;
  const lagV = lagTimes * ohm * meanCurrentA;
  return { value: endVoltageV + lagV, u: lagU * lagV };
}

/** The rested voltage of the whole where it began; of a log that began under load what that had taken off at once. */
function restedStart({ discharge, resistanceOhm }: Omit<EndedEarly, 'curve'>): Quantity | null {
  const { segments, edges, meanCurrentA } = discharge;
  const [first] = segments;
  if (!first || first.kind === 'charge') return null;
  if (first.kind === 'rest') return exact(first.endVoltageV);
  const ohm = firstLoadOhm(edges) ?? resistanceOhm;
  if (ohm === null) return null;
  const dropV = atOnceTimes * ohm * meanCurrentA;
  return { value: first.startVoltageV + dropV, u: atOnceU * dropV };
}
