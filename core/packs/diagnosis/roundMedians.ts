import { median } from 'simple-statistics';
import { deadV } from '../../chemistry/chemistries';
import { rectangular } from '../../quantity/quantity';
import { type Diagnosed, type DiagnosedRound, metersOf, settlingS } from './visit';

/**
 * Under a load that lasts, the voltage lags by this many times what it does in ten seconds; a bad joint does at once.
 */
const lagLasting = 1.4;
const lagExtra = 1.1;
/** Of a cell without a measurement: Ω × Ah. From memory. */
export const usualOhmAh = 0.13;
/** Groups that still settle after a charge differ by this much more (standard), V. From memory. */
const settlingU = 0.004;
/** One reading against another of one tool (standard), V. */
const repeatedU = 0.0014;

/** The median of the groups in a round, and how the readings of one answer to its unknowns. */
export interface RoundMedian {
  /** Place among the rounds. */
  round: number;
  voltageV: number;
  soc: number;
  /** Rested voltage at that charge, V. */
  openV: number;
  /** What a bad joint would take off for each time its resistance, V. */
  jointV: number;
  hours: number;
  /** Which of the instruments of the visit read it, the first is 0. */
  meter: number;
  /** Standard uncertainty of a reading against the median, V. */
  u: number;
}

/** The median of the groups in each round; null where none was read. */
export function roundMediansOf({
  curve,
  rounds,
  ratedCapacityAh,
  series,
  groupResistancesOhm,
}: Diagnosed): (RoundMedian | null)[] {
  const medianV = rounds.map(({ groupVoltagesV }) => {
    const known = groupVoltagesV.filter((v) => v !== null && v > deadV) as number[];
    return known.length === 0 ? null : median(known);
  });
  const socAt = (value: number): number => curve.socAt({ value, u: 0 }).value;
  const ohm = loadedOhm(rounds, medianV) ?? medianOhm(groupResistancesOhm) ?? usualOhmAh / ratedCapacityAh;
  let soc: number | null = null;
  const meters = metersOf(rounds);
  const beside = Math.sqrt(1 + 1 / Math.max(1, series - 1));
  return rounds.map(({ state, currentA, atS, digitV, instrument, sinceChargeS }, r): RoundMedian | null => {
    const voltageV = medianV[r] ?? null;
    if (voltageV === null) return null;
    const isBrief = state === 'load' && soc !== null;
    const isSettling = state === 'rest' && sinceChargeS !== null && sinceChargeS < settlingS;
    const lagV = currentA * ohm * (state === 'discharge-end' ? lagLasting : 1);
    // A load of some seconds leaves the charge where it was.
    soc = isBrief ? soc : socAt(voltageV + lagV);
    return {
      round: r,
      voltageV,
      soc: soc as number,
      openV: curve.voltageAt(soc as number),
      jointV: currentA * ohm * lagExtra,
      hours: atS / 3600,
      meter: meters.indexOf(instrument),
      u: Math.hypot(repeatedU, rectangular(digitV), isSettling ? settlingU : 0) * beside,
    };
  });
}

/** The median of the groups, Ω; null where none was measured. */
export function medianOhm(groupResistancesOhm: readonly (number | null)[] | null): number | null {
  const known = (groupResistancesOhm ?? []).filter((ohm) => ohm !== null);
  return known.length === 0 ? null : median(known);
}

/** What the median group shows after ten seconds of load, by a round at rest and one under load behind it, Ω. */
function loadedOhm(rounds: readonly DiagnosedRound[], medianV: readonly (number | null)[]): number | null {
  for (const [r, { state, currentA, groupVoltagesV }] of rounds.entries()) {
    const before = rounds[r - 1];
    if (state !== 'load' || !(currentA > 0) || before?.state !== 'rest' || medianV[r] === null) continue;
    const drops = groupVoltagesV.flatMap((v, i) => {
      const restV = before.groupVoltagesV[i] ?? null;
      return v === null || restV === null ? [] : [(restV - v) / currentA];
    });
    if (drops.length > 0 && median(drops) > 0) return median(drops);
  }
  return null;
}
