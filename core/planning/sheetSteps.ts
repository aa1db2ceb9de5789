import { chemistries } from '../chemistry/chemistries';
import type { OpenCircuitCurve, Rechargeable } from '../chemistry/openCircuit';
import { usualBalancing } from '../packs/balancing';
import type { Charger } from '../simulation/packCharge';
import {
  type Forecast,
  forecastCharge,
  forecastDischarge,
  isNearlyEmpty,
  steadyForecast,
  unknownSocOf,
} from '../state/forecast';
import { floorSoc, type GroupState, leastAh, storedSoc, type SubjectState } from '../state/subjectState';
import { peukertAh } from './peukert';
import type { SheetInput, SheetStep } from './sheet';
import { canBalance } from './sheetChecks';
import { type Currents, tidy } from './sheetCurrents';

/** What steps are made from. */
export interface Making extends SheetInput {
  chemistry: Rechargeable;
  curve: OpenCircuitCurve;
  currents: Currents;
  isBalanced: boolean;
}

/** A step with the forecast it rests on. */
export interface Made {
  step: SheetStep;
  /** Null of a rest. */
  forecast: Forecast | null;
  /** It ends by the charge moved, before its voltage. */
  isByCharge: boolean;
}

/** Between charge and discharge when cycling. Common practice. */
export const cycleRestMin = 30;
/** A nickel cell takes more than it gives: this many times its capacity, slowly and quickly. Common practice. */
const nickelIn = { slow: 1.6, quick: 1.15, quickAboveC: 0.15 };
/** A charge ends at this fraction of the capacity an hour. Common practice. */
export const endRate = 0.05;
export const rescueEndV = 3;
/** This much of its capacity brings a group that was run down to three volts. From memory. */
const rescueFraction = 0.05;
/** Lead-acid takes this much more charge than it gives, and is held at its end voltage for this time. From memory. */
const [leadIn, leadHeldMin] = [1.1, 120];
/** A charge known to be above this is full, a fraction. */
const fullFrom = 0.95;
/** What the weakest of uneven groups surely holds: this many standard uncertainties less. */
const surelyK = 2;
/** Groups of a pack that was never discharged differ by this fraction (standard). From memory. */
const groupsDifferU = 0.05;
/** And in charge, beyond what was measured (standard), a fraction; on a flat curve voltages show less. From memory. */
const socDiffersU = { flat: 0.06, other: 0.015 };
/** Capacities within this fraction are alike. */
const alikeWithin = 0.03;
/** Less than this fraction of the capacity is not worth moving. */
const worthMoving = 0.005;

/** What happens in its order. */
export function stepsOf(request: Making): Made[] {
  const { goal, chemistry, state, wanted, rules, curve } = request;
  const { fullV, lowestV } = chemistries[chemistry];
  const downV = wanted.cutoffPerGroupV ?? state.limits.floorV;
  switch (goal) {
    case 'charge':
    case 'balance':
      return [charged(request, wanted.cutoffPerGroupV ?? fullV)];
    case 'storage':
      return toStorage(request, state.groups);
    case 'discharge':
      return [discharged(request, state.groups, { floorV: downV, untilAh: surelyOutAh(request, downV) })];
    case 'run-down':
      return [discharged(request, state.groups, { floorV: lowestV, untilAh: null })];
    case 'capacity':
    case 'cycle': {
      const emptied = atSoc(state.groups, Math.max(0, floorSoc(chemistry, curve, rules) - 0.001));
      const out = discharged(request, atSoc(state.groups, 1), { floorV: downV, untilAh: null });
      return [charged(request, fullV), rest, out, rest, ...toStorage(gently(request), emptied)];
    }
    case 'rescue':
      return [rescued(request)];
  }
}

/** What was just emptied is charged gently all the way to storage. */
const gently = (request: Making): Making => {
  const { gentle, charge } = request.currents;
  return {
    ...request,
    currents: { ...request.currents, charge: { ...charge, currentA: gentle?.currentA ?? charge.currentA } },
  };
};

const rest: Made = {
  step: { kind: 'rest', currentA: 0, untilV: null, chargeAh: 0, minutes: cycleRestMin },
  forecast: null,
  isByCharge: false,
};

