import type { HouseRules } from '../chemistry/houseRules';
import { chemistries } from '../chemistry/chemistries';
import type { OpenCircuitCurve } from '../chemistry/openCircuit';
import { quadrature, type Quantity } from '../quantity/quantity';
import {
  type Charger,
  chargePack,
  groupOf,
  type PackCharge,
  type SimulatedGroup,
  usualLag,
} from '../simulation/packCharge';
import { steadyUntilS, steadyV } from '../simulation/steadyCurrent';
import type { GroupState } from './subjectState';

/** What a charge or a discharge will look like, from the state of each group. */
export interface Forecast {
  minutes: Quantity;
  /** Through the main leads, Ah. */
  charge: Quantity;
  /** After a minute: of the whole, V, and the current, A. */
  afterMinute: { voltageV: number; currentA: number };
  /** Of the whole, loaded or charging, as it ends, V. */
  endV: number;
  /** Of the whole at rest afterwards, V. */
  endRestV: number;
  highestGroupV: number;
  lowestGroupV: number;
  /** State of charge of each group afterwards. */
  socs: number[];
  /** The group that ends it: the first that is empty, the last that is full. */
  limiting: number;
  gentle: PackCharge['gentle'];
}

/** By how many standard uncertainties one thing is off in a run of the simulation. */
interface Off {
  capacity?: number;
  soc?: number;
  resistance?: number;
  /** What lags over hours. */
  lag?: number;
}

/** Followed for no longer, h. */
const longestH = 96;
/** How well the model of a charge and of a discharge fits (standard), a fraction. Tried in `npm run coverage`. */
const modelU = { charge: 0.06, discharge: 0.012 };

/** The groups as they are simulated; a group of unknown charge is taken to be at `unknownSoc`. */
export function simulatedGroups(
  groups: readonly GroupState[],
  curve: OpenCircuitCurve,
  unknownSoc: number,
  off: Off = {},
): SimulatedGroup[] {
  return groups.map(({ soc, capacity, resistance }) => {
    const capacityAh = Math.max(capacity.value / 10, capacity.value + (off.capacity ?? 0) * capacity.u);
    const at = soc ? soc.value + (off.soc ?? 0) * soc.u : unknownSoc;
    const ohm = Math.max(resistance.value / 10, resistance.value + (off.resistance ?? 0) * resistance.u);
    return groupOf(
      { curve, capacityAh, soc: Math.min(1, Math.max(0, at)) },
      ohm,
      usualLag.times + (off.lag ?? 0) * usualLag.u,
    );
  });
}

/** Identical groups are charged alike: one is followed for all. */
function oneForAll(groups: readonly SimulatedGroup[]): readonly SimulatedGroup[] {
  const [first, ...others] = groups;
  const isAlike = others.every(
    ({ soc, capacityAh, ohmicOhm }) =>
      soc === first?.soc && capacityAh === first.capacityAh && ohmicOhm === first.ohmicOhm,
  );
  return isAlike && first ? [first] : groups;
}

const restV = ({ curve }: SimulatedGroup, soc: number): number => curve.voltageAt(Math.min(1, Math.max(0, soc)));

/**
 * Charges the groups as that charger does, second by second. The time carries the uncertainty of capacity, charge and
 * resistance, and of the model. Source: JCGM 100:2008 (GUM) 5.2.2, one run for each.
 *
 * @param unknownSoc the state of charge taken for a group of unknown charge
 */
export function forecastCharge(
  groups: readonly GroupState[],
  curve: OpenCircuitCurve,
  charger: Charger,
  unknownSoc: number,
): Forecast {
  const run = (off: Off) => {
    const all = simulatedGroups(groups, curve, unknownSoc, off);
    const followed = oneForAll(all);
    return { all, times: all.length / followed.length, charged: chargePack(followed, charger, longestH * 3600) };
  };
  const movedIn = ({ charged: { endsAtS, chargedAh } }: ReturnType<typeof run>): Moved => ({
    minutes: (endsAtS ?? longestH * 3600) / 60,
    chargeAh: chargedAh,
  });
  const asKnown = run({});
  const { all, times, charged } = asKnown;
  const { afterMinute, gentle, course, highestV } = charged;
  const socs = all.map((_, i) => charged.soc[times > 1 ? 0 : i] as number);
  const lastV = course.groupsV.map((own) => own.at(-1) ?? 0);
  return {
    ...withUncertainty(movedIn(asKnown), (off) => movedIn(run(off)), modelU.charge),
    afterMinute: { voltageV: afterMinute.voltageV * times, currentA: afterMinute.currentA },
    endV: lastV.reduce((sum, v) => sum + v, 0) * times,
    endRestV: all.reduce((sum, group, i) => sum + restV(group, socs[i] as number), 0),
    highestGroupV: highestV,
    lowestGroupV: Math.min(...all.map((group) => restV(group, group.soc))),
    socs,
    limiting: socs.indexOf(Math.min(...socs)) + 1,
    gentle: gentle && { ...gentle, voltageV: gentle.voltageV * times },
  };
}

