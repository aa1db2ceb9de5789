import { chemistries } from '../chemistry/chemistries';
import type { RuleKey } from '../chemistry/houseRules';
import type { OpenCircuitCurve, Rechargeable } from '../chemistry/openCircuit';
import { type Forecast, forecastCharge, unknownSocOf } from '../state/forecast';
import { curveOf, leastAh } from '../state/subjectState';
import type { ChargerSheet, Gentle, LimitedBy, SheetInput, Sheeted, SheetGoal, SheetRefusal, SheetStep } from './sheet';
import { canBalance, packVoltage, refusalOf } from './sheetChecks';
import { currentsOf, tidy } from './sheetCurrents';
import {
  chargerFor,
  cycleRestMin,
  endRate,
  isUneven,
  type Made,
  type Making,
  nickelTakesAh,
  rescueEndV,
  stepsOf,
  storageV,
} from './sheetSteps';

/** About 120 °F: what gets so warm is taken off. Common practice. */
const temperatureLimitC = 49;
/** A timer is set to this many times what is expected, in tens of minutes. Common practice: 120 for 80 to 90. */
const [timerTimes, timerStepMin] = [1.35, 10];
/** And no less than the expected time and this many standard uncertainties. */
const timerK = 2;
/** A charge that goes in beyond this fraction of what is expected is a fault. From memory. */
const mostIn = { lithium: 1.2, lead: 1.2, nickel: 1.1, rescue: 2 };
/** A quick balancing ends at twice the current of a slow one. Common practice. */
const quickEndRate = 2 * endRate;
/** Full cycles: of nickel-cadmium with memory, of a new or long stored nickel metal hydride. Common practice. */
const cyclesOf: Partial<Record<Rechargeable, number>> = { nicd: 5, nimh: 3 };

/**
 * Every setting of a charger for a pack and a goal: currents by the rates of the house, the label and the weakest
 * group, rounded to the charger's steps; ends by the groups, timer, limits; what to see meanwhile; how long it takes,
 * by simulation of each group. Refused where the pack may be another than it is taken for, where its state forbids it,
 * or where the charger cannot do it. Source: common practice, but for what is marked.
 */
export function chargerSheet(request: SheetInput): Sheeted {
  const refusal = refusalOf(request);
  if (refusal) return { sheet: null, refusal };
  const currents = currentsOf(request);
  if ('code' in currents) return { sheet: null, refusal: currents };
  const { state } = request;
  const making: Making = {
    ...request,
    chemistry: state.chemistry as Rechargeable,
    curve: curveOf(state) as OpenCircuitCurve,
    currents,
    isBalanced: isBalanced(request),
  };
  const steps = stepsOf(making);
  const cannot = againstSteps(making, steps);
  return cannot ? { sheet: null, refusal: cannot } : { sheet: sheetOf(making, steps), refusal: null };
}

/** Where the charger can, and the groups need it or the house wants it. */
function isBalanced({ charger, state, goal, rules }: SheetInput): boolean {
  if (!canBalance(charger, state) || goal === 'rescue') return false;
  const apartV = state.imbalance?.voltageV ?? 0;
  return goal === 'balance' || rules.balanceAlways > 0 || apartV > rules.spreadGoodV;
}

/** What only shows once the steps are known. */
function againstSteps({ state, goal, isBalanced: balances }: Making, steps: readonly Made[]): SheetRefusal | null {
  if (steps.some(({ step }) => step.kind === 'discharge' && step.currentA <= 0)) return { code: 'cannot-discharge' };
  const { imbalance, chemistry } = state;
  const isCharge = steps[0]?.step.kind === 'charge' && goal !== 'rescue';
  const isLithium = chemistries[chemistry].family === 'lithium';
  return isCharge && isLithium && !balances && imbalance?.isLarge
    ? { code: 'balance-first', lowest: imbalance.lowest, apartV: imbalance.voltageV, rule: 'spreadGoodV' }
    : null;
}