const atSoc = (groups: readonly GroupState[], value: number): GroupState[] =>
  groups.map((group) => ({ ...group, restV: null, soc: { value, u: 0.01, source: 'estimated', at: null } }));

/** As the charger is set for it. */
export function chargerFor(
  { charger, chemistry, state, wanted, currents, isBalanced }: Making,
  {
    endV,
    untilAh = null,
    endFraction = endRate,
    from = state.groups,
  }: { endV: number; untilAh?: number | null; endFraction?: number; from?: readonly GroupState[] },
): Charger {
  const { gentle } = currents;
  const usual = usualBalancing(chemistry);
  const { currentA } = currents.charge;
  const limitAh = Math.min(untilAh ?? Infinity, wanted.untilChargeAh ?? Infinity);
  return {
    currentA,
    endV,
    bleed: isBalanced ? { currentA: charger.bleedA, fromV: usual.bleedFromV, beyondV: 0.005 } : null,
    // A balancing charger sees each group; any other sees the whole alone.
    overshootV: canBalance(charger, state) ? usual.overshootV : null,
    endCurrentA: Math.min(endFraction * leastAh(state), currentA / 2),
    gentle: gentle && isNearlyEmpty(from, gentle.untilV) ? gentle : null,
    untilAh: limitAh < Infinity ? limitAh : null,
  };
}

/** Charged to its end; a group whose charge is not known is taken for nearly used up. */
function charged(request: Making, endV: number, untilAh: number | null = null, from = request.state.groups): Made {
  const { chemistry, curve, currents, charger, state } = request;
  const { family } = chemistries[chemistry];
  if (family === 'nickel') return nickelCharged(request);
  if (family === 'lead') return leadCharged(request, from);
  const perGroupV = canBalance(charger, state) ? endV : Math.min(endV, wholeEndV(request, from, endV) / state.series);
  const settings = chargerFor(request, { endV: perGroupV, untilAh, from });
  const forecast = forecastCharge(from, curve, settings, unknownSocOf(true));
  const isByCharge = settings.untilAh != null && forecast.charge.value >= settings.untilAh - 1e-3;
  return {
    forecast,
    isByCharge,
    step: {
      kind: 'charge',
      currentA: currents.charge.currentA,
      untilV: isByCharge ? null : tidy(state.series * perGroupV),
      chargeAh: forecast.charge.value,
      minutes: forecast.minutes.value,
    },
  };
}

/** Where the whole rests as its fullest group is full, V: a charger that sees the whole alone ends there. */
function wholeEndV({ state, curve, chemistry }: Making, from: readonly GroupState[], endV: number): number {
  const isUnseen = state.isGroupsRead || state.connector === 'none';
  if (from.length < 2 || !isUnseen) return endV * from.length;
  const full = curve.socAt({ value: Math.min(endV, curve.voltageAt(1)), u: 0 }).value;
  const least = from.map(({ soc, capacity }) => {
    const differs = socDiffersU[chemistry === 'lfp' ? 'flat' : 'other'];
    const missing = full - (soc?.value ?? unknownSocOf(true)) - surelyK * differs;
    return Math.max(0, missing) * capacity.value * (1 - surelyK * differsBy(capacity));
  });
  const takesAh = Math.min(...least);
  const restsAt = from.map(({ soc, capacity }) =>
    curve.voltageAt(Math.min(1, (soc?.value ?? unknownSocOf(true)) + takesAh / capacity.value)),
  );
  // What the table's full voltage lacks of the charge end is held as usual.
  const beyondV = Math.max(0, endV - curve.voltageAt(full));
  return restsAt.reduce((sum, v) => sum + v + beyondV, 0);
}

/** By how much groups of one pack may differ in capacity (standard), a fraction. */
const differsBy = ({ source, u, value }: GroupState['capacity']): number =>
  source === 'rated' ? groupsDifferU : u / value;