/**
 * Draws a steady current until the first group is at its floor, or this much is out.
 *
 * @param untilAh null: only the floor ends it
 */
export function forecastDischarge(
  groups: readonly GroupState[],
  curve: OpenCircuitCurve,
  { currentA, floorV, untilAh }: { currentA: number; floorV: number; untilAh: number | null },
  unknownSoc: number,
): Forecast {
  const run = (off: Off) => {
    const all = simulatedGroups(groups, curve, unknownSoc, off);
    const untilS = all.map((group) => steadyUntilS(group, currentA, floorV));
    return { all, untilS, s: Math.min(...untilS, ((untilAh ?? Infinity) / currentA) * 3600) };
  };
  const movedIn = (s: number): Moved => ({ minutes: s / 60, chargeAh: (currentA * s) / 3600 });
  const { all, untilS, s } = run({});
  const { chargeAh } = movedIn(s);
  const socs = all.map(({ soc, capacityAh }) => soc - chargeAh / capacityAh);
  const sumAt = (t: number): number => all.reduce((sum, group) => sum + steadyV(group, currentA, t), 0);
  return {
    ...withUncertainty(movedIn(s), (off) => movedIn(run(off).s), modelU.discharge),
    afterMinute: { voltageV: sumAt(Math.min(60, s)), currentA },
    endV: sumAt(s),
    endRestV: all.reduce((sum, group, i) => sum + restV(group, socs[i] as number), 0),
    highestGroupV: Math.max(...all.map((group) => restV(group, group.soc))),
    lowestGroupV: Math.min(...all.map((group) => steadyV(group, currentA, s))),
    socs,
    limiting: untilS.indexOf(Math.min(...untilS)) + 1,
    gentle: null,
  };
}

/** At a constant current for a time, from the charge alone: nickel, lead-acid and a rescue. */
export function steadyForecast(
  groups: readonly GroupState[],
  currentA: number,
  { minutes, chargeAh, endRestV }: { minutes: number; chargeAh: number; endRestV: number },
): Forecast {
  const sagV = currentA * groups.reduce((sum, { resistance }) => sum + resistance.value, 0);
  const startV = groups.reduce((sum, { restV: own }) => sum + (own?.value ?? endRestV / groups.length), 0);
  return {
    minutes: { value: minutes, u: modelU.charge * minutes },
    charge: { value: chargeAh, u: modelU.charge * chargeAh },
    afterMinute: { voltageV: startV + sagV, currentA },
    endV: endRestV + sagV,
    endRestV,
    highestGroupV: endRestV / groups.length,
    lowestGroupV: Math.min(...groups.map(({ restV: own }) => own?.value ?? endRestV / groups.length)),
    socs: groups.map(() => NaN),
    limiting: 1,
    gentle: null,
  };
}

/** What was moved in one run. */
interface Moved {
  minutes: number;
  chargeAh: number;
}

/** One standard uncertainty off in each, one run for each; and how well the model fits. */
function withUncertainty(as: Moved, moved: (off: Off) => Moved, model: number): Pick<Forecast, 'minutes' | 'charge'> {
  const [less, more] = [moved({ soc: -1 }), moved({ soc: 1 })];
  const others = [moved({ capacity: 1 }), moved({ resistance: 1 }), moved({ lag: -1 })];
  const u = (of: (one: Moved) => number): number => {
    const by = (one: Moved): number => Math.abs(of(one) - of(as));
    return quadrature(Math.max(by(less), by(more)), ...others.map(by), model * of(as));
  };
  return {
    minutes: { value: as.minutes, u: u(({ minutes }) => minutes) },
    charge: { value: as.chargeAh, u: u(({ chargeAh }) => chargeAh) },
  };
}

/** A pack that comes from use still holds the least that one should leave in it; anything else is taken for full. */
export const unknownSocOf = (isCharge: boolean): number => (isCharge ? 0.2 : 1);

/** A nearly empty lithium group takes less, up to that voltage with the current on; null of other chemistries. */
export function gentleStart(
  chemistry: keyof typeof chemistries,
  rules: HouseRules,
): { rateC: number; untilV: number } | null {
  if (chemistries[chemistry].family !== 'lithium') return null;
  return { rateC: rules.gentleChargeC, untilV: chemistry === 'lfp' ? emptyPhosphateV : rules.gentleUntilV };
}
/** Iron phosphate rests here with a twentieth of its charge, V. From memory. */
const emptyPhosphateV = 3.1;

/** Whether a group rests below that. */
export const isNearlyEmpty = (groups: readonly GroupState[], untilV: number): boolean =>
  groups.some(({ restV: own }) => own !== null && own.value < untilV);