function sheetOf(request: Making, all: readonly Made[]): ChargerSheet {
  const { state, charger, goal, rules, chemistry, curve, currents, loadOhm } = request;
  const { series, groups } = state;
  const { family } = chemistries[chemistry];
  const { charge, discharge } = currents;
  const moving = all.filter(({ step }) => step.kind !== 'rest');
  const main = moving[0] as Made;
  const out = all.find(({ step }) => step.kind === 'discharge') ?? null;
  const isCharge = main.step.kind === 'charge';
  const gentle = gentleOf(main.forecast, request);
  const weakest = out?.forecast && isUneven(state) ? out.forecast.limiting : null;
  const steps = all.flatMap(({ step }, i) => (gentle && i === 0 ? withGentle(step, gentle) : [step]));
  const cycles = goal === 'cycle' ? (cyclesOf[chemistry] ?? 1) : null;
  const capacityLimitAh = limitAh(request, main);
  const endV = tidy(endOf(request, main.step));
  const startV = packVoltage(groups);
  const { afterMinute, endRestV, minutes, charge: moved } = main.forecast ?? { ...noForecast, endRestV: endV };
  const isTapered = isCharge && family !== 'nickel' && goal !== 'rescue' && !main.isByCharge;
  const forecasts = all.flatMap(({ forecast }) => forecast ?? []);
  return {
    goal,
    main: isCharge ? 'charge' : 'discharge',
    series,
    chemistry,
    floorPerGroupV: goal === 'run-down' ? chemistries[chemistry].lowestV : state.limits.floorV,
    chargeA: moving.some(({ step }) => step.kind === 'charge') ? charge.currentA : null,
    dischargeA: out ? discharge.currentA : null,
    limitedBy: limitOf(request, isCharge, gentle !== null, weakest !== null),
    rateRule: isCharge ? currents.rateRule : 'testDischargeC',
    endV,
    dischargeEndV: out && tidy(dischargeEnd(request, out.step)),
    dischargeRule: goal === 'storage' && family === 'lithium' ? 'storageLithiumV' : lowestRule(chemistry),
    timerMin: goal === 'rescue' ? rules.rescueLimitH * 60 : timerFor(moving, capacityLimitAh, family === 'nickel'),
    capacityLimitAh,
    temperatureLimitC,
    restMin: steps.some(({ kind }) => kind === 'rest') ? cycleRestMin : null,
    cycles,
    isBalanced: request.isBalanced,
    balancing: request.isBalanced && isCharge ? balancingOf(request, main.step.minutes) : null,
    gentle,
    weakest,
    steps,
    expectedMin: Math.round(minutesOf(steps, cycles)),
    expectedU: forecasts.reduce((sum, one) => sum + one.minutes.u, 0),
    attendedMin: Math.round(
      minutesOf(
        steps.map((step) => (step.kind === 'rest' ? { ...step, minutes: 0 } : step)),
        cycles,
      ),
    ),
    forecast: {
      afterMinuteV: isCharge && isTapered ? Math.min(afterMinute.voltageV, endV) : afterMinute.voltageV,
      afterMinuteA: afterMinute.currentA,
      endRestV,
      charge: { value: main.step.chargeAh, u: moved.u },
      minutes: { value: main.step.minutes, u: minutes.u },
    },
    seen: {
      startV,
      endV,
      endA: isTapered ? Math.min(endRate * leastAh(state), charge.currentA) : main.step.currentA,
      movedAh: main.step.chargeAh,
    },
    groupsBetween: {
      lowestV: Math.min(...forecasts.map(({ lowestGroupV }) => lowestGroupV)),
      highestV: Math.max(...forecasts.map(({ highestGroupV }) => highestGroupV)),
    },
    load: loadOhm !== null && out ? loadOf(loadOhm, out.step, startV ?? series * curve.voltageAt(1)) : null,
    chargerLowestV: charger.lowestPackV ?? null,
    isByCharge: main.isByCharge,
    isBlind: family !== 'nickel' && groups.some(({ soc }) => soc === null),
  };
}

const noForecast = {
  afterMinute: { voltageV: 0, currentA: 0 },
  minutes: { value: 0, u: 0 },
  charge: { value: 0, u: 0 },
} satisfies Partial<Forecast>;

function gentleOf(forecast: Forecast | null, { currents }: Making): Gentle | null {
  if (!forecast?.gentle || !currents.gentle) return null;
  const { s, chargedAh, voltageV } = forecast.gentle;
  return { currentA: currents.gentle.currentA, untilV: tidy(voltageV), chargeAh: chargedAh, minutes: s / 60 };
}

/** A charge with its gentle part before it. */
const withGentle = (step: SheetStep, gentle: Gentle): SheetStep[] => [
  { kind: 'charge', ...gentle },
  { ...step, chargeAh: step.chargeAh - gentle.chargeAh, minutes: step.minutes - gentle.minutes },
];