/** Sixteen hours at a tenth, or a quick one; it ends by the charge put in. */
function nickelCharged(request: Making): Made {
  const ah = leastAh(request.state);
  const chargeAh = Math.min(nickelTakesAh(request), request.wanted.untilChargeAh ?? Infinity);
  return byCharge(request, { chargeAh, untilV: null, reachesSoc: Math.min(1, chargeAh / ah) });
}

/** What goes into an empty nickel pack at its current, Ah. */
export function nickelTakesAh({ state, currents }: Making): number {
  const ah = leastAh(state);
  return (currents.charge.currentA > nickelIn.quickAboveC * ah ? nickelIn.quick : nickelIn.slow) * ah;
}

/** The lowest group decides; then it is held at its end. */
function leadCharged(request: Making, from: readonly GroupState[]): Made {
  const missing = from.map(({ soc, capacity }) => (1 - (soc?.value ?? unknownSocOf(true))) * capacity.value);
  const chargeAh = Math.min(leadIn * Math.max(0, ...missing), request.wanted.untilChargeAh ?? Infinity);
  const made = byCharge(request, { chargeAh, untilV: request.state.series * chemistries.sla.fullV, reachesSoc: 1 });
  const heldMin = chargeAh > 0 ? leadHeldMin : 0;
  return { ...made, step: { ...made.step, minutes: made.step.minutes + heldMin } };
}

function rescued(request: Making): Made {
  const chargeAh = rescueFraction * leastAh(request.state);
  return byCharge(request, { chargeAh, untilV: request.state.series * rescueEndV, reachesSoc: rescueFraction });
}

/** At one current until this much is in. */
function byCharge(
  { state, curve, currents }: Making,
  { chargeAh, untilV, reachesSoc }: { chargeAh: number; untilV: number | null; reachesSoc: number },
): Made {
  const { currentA } = currents.charge;
  const minutes = (chargeAh / currentA) * 60;
  const endRestV = state.series * curve.voltageAt(reachesSoc);
  return {
    forecast: steadyForecast(state.groups, currentA, { minutes, chargeAh, endRestV }),
    isByCharge: untilV === null,
    step: { kind: 'charge', currentA, untilV, chargeAh, minutes },
  };
}

/** What the weakest group surely holds above its floor, Ah; of lead-acid above what it keeps; null: not known. */
function surelyOutAh({ chemistry, state, rules, curve, currents }: Making, downV: number): number | null {
  const { groups } = state;
  const isLead = chemistries[chemistry].family === 'lead';
  if (!isLead && !isUneven(state)) return null;
  const floor = isLead
    ? rules.leadReserve
    : Math.max(floorSoc(chemistry, curve, rules), curve.socAt({ value: downV, u: 0 }).value);
  const surely = groups.map(({ soc, capacity }) => {
    if (soc === null && !isLead) return Infinity;
    const fraction = soc ? soc.value - (isLead ? 0 : surelyK * soc.u) : unknownSocOf(false);
    const ah = isLead ? peukertAh(capacity.value, currents.discharge.currentA) : capacity.value - surelyK * capacity.u;
    return Math.max(0, fraction - floor) * ah;
  });
  const least = Math.min(...surely);
  return least < Infinity ? least : null;
}

/** Groups whose readings differ: in charge, or in capacity. */
export const isUneven = ({ groups, imbalance }: SubjectState): boolean => {
  const capacities = groups.map(({ capacity }) => capacity.value);
  return imbalance?.isLarge === true || Math.min(...capacities) < (1 - alikeWithin) * Math.max(...capacities);
};

