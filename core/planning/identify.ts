import { aboveFullV, chemistries, deadV } from '../chemistry/chemistries';
import type { Rechargeable } from '../chemistry/openCircuit';

/** What a sheet takes a pack for. */
export interface Identity {
  chemistry: Rechargeable;
  series: number;
}

/** What is known of a pack before a charger is set for it. */
export interface EnteredPack extends Identity {
  /** At its terminals; null where not measured. */
  measuredV: number | null;
  /** From the negative terminal; null where not read. */
  groupsV: readonly number[] | null;
  /** Its groups were counted, at the balance plug or opened. */
  isCounted: boolean;
  /** Its chemistry was read on its label or its cells. */
  isLabelRead: boolean;
}

/** Why a pack may not be what it is taken for. */
export type Mistaken =
  | { code: 'group-count'; series: number; groups: number }
  | { code: 'sum-apart'; sumV: number; measuredV: number }
  | { code: 'dead-terminals'; measuredV: number; series: number }
  | { code: 'group-above-full'; position: number; voltageV: number; fullV: number }
  | { code: 'not-its-voltage'; told: Identity; measuredV: number; couldBe: Identity[] }
  | { code: 'perhaps-fewer'; told: Identity; measuredV: number; couldBe: Identity[] }
  | { code: 'perhaps-iron-phosphate'; told: Identity; measuredV: number; couldBe: Identity[] };

/** Between which voltages a group of a chemistry rests that is neither run down nor just off its charger, V. */
const restsBetween: Record<Rechargeable, readonly [from: number, to: number]> = {
  'li-ion': [3.3, 4.2],
  lipo: [3.5, 4.2],
  lihv: [3.5, 4.35],
  lfp: [3.0, 3.45],
  nimh: [1.15, 1.45],
  nicd: [1.15, 1.45],
  sla: [1.95, 2.2],
};
/** What looks for other explanations reaches no further. */
const mostSeries = 30;
const mostListed = 4;
/** Groups and terminals, by two tools, differ by less. */
const sumFraction = 0.03;
/** An iron phosphate cell rests here, where a full one of cobalt is nearly empty, V. */
const [phosphateFromV, phosphateToV] = [3.15, 3.4];

/** What a pack of that voltage at rest may be: the given chemistry first, then others, the smaller count first. */
export function couldBe(measuredV: number, entered: Rechargeable): Identity[] {
  const keys = (Object.keys(restsBetween) as Rechargeable[]).toSorted(
    (a, b) => Number(b === entered) - Number(a === entered),
  );
  return keys
    .flatMap((chemistry) => {
      const [from, to] = restsBetween[chemistry];
      return Array.from({ length: mostSeries }, (_, i) => ({ chemistry, series: i + 1 })).filter(
        ({ series }) => measuredV / series >= from && measuredV / series <= to + aboveFullV,
      );
    })
    .slice(0, mostListed);
}

/**
 * Whether the measured voltages contradict the type that a pack is taken for; null where all agrees. A battery with
 * fewer cells or a lower voltage than the charger is set for is the classic fire. Source: common practice.
 */
export function mistakenFor(entered: EnteredPack): Mistaken | null {
  const { chemistry, series, groupsV } = entered;
  const { fullV } = chemistries[chemistry];
  const identity = { chemistry, series };
  if (groupsV && groupsV.length !== series) return { code: 'group-count', series, groups: groupsV.length };
  const above = groupsV?.findIndex((v) => v > fullV + aboveFullV) ?? -1;
  if (groupsV && above >= 0)
    return { code: 'group-above-full', position: above + 1, voltageV: groupsV[above] as number, fullV };
  const sumV = groupsV ? groupsV.reduce((a, b) => a + b, 0) : null;
  const measuredV = entered.measuredV ?? sumV;
  if (measuredV === null) return null;
  // Dead terminals in front of live groups are a board that has cut off, which is said of the pack's state.
  const isDead = measuredV / series < deadV;
  if (sumV === null && series > 1 && isDead) return { code: 'dead-terminals', measuredV, series };
  if (sumV !== null && !isDead && Math.abs(sumV - measuredV) > sumFraction * sumV)
    return { code: 'sum-apart', sumV, measuredV };
  const perGroupV = measuredV / series;
  if (perGroupV > fullV + aboveFullV)
    return { code: 'not-its-voltage', told: identity, measuredV, couldBe: couldBe(measuredV, chemistry) };
  const isCounted = entered.isCounted || groupsV !== null;
  const fewer = Array.from({ length: series - 1 }, (_, i) => ({ chemistry, series: series - 1 - i })).filter((one) =>
    isUsual(chemistry, measuredV / one.series),
  );
  // Nickel does not end by voltage: there a count that is one off does no harm.
  if (!isCounted && fewer.length > 0 && chemistries[chemistry].family !== 'nickel')
    return { code: 'perhaps-fewer', told: identity, measuredV, couldBe: [...fewer, identity].slice(0, mostListed) };
  const isCobalt = chemistry === 'li-ion' || chemistry === 'lipo' || chemistry === 'lihv';
  const isPlateau = (groupsV ?? [perGroupV]).every((v) => v >= phosphateFromV && v <= phosphateToV);
  if (isCobalt && !entered.isLabelRead && isPlateau)
    return {
      code: 'perhaps-iron-phosphate',
      told: identity,
      measuredV,
      couldBe: [{ chemistry: 'lfp', series }, identity],
    };
  return null;
}

const isUsual = (chemistry: Rechargeable, perGroupV: number): boolean => {
  const [from, to] = restsBetween[chemistry];
  return perGroupV >= from && perGroupV <= to + aboveFullV;
};