function limitOf({ currents }: Making, isCharge: boolean, isGentle: boolean, isByWeakest: boolean): LimitedBy {
  if (isCharge) return isGentle ? 'gentle-start' : currents.charge.by;
  return isByWeakest ? 'weakest-group' : currents.discharge.by;
}

/** Of the whole as the main step ends, V. */
function endOf(request: Making, main: SheetStep): number {
  const { chemistry, state, goal, wanted } = request;
  const { fullV, family } = chemistries[chemistry];
  if (goal === 'storage' && family === 'lithium') return storageV(request);
  if (main.kind === 'discharge') return dischargeEnd(request, main);
  if (goal === 'rescue') return state.series * rescueEndV;
  return main.untilV ?? state.series * (wanted.cutoffPerGroupV ?? fullV);
}

/** No lower than this the whole is discharged, V. */
function dischargeEnd(request: Making, out: SheetStep): number {
  const { goal, state, chemistry } = request;
  if (goal === 'storage' && chemistries[chemistry].family === 'lithium') return storageV(request);
  return out.untilV ?? state.series * state.limits.floorV;
}

function balancingOf(request: Making, slowMin: number): NonNullable<ChargerSheet['balancing']> {
  const { state, curve, wanted } = request;
  const endV = wanted.cutoffPerGroupV ?? state.limits.endV;
  const settings = chargerFor(request, { endV, endFraction: quickEndRate });
  const quickMin = forecastCharge(state.groups, curve, settings, unknownSocOf(true)).minutes.value;
  return { quickMin: Math.min(quickMin, slowMin), slowMin };
}

/** Of several cycles all but the way to storage comes again. */
function minutesOf(steps: readonly SheetStep[], cycles: number | null): number {
  const sumOf = (some: readonly SheetStep[]): number => some.reduce((all, { minutes }) => all + minutes, 0);
  return sumOf(steps) + ((cycles ?? 1) - 1) * sumOf(steps.slice(0, cycleSteps));
}
/** Charge, rest, discharge, rest. */
const cycleSteps = 4;

const upToStep = (minutes: number): number => Math.ceil(minutes / timerStepMin - 1e-9) * timerStepMin;

/** Long enough for the longest step; a nickel charge never beyond its charge limit. */
function timerFor(moving: readonly Made[], capacityLimitAh: number, isNickel: boolean): number {
  const surely = moving.map(({ step, forecast }) =>
    Math.max(timerTimes * step.minutes, step.minutes + timerK * (forecast?.minutes.u ?? 0)),
  );
  const timerMin = Math.max(30, upToStep(Math.max(...surely)));
  const charge = moving.find(({ step }) => step.kind === 'charge')?.step;
  if (!isNickel || !charge) return timerMin;
  const mostMin = Math.floor(((capacityLimitAh / charge.currentA) * 60) / timerStepMin) * timerStepMin;
  return Math.min(timerMin, Math.max(mostMin, upToStep(charge.minutes)));
}

/** By a resistor of its own: the current follows the voltage, which hardly falls. */
const loadOf = (ohm: number, { chargeAh }: SheetStep, startV: number) => ({
  ohm,
  minutes: (chargeAh / (startV / ohm)) * 60,
  watts: startV ** 2 / ohm,
});

const lowestRule = (chemistry: Rechargeable): RuleKey | null => {
  if (chemistry === 'li-ion') return 'lowestCylindricalV';
  if (chemistry === 'lfp') return 'lowestIronPhosphateV';
  return chemistry === 'lipo' || chemistry === 'lihv' ? 'lowestPouchV' : null;
};

/** These end by the charge that is set, as does what is wanted so. */
const endByCharge: readonly SheetGoal[] = ['storage', 'discharge'];

/** The charge at which the charger is set to stop, Ah: what is moved, or beyond which something is wrong. */
function limitAh(request: Making, { step: main, isByCharge }: Made): number {
  const { state, goal, chemistry, wanted } = request;
  const { family } = chemistries[chemistry];
  const ah = leastAh(state);
  const least = (value: number): number => Number(Math.max(value, 0.001).toFixed(3));
  if (goal === 'rescue') return least(mostIn.rescue * main.chargeAh);
  if (wanted.untilChargeAh !== null || (isByCharge && endByCharge.includes(goal))) return least(main.chargeAh);
  if (family === 'nickel') return least(mostIn.nickel * nickelTakesAh(request));
  return least(mostIn[family === 'lead' ? 'lead' : 'lithium'] * ah);
}