/** Drawn down until the weakest group is at its floor, or this much is out: whichever comes first. */
function discharged(
  request: Making,
  from: readonly GroupState[],
  { floorV, untilAh }: { floorV: number; untilAh: number | null },
): Made {
  const { state, curve, currents, wanted, chemistry } = request;
  const { currentA } = currents.discharge;
  const none: SheetStep = { kind: 'discharge', currentA, untilV: null, chargeAh: 0, minutes: 0 };
  const limitAh = Math.min(untilAh ?? Infinity, wanted.untilChargeAh ?? Infinity);
  if (!(currentA > 0)) return { step: none, forecast: null, isByCharge: false };
  const isLead = chemistries[chemistry].family === 'lead';
  const ofRate = isLead ? from.map((group) => atRate(group, currentA)) : from;
  const groups = state.connector === 'none' ? withWeakest(ofRate) : ofRate;
  const draw = (ah: number | null) =>
    forecastDischarge(groups, curve, { currentA, floorV, untilAh: ah }, unknownSocOf(false));
  const toFloor = draw(null);
  const forecast = limitAh < toFloor.charge.value ? draw(limitAh) : toFloor;
  const { charge, minutes } = forecast;
  // The whole when the weakest group meets its floor: the others are higher.
  const untilV = Math.max(state.series * floorV, toFloor.endV);
  const isByCharge = forecast !== toFloor;
  return {
    forecast,
    isByCharge,
    step: { kind: 'discharge', currentA, untilV: tidy(untilV), chargeAh: charge.value, minutes: minutes.value },
  };
}

/** Ended by charge alone: under load a voltage says too little of where it rests. */
const byChargeAlone = (made: Made): Made => ({ ...made, step: { ...made.step, untilV: null } });

/** Where no one sees the groups, one of them may hold less than is known. */
const withWeakest = (groups: readonly GroupState[]): readonly GroupState[] =>
  groups.length < 2 ? groups : groups.map((group, i) => (i === weakestOf(groups) ? lessOf(group) : group));

const weakestOf = (groups: readonly GroupState[]): number => {
  const held = groups.map(({ soc, capacity }) => (soc?.value ?? 1) * capacity.value);
  return held.indexOf(Math.min(...held));
};

function lessOf(group: GroupState): GroupState {
  const { capacity } = group;
  return { ...group, capacity: { ...capacity, value: capacity.value * (1 - surelyK * differsBy(capacity)) } };
}

/** Lead-acid gives less the faster it is drawn. */
const atRate = (group: GroupState, currentA: number): GroupState => ({
  ...group,
  capacity: { ...group.capacity, value: peukertAh(group.capacity.value, currentA) },
});

/** To storage, ended by charge: under load a voltage says too little of where it rests. */
function toStorage(request: Making, from: readonly GroupState[]): Made[] {
  const { chemistry, state } = request;
  const { family, fullV } = chemistries[chemistry];
  if (family === 'lead') return [charged(request, fullV, null, from)];
  if (family === 'nickel') return nickelToStorage(request, from);
  const target = storageSoc(request);
  const { floorV } = state.limits;
  const moves = from.map(({ soc, capacity }) => ((soc?.value ?? unknownSocOf(false)) - target) * capacity.value);
  const outAh = Math.min(...moves);
  const inAh = -Math.max(...moves);
  const least = worthMoving * leastAh(state);
  if (outAh > least) return [byChargeAlone(discharged(request, from, { floorV, untilAh: outAh }))];
  if (inAh > least) return [charged(request, fullV, inAh, from)];
  return [byCharge(request, { chargeAh: 0, untilV: null, reachesSoc: target })];
}

/** The state of charge at which it is stored, or rests at what is wanted. */
const storageSoc = ({ chemistry, curve, rules, wanted, goal }: Making): number =>
  goal === 'storage' && wanted.cutoffPerGroupV !== null
    ? curve.socAt({ value: wanted.cutoffPerGroupV, u: 0 }).value
    : storedSoc(chemistry, curve, rules);

/** Where the whole rests in storage, V: approached by a falling current, or ended by charge. */
export const storageV = (request: Making): number =>
  tidy(request.state.series * (request.wanted.cutoffPerGroupV ?? request.curve.voltageAt(storageSoc(request))));

/** Nickel that is known to be full gives a fifth; other nickel is charged first. */
function nickelToStorage(request: Making, from: readonly GroupState[]): Made[] {
  const { state } = request;
  const outAh = (1 - storageSoc(request)) * leastAh(state);
  const out = byChargeAlone(discharged(request, atSoc(from, 1), { floorV: state.limits.floorV, untilAh: outAh }));
  const isFull = from.every(({ soc }) => soc !== null && soc.value >= fullFrom);
  return isFull ? [out] : [nickelCharged(request), rest, out];
}
