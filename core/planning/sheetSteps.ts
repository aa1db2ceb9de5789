import { chemistries } from '../chemistry/chemistries';
import type { OpenCircuitCurve, Rechargeable } from '../chemistry/openCircuit';
import { usualBalancing } from '../packs/balancing';
import type { Charger } from '../simulation/packCharge';
import { type Forecast, forecastCharge, forecastDischarge, steadyForecast, unknownSocOf } from '../state/forecast';
import { floorSoc, type GroupState, storedSoc } from '../state/subjectState';
import { peukertAh } from './peukert';
import type { SheetAsked, SheetStep } from './sheet';
import { canBalance } from './sheetChecks';
import { type Currents, leastAh, tidy } from './sheetCurrents';

/** What steps are made from. */
export interface Making extends SheetAsked {
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
}

/** Between charge and discharge when cycling. Common practice. */
export const cycleRestMin = 30;
/** A nickel cell takes more than it gives: so many times its capacity, slowly and quickly. Common practice. */
const nickelIn = { slow: 1.6, quick: 1.15, quickAboveC: 0.15 };
/** A charge ends at this fraction of the capacity an hour. Common practice. */
export const endRate = 0.05;
export const rescueEndV = 3;
/** So much of its capacity brings a group that was run down to three volts. From memory. */
const rescueFraction = 0.05;
/** Lead-acid takes so much more than it gives, and is held at its end for so long. From memory. */
const [leadIn, leadHeldMin] = [1.1, 120];
/** A charge known to be above this is full, a fraction. */
const fullFrom = 0.95;
/** What the weakest of uneven groups surely holds: so many standard uncertainties less. */
const surelyK = 2;
/** Less than this fraction of the capacity is not worth moving. */
const worthMoving = 0.005;

/** What happens in its order. */
export function stepsOf(asked: Making): Made[] {
  const { goal, chemistry, state, wanted, rules, curve } = asked;
  const { fullV, lowestV } = chemistries[chemistry];
  const downV = wanted.cutoffPerGroupV ?? state.limits.floorV;
  switch (goal) {
    case 'charge':
    case 'balance':
      return [charged(asked, wanted.cutoffPerGroupV ?? fullV)];
    case 'storage':
      return toStorage(asked, state.groups);
    case 'discharge':
      return [discharged(asked, state.groups, { floorV: downV, untilAh: leastOutAh(asked, downV) })];
    case 'run-down':
      return [discharged(asked, state.groups, { floorV: lowestV, untilAh: null })];
    case 'capacity':
    case 'cycle': {
      const emptied = atSoc(state.groups, Math.max(0, floorSoc(chemistry, curve, rules) - 0.001));
      const out = discharged(asked, atSoc(state.groups, 1), { floorV: downV, untilAh: null });
      return [charged(asked, fullV), rest, out, rest, ...toStorage(asked, emptied)];
    }
    case 'rescue':
      return [rescued(asked)];
  }
}

const rest: Made = {
  step: { kind: 'rest', currentA: 0, untilV: null, chargeAh: 0, minutes: cycleRestMin },
  forecast: null,
};

const atSoc = (groups: readonly GroupState[], value: number): GroupState[] =>
  groups.map((group) => ({ ...group, restV: null, soc: { value, u: 0.01, source: 'estimated', at: null } }));

/** As the charger is set for it. */
export function chargerFor(
  { charger, chemistry, state, wanted, currents, isBalanced }: Making,
  { endV, untilAh = null, endFraction = endRate }: { endV: number; untilAh?: number | null; endFraction?: number },
): Charger {
  const usual = usualBalancing(chemistry);
  const { currentA } = currents.charge;
  const limitAh = Math.min(untilAh ?? Infinity, wanted.untilChargeAh ?? Infinity);
  return {
    currentA,
    endV,
    bleed: isBalanced ? { currentA: charger.bleedA, fromV: usual.bleedFromV, beyondV: 0.005 } : null,
    // A balancing charger sees each group; any other is set to end as the fullest group is full.
    overshootV: canBalance(charger, state) ? usual.overshootV : 0,
    endCurrentA: Math.min(endFraction * leastAh(state), currentA / 2),
    gentle: currents.gentle,
    untilAh: limitAh < Infinity ? limitAh : null,
  };
}

