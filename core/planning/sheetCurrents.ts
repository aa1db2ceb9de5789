import { chemistries, currentAtRate } from '../chemistry/chemistries';
import type { RuleKey } from '../chemistry/houseRules';
import type { Rechargeable } from '../chemistry/openCircuit';
import { mostThroughPlugA } from '../packs/balancing';
import { gentleStart, isNearlyEmpty } from '../state/forecast';
import { leastAh, type SubjectState } from '../state/subjectState';
import type { LimitedBy, SheetInput, SheetRefusal } from './sheet';
import { canBalance } from './sheetChecks';

/** When cycling, at this rate at most. Common practice. */
const cycleC = 0.5;
/** The first full charge after a rescue at this rate. Common practice. */
export const afterRescueC = 0.4;
/** Nickel and lead-acid are discharged for a test at this rate at most. From memory (IEC 61951-2). */
const gentleTestC = 0.2;
/** A current a little above the nominal rate may be set, where the step asks for it; a fraction. */
const nominalWithin = 0.05;
/** A group that holds less than the others by more is the weakest, a fraction. */
const weakBelow = 0.03;

/** Currents as they are set. */
export interface Currents {
  charge: SetCurrent;
  discharge: SetCurrent;
  rateRule: RuleKey | null;
  /** Of lithium while it is nearly empty; null where the usual current is no higher. */
  gentle: { currentA: number; untilV: number } | null;
}

interface SetCurrent {
  currentA: number;
  by: LimitedBy;
}

interface Limit {
  by: LimitedBy;
  mostA: number;
  /** A rate that is nominal: a step that lies a little above it may be set. */
  isNominal?: boolean;
}

/**
 * Brought up to storage at this rate where the charger sees the whole alone: it ends by charge, and no voltage holds a
 * group back whose resistance is high. Own rule.
 */
const unseenStorageC = 0.5;

const chargeRules = {
  'li-ion': 'chargeCylindricalC',
  lfp: 'chargeCylindricalC',
  lipo: 'chargePouchC',
  lihv: 'chargePouchC',
  nimh: 'chargeNickelC',
  nicd: 'chargeNickelC',
  sla: 'chargeLeadC',
} as const satisfies Record<Rechargeable, RuleKey>;

/** Currents within every limit, in the charger's steps; or why there is none. */
export function currentsOf(request: SheetInput): Currents | SheetRefusal {
  const { state, charger, goal, rules, wanted } = request;
  const chemistry = state.chemistry as Rechargeable;
  const { family } = chemistries[chemistry];
  const ah = leastAh(state);
  const isNickelQuick = family === 'nickel' && (wanted.currentA ?? 0) > rules.chargeNickelC * ah;
  const nominalRule: RuleKey = goal === 'rescue' ? 'rescueRateC' : chargeRules[chemistry];
  const rateRule = isNickelQuick ? 'quickNickelC' : nominalRule;
  const isNominal = goal !== 'rescue' && !isNickelQuick;
  const charge = currentOf(charger.stepA, chargeLimits(request, { rateA: rules[rateRule] * ah, isNominal }));
  const isCharged = goal !== 'discharge' && goal !== 'run-down';
  if (charge.currentA <= 0 && isCharged)
    return { code: 'step-too-coarse', stepA: charger.stepA, mostA: charge.mostA, by: charge.by };
  const start = isCharged && goal !== 'rescue' ? gentleStart(chemistry, rules) : null;
  const first = start && currentOf(charger.stepA, [{ by: 'gentle-start', mostA: start.rateC * ah }]);
  if (first && first.currentA <= 0 && isNearlyEmpty(state.groups, start?.untilV ?? 0))
    return { code: 'step-too-coarse', stepA: charger.stepA, mostA: first.mostA, by: 'gentle-start' };
  const isSlower = first !== null && first.currentA < charge.currentA;
  return {
    charge,
    discharge: currentOf(charger.stepA, dischargeLimits(request)),
    rateRule,
    gentle: isSlower ? { currentA: first.currentA, untilV: start?.untilV ?? NaN } : null,
  };
}

/** The house's rate, by the weakest group where one holds less. */
function houseOf({ groups }: SubjectState): LimitedBy {
  const all = groups.map(({ capacity }) => capacity.value);
  return Math.min(...all) < (1 - weakBelow) * Math.max(...all) ? 'weakest-group' : 'house';
}

const sharedLimits = ({ charger, wanted }: SheetInput): Limit[] => [
  { by: 'charger', mostA: charger.maxA },
  ...(wanted.currentA === null ? [] : [{ by: 'wanted' as const, mostA: wanted.currentA }]),
];

function chargeLimits(request: SheetInput, rate: { rateA: number; isNominal: boolean }): Limit[] {
  const { state, charger, goal } = request;
  const { chemistry, series, rescues, limits } = state;
  const { family, fullV } = chemistries[chemistry];
  const ah = leastAh(state);
  const by = houseOf(state);
  const isThroughPlug = charger.plugA != null && series > 1 && family === 'lithium';
  return [
    { by, mostA: rate.rateA, isNominal: rate.isNominal },
    ...sharedLimits(request),
    { by: 'power', mostA: charger.maxW / (series * fullV) },
    ...(limits.chargeA === null ? [] : [{ by: 'label' as const, mostA: limits.chargeA }]),
    ...(isThroughPlug ? [{ by: 'plug' as const, mostA: Math.min(charger.plugA ?? 0, mostThroughPlugA) }] : []),
    ...(rescues > 0 && goal !== 'rescue' ? [{ by: 'rescued' as const, mostA: afterRescueC * ah }] : []),
    ...(goal === 'cycle' && family === 'lithium' ? [{ by, mostA: cycleC * ah }] : []),
    ...(goal === 'storage' && family === 'lithium' && series > 1 && !canBalance(charger, state)
      ? [{ by, mostA: unseenStorageC * ah }]
      : []),
  ];
}

function dischargeLimits(request: SheetInput): Limit[] {
  const { state, charger, goal, rules } = request;
  const { chemistry, series, limits } = state;
  const { family, fullV } = chemistries[chemistry];
  const testC = family === 'lithium' ? rules.testDischargeC : Math.min(rules.testDischargeC, gentleTestC);
  return [
    { by: houseOf(state), mostA: (goal === 'run-down' ? gentleTestC : testC) * leastAh(state), isNominal: true },
    ...sharedLimits(request),
    { by: 'power', mostA: charger.dischargeMaxW / (series * fullV) },
    ...(limits.dischargeA === null ? [] : [{ by: 'label' as const, mostA: limits.dischargeA }]),
  ];
}

/** The least of the limits, rounded down to the charger's step; a nominal rate may be rounded to the nearest. */
function currentOf(stepA: number, limits: readonly Limit[]): SetCurrent & { mostA: number } {
  const least = limits.reduce((one, other) => (other.mostA < one.mostA ? other : one));
  const hardA = Math.min(Infinity, ...limits.filter(({ isNominal }) => !isNominal).map(({ mostA }) => mostA));
  const downA = stepA > 0 ? Math.floor(least.mostA / stepA + 1e-9) * stepA : least.mostA;
  const nearestA = currentAtRate(1, least.mostA, stepA);
  const isNear = nearestA <= Math.min(least.mostA * (1 + nominalWithin), hardA) + 1e-9;
  const currentA = least.isNominal && isNear ? nearestA : downA;
  return { currentA: tidy(currentA), by: least.by, mostA: least.mostA };
}

/** Without the dust of binary figures. */
export const tidy = (value: number): number => Number(value.toFixed(6));