/** Charged to its end; a group whose charge is not known is taken for nearly used up. */
function charged(asked: Making, endV: number, untilAh: number | null = null, from = asked.state.groups): Made {
  const { chemistry, curve, currents } = asked;
  const { family } = chemistries[chemistry];
  if (family === 'nickel') return nickelCharged(asked);
  if (family === 'lead') return leadCharged(asked, from);
  const settings = chargerFor(asked, { endV, untilAh });
  const forecast = forecastCharge(from, curve, settings, unknownSocOf(true));
  const isByCharge = settings.untilAh != null && forecast.chargeAh >= settings.untilAh - 1e-3;
  const wholeV = asked.state.series * endV;
  // The fullest group ends it before the whole is at its end.
  const untilV = canBalance(asked.charger, asked.state) ? wholeV : Math.min(wholeV, forecast.endV);
  return {
    forecast,
    step: {
      kind: 'charge',
      currentA: currents.charge.currentA,
      untilV: isByCharge ? null : tidy(untilV),
      chargeAh: forecast.chargeAh,
      minutes: forecast.minutes.value,
    },
  };
}

/** Sixteen hours at a tenth, or a quick one; it ends by the charge put in. */
function nickelCharged(asked: Making): Made {
  const ah = leastAh(asked.state);
  const chargeAh = Math.min(nickelTakesAh(asked), asked.wanted.untilChargeAh ?? Infinity);
  return byCharge(asked, { chargeAh, untilV: null, reachesSoc: Math.min(1, chargeAh / ah) });
}

/** What goes into an empty nickel pack at its current, Ah. */
export function nickelTakesAh({ state, currents }: Making): number {
  const ah = leastAh(state);
  return (currents.charge.currentA > nickelIn.quickAboveC * ah ? nickelIn.quick : nickelIn.slow) * ah;
}

/** The lowest group decides; then it is held at its end. */
function leadCharged(asked: Making, from: readonly GroupState[]): Made {
  const missing = from.map(({ soc, capacity }) => (1 - (soc?.value ?? unknownSocOf(true))) * capacity.value);
  const chargeAh = Math.min(leadIn * Math.max(0, ...missing), asked.wanted.untilChargeAh ?? Infinity);
  const made = byCharge(asked, { chargeAh, untilV: asked.state.series * chemistries.sla.fullV, reachesSoc: 1 });
  const heldMin = chargeAh > 0 ? leadHeldMin : 0;
  return { ...made, step: { ...made.step, minutes: made.step.minutes + heldMin } };
}

function rescued(asked: Making): Made {
  const chargeAh = rescueFraction * leastAh(asked.state);
  return byCharge(asked, { chargeAh, untilV: asked.state.series * rescueEndV, reachesSoc: rescueFraction });
}

/** At one current until so much is in. */
function byCharge(
  { state, curve, currents }: Making,
  { chargeAh, untilV, reachesSoc }: { chargeAh: number; untilV: number | null; reachesSoc: number },
): Made {
  const { currentA } = currents.charge;
  const minutes = (chargeAh / currentA) * 60;
  const endRestV = state.series * curve.voltageAt(reachesSoc);
  return {
    forecast: steadyForecast(state.groups, currentA, { minutes, chargeAh, endRestV }),
    step: { kind: 'charge', currentA, untilV, chargeAh, minutes },
  };
}

/** What the weakest group allows of a discharge, Ah; null where the floor of all alike ends it. */
function leastOutAh(asked: Making, downV: number): number | null {
  const { chemistry, state, rules, curve, currents } = asked;
  const { groups } = state;
  if (chemistries[chemistry].family === 'lead') {
    const out = groups.map(({ soc, capacity }) => {
      const left = (soc?.value ?? unknownSocOf(false)) - rules.leadReserve;
      return Math.max(0, left) * peukertAh(capacity.value, currents.discharge.currentA);
    });
    return Math.min(...out);
  }
  if (!isUneven(groups)) return null;
  const floor = Math.max(floorSoc(chemistry, curve, rules), curve.socAt({ value: downV, u: 0 }).value);
  const surely = groups.map(({ soc, capacity }) =>
    soc === null ? Infinity : Math.max(0, soc.value - surelyK * soc.u - floor) * capacity.value,
  );
  const least = Math.min(...surely);
  return least < Infinity ? least : null;
}

/** Groups that differ, by what was measured of them. */
export const isUneven = (groups: readonly GroupState[]): boolean =>
  new Set(groups.map(({ soc, capacity }) => `${soc?.value} ${capacity.value}`)).size > 1;

/** Drawn down until the weakest group is at its floor, or so much is out. */
function discharged(
  asked: Making,
  from: readonly GroupState[],
  { floorV, untilAh }: { floorV: number; untilAh: number | null },
): Made {
  const { state, curve, currents, wanted, chemistry } = asked;
  const { currentA } = currents.discharge;
  const none: SheetStep = { kind: 'discharge', currentA, untilV: null, chargeAh: 0, minutes: 0 };
  const limitAh = Math.min(untilAh ?? Infinity, wanted.untilChargeAh ?? Infinity);
  if (!(currentA > 0)) return { step: none, forecast: null };
  const isLead = chemistries[chemistry].family === 'lead';
  const groups = isLead ? from.map((group) => atRate(group, currentA)) : from;
  const limits = { currentA, floorV, untilAh: limitAh < Infinity ? limitAh : null };
  const forecast = forecastDischarge(groups, curve, limits, unknownSocOf(false));
  // The whole as the weakest group meets its floor: the others stand higher.
  const lowV = Math.max(state.series * floorV, forecast.endV);
  const isByCharge = forecast.chargeAh >= limitAh - 1e-6;
  const { chargeAh, minutes } = forecast;
  return {
    forecast,
    step: { kind: 'discharge', currentA, untilV: isByCharge ? null : tidy(lowV), chargeAh, minutes: minutes.value },
  };
}

/** Lead-acid gives less the faster it is drawn. */
const atRate = (group: GroupState, currentA: number): GroupState => ({
  ...group,
  capacity: { ...group.capacity, value: peukertAh(group.capacity.value, currentA) },
});

/** To storage, ended by charge: under load a voltage says too little of where it rests. */
function toStorage(asked: Making, from: readonly GroupState[]): Made[] {
  const { chemistry, state } = asked;
  const { family, fullV } = chemistries[chemistry];
  if (family === 'lead') return [charged(asked, fullV, null, from)];
  if (family === 'nickel') return nickelToStorage(asked, from);
  const target = storageSoc(asked);
  const { floorV } = state.limits;
  const moves = from.map(({ soc, capacity }) => ((soc?.value ?? unknownSocOf(false)) - target) * capacity.value);
  const outAh = Math.min(...moves);
  const inAh = -Math.max(...moves);
  const least = worthMoving * leastAh(state);
  if (outAh > least) return [discharged(asked, from, { floorV, untilAh: outAh })];
  if (inAh > least) return [charged(asked, fullV, inAh, from)];
  return [byCharge(asked, { chargeAh: 0, untilV: null, reachesSoc: target })];
}

/** The state of charge at which it is stored, or rests at what is wanted. */
const storageSoc = ({ chemistry, curve, rules, wanted, goal }: Making): number =>
  goal === 'storage' && wanted.cutoffPerGroupV !== null
    ? curve.socAt({ value: wanted.cutoffPerGroupV, u: 0 }).value
    : storedSoc(chemistry, curve, rules);

/** Where the whole rests in storage, V: approached by a falling current, or ended by charge. */
export const storageV = (asked: Making): number =>
  tidy(asked.state.series * (asked.wanted.cutoffPerGroupV ?? asked.curve.voltageAt(storageSoc(asked))));

/** Nickel that is known to be full gives a fifth; other nickel is charged first. */
function nickelToStorage(asked: Making, from: readonly GroupState[]): Made[] {
  const { state } = asked;
  const outAh = (1 - storageSoc(asked)) * leastAh(state);
  const out = discharged(asked, atSoc(from, 1), { floorV: state.limits.floorV, untilAh: outAh });
  const isFull = from.every(({ soc }) => soc !== null && soc.value >= fullFrom);
  return isFull ? [out] : [nickelCharged(asked), rest, out];
}
