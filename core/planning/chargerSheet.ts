import { max, mean, min } from 'simple-statistics';
import { chemistries, currentAtRate } from '../chemistry/chemistries';
import { type HouseRules, lowestVoltageV, type RuleKey } from '../chemistry/houseRules';
import { type OpenCircuitCurve, openCircuitOf } from '../chemistry/openCircuit';
import { usualOhmAh } from '../packs/diagnosis/middles';
import { mostThroughPlugA, usualBalancing } from '../packs/remedies';
import { type Charger, chargePack, groupOf } from '../simulation/packCharge';
import { type Mistaken, mistakenFor, type Told } from './identify';

/** What a charger is to do with a pack. */
export const sheetGoals = [
  'charge',
  'balance',
  'storage',
  'discharge',
  'capacity',
  'cycle',
  'rescue',
  'run-down',
] as const;
export type SheetGoal = (typeof sheetGoals)[number];

export interface SheetPack extends Told {
  capacityAh: number;
  rescues: number;
}

/** What a charger can do, by its maker. */
export interface ChargerLimits {
  maxA: number;
  maxW: number;
  /** What it can burn while it discharges. */
  dischargeMaxW: number;
  /** Its currents are set in steps of this, A; nought of one that takes any. */
  stepA: number;
  /** Through its balance resistors, A; nought where it does not balance. */
  bleedA: number;
  /** Of one that charges through the balance connector, so much; left out or null: it charges at the main leads. */
  plugA?: number | null;
  /** What its modes are for: ends of lithium, V a cell, nickel, lead; left out or null: it is taken to have all. */
  modes?: readonly string[] | null;
}

/** What limits the current. */
export type CurrentLimit = 'rate' | 'amps' | 'watts' | 'plug' | 'rescued';

/** Why there is no sheet. */
export type SheetRefusal =
  | Mistaken
  | { code: 'below-floor'; perGroupV: number; floorV: number }
  | { code: 'not-below-floor'; floorV: number }
  | { code: 'only-lithium-is-rescued' }
  | { code: 'rescue-forbidden'; rescues: number; rescuesAllowed: number; rule: RuleKey }
  | { code: 'too-low-for-rescue'; perGroupV: number; rescueFloorV: number; rule: RuleKey }
  | { code: 'measure-first' }
  | { code: 'does-not-balance' }
  | { code: 'no-mode'; needs: string }
  | { code: 'one-group' }
  | { code: 'balanced-otherwise'; family: 'nickel' | 'lead' }
  | { code: 'cannot-discharge' }
  | { code: 'step-too-coarse'; stepA: number; rateC: number }
  | { code: 'cycling-harms' }
  | { code: 'run-down-elsewhere' };

/** One thing after the other. */
export interface SheetStep {
  kind: 'charge' | 'discharge' | 'rest';
  /** Nought of a rest. */
  currentA: number;
  /** Of the whole, V; null of a rest, and of what ends by the charge put in. */
  untilV: number | null;
  /** Moved by then, Ah. */
  chargeAh: number;
  minutes: number;
}

export interface ChargerSheet {
  goal: SheetGoal;
  /** The first whose settings are set; a discharge where nothing is charged before. */
  main: 'charge' | 'discharge';
  series: number;
  chargeA: number | null;
  dischargeA: number | null;
  /** What holds the current down, of the charge or else of the discharge. */
  limitedBy: CurrentLimit;
  rateRule: RuleKey | null;
  /** Of the whole at the end of the main step, V. */
  endV: number;
  dischargeEndV: number | null;
  dischargeRule: RuleKey | null;
  timerMin: number;
  capacityLimitAh: number;
  temperatureLimitC: number;
  restMin: number | null;
  cycles: number | null;
  /** The balance plug is in, and the charger evens the groups out. */
  isBalanced: boolean;
  /** Minutes of a quick and of a slow balancing; null where it does not balance. */
  balancing: { quickMin: number; slowMin: number } | null;
  steps: SheetStep[];
  expectedMin: number;
  attendedMin: number;
  /** What to see when it is right: as it starts, after a minute, at the end; of the whole, V. */
  seen: { startV: number | null; minuteV: number | null; endV: number; endA: number; movedAh: number };
  /** A discharge by a resistor of its own; null where none was told, or nothing is discharged. */
  load: { ohm: number; minutes: number; watts: number } | null;
}

/** About 120 °F: what gets so warm is taken off. Common practice. */
const temperatureLimitC = 49;
/** Between charge and discharge when cycling. Common practice. */
const cycleRestMin = 30;
/** The first full charge after a rescue at this rate. Common practice. */
const afterRescueC = 0.4;
/** A timer is set to so many times what is expected, in tens of minutes. Common practice: 120 for 80 to 90. */
const [timerTimes, timerStepMin] = [1.35, 10];
/** A nickel cell takes more than it gives: so many times its capacity, slowly and quickly. Common practice. */
const nickelIn = { slow: 1.6, quick: 1.15, quickAboveC: 0.15 };
/** A charge that goes in beyond this share of the capacity is a fault. From memory. */
const mostIn = { lithium: 1.2, lead: 1.2, nickel: 1.1 };
/** A charge ends at this share of the capacity an hour; a quick balancing ends twice as early. Common practice. */
const [endRate, quickEndRate] = [0.05, 0.1];
/** Nickel and lead-acid are discharged for a test at this rate at most. From memory (IEC 61951-2). */
const gentleTestC = 0.2;
/** Full cycles: of nickel-cadmium with memory, of a new or long stored nickel metal hydride. Common practice. */
const cyclesOf = { nicd: 5, nimh: 3 } as const;
/** Stored at: charge of nickel, and volts of what no house rule names. Common practice. */
const stored = { nickelSoc: 0.8, lihvV: 3.85, lfpSoc: 0.3 };
/** Up to so many in series are run flat with a lamp. Common practice. */
const mostRunDown = 4;
const rescueEndV = 3;
/** Lead-acid takes so much more than it gives, and is held at its end for so long. From memory. */
const [leadIn, leadHeldMin] = [1.1, 120];
/** What comes from use still holds the least that one should leave in it. Common practice. */
const usedSoc = 0.2;
/** A charge that takes longer is not looked at second by second, h. */
const longestH = 48;

/** What a sheet is asked for. */
export interface SheetAsked {
  pack: SheetPack;
  charger: ChargerLimits;
  goal: SheetGoal;
  rules: HouseRules;
  /** A separate load that may discharge it instead, Ω. */
  loadOhm: number | null;
}

/** A sheet, or why there is none. */
export type Sheeted = { sheet: ChargerSheet; refusal: null } | { sheet: null; refusal: SheetRefusal };

/**
 * Every setting of a charger for a pack and a goal: currents by the rates of the house, rounded to the charger's steps
 * and held down by its amperes and watts; ends, timer, limits; what to see meanwhile; how long it takes by the charging
 * model. Refused where the pack may be another than it is taken for, or the goal is not for it. Source: common
 * practice, but for what is marked.
 */
export function chargerSheet(asked: SheetAsked): Sheeted {
  const { pack, charger, goal, rules } = asked;
  const refusal = mistakenFor(pack) ?? refusalOf(pack, charger, goal, rules);
  if (refusal) return { sheet: null, refusal };
  const setting = settingOf(pack, charger, goal, rules);
  if ('code' in setting) return { sheet: null, refusal: setting };
  const sheet = sheetOf(asked, setting);
  const cannot = sheet.steps.some(({ kind, currentA }) => kind === 'discharge' && currentA <= 0);
  return cannot ? { sheet: null, refusal: { code: 'cannot-discharge' } } : { sheet, refusal: null };
}

const familyOf = ({ chemistry }: SheetPack) => chemistries[chemistry].family;

/** At rest, of a group in the mean, V; null where nobody measured. */
const perGroupV = ({ measuredV, groupsV, series }: SheetPack): number | null => {
  if (groupsV) return mean([...groupsV]);
  return measuredV === null ? null : measuredV / series;
};

/** By which mode it is charged: that with its end, or for its family. A pouch mode serves a cylinder of that end. */
export const modeOf = (chemistry: SheetPack['chemistry']): string => {
  const { family, fullV } = chemistries[chemistry];
  return family === 'lithium' ? fullV.toFixed(2) : family;
};

/** Nothing is charged on the way. */
const isEmptied = (goal: SheetGoal): boolean => goal === 'discharge' || goal === 'run-down';

/** Why the goal is not for this pack, or not for this charger. */
function refusalOf(pack: SheetPack, charger: ChargerLimits, goal: SheetGoal, rules: HouseRules): SheetRefusal | null {
  const family = familyOf(pack);
  const floorV = lowestVoltageV(pack.chemistry, rules);
  const lowest = pack.groupsV ? min([...pack.groupsV]) : perGroupV(pack);
  const needs = modeOf(pack.chemistry);
  if (!isEmptied(goal) && charger.modes && !charger.modes.includes(needs)) return { code: 'no-mode', needs };
  if (goal === 'rescue') {
    if (family !== 'lithium') return { code: 'only-lithium-is-rescued' };
    if (lowest === null) return { code: 'measure-first' };
    if (lowest >= floorV) return { code: 'not-below-floor', floorV };
    const { rescuesAllowed, rescueFloorV } = rules;
    if (pack.rescues >= rescuesAllowed)
      return { code: 'rescue-forbidden', rescues: pack.rescues, rescuesAllowed, rule: 'rescuesAllowed' };
    return lowest < rescueFloorV
      ? { code: 'too-low-for-rescue', perGroupV: lowest, rescueFloorV, rule: 'rescueFloorV' }
      : null;
  }
  if (family === 'lithium' && lowest !== null && lowest < floorV && goal !== 'run-down')
    return { code: 'below-floor', perGroupV: lowest, floorV };
  if (goal === 'balance') {
    if (pack.series < 2) return { code: 'one-group' };
    if (family !== 'lithium') return { code: 'balanced-otherwise', family: family === 'nickel' ? 'nickel' : 'lead' };
    if (charger.bleedA <= 0) return { code: 'does-not-balance' };
  }
  if (goal === 'cycle' && family === 'lead') return { code: 'cycling-harms' };
  return goal === 'run-down' && (family === 'lead' || (family === 'lithium' && pack.series > mostRunDown))
    ? { code: 'run-down-elsewhere' }
    : null;
}

/** Currents as they are set. */
interface Setting {
  chargeA: number;
  dischargeA: number;
  limitedBy: CurrentLimit;
  dischargeLimitedBy: CurrentLimit;
  rateRule: RuleKey | null;
}

const chargeRules = {
  'li-ion': 'chargeCylindricalC',
  lfp: 'chargeCylindricalC',
  lipo: 'chargePouchC',
  lihv: 'chargePouchC',
  nimh: 'chargeNickelC',
  nicd: 'chargeNickelC',
  sla: 'chargeLeadC',
} as const satisfies Record<SheetPack['chemistry'], RuleKey>;

function settingOf(
  pack: SheetPack,
  charger: ChargerLimits,
  goal: SheetGoal,
  rules: HouseRules,
): Setting | SheetRefusal {
  const { chemistry, series, capacityAh } = pack;
  const { fullV } = chemistries[chemistry];
  const rateRule: RuleKey = goal === 'rescue' ? 'rescueRateC' : chargeRules[chemistry];
  const rateC = rules[rateRule];
  const isAfterRescue = pack.rescues > 0 && goal !== 'rescue';
  const isThroughPlug = charger.plugA != null && series > 1 && familyOf(pack) === 'lithium';
  const charge = currentOf(charger.stepA, capacityAh, rateC, [
    ['amps', charger.maxA],
    ['watts', charger.maxW / (series * fullV)],
    ...(isThroughPlug ? [['plug', Math.min(charger.plugA ?? 0, mostThroughPlugA)] as const] : []),
    ...(isAfterRescue ? [['rescued', afterRescueC * capacityAh] as const] : []),
  ]);
  const testC = familyOf(pack) === 'lithium' ? rules.testDischargeC : Math.min(rules.testDischargeC, gentleTestC);
  const discharge = currentOf(charger.stepA, capacityAh, goal === 'run-down' ? gentleTestC : testC, [
    ['amps', charger.maxA],
    ['watts', charger.dischargeMaxW / (series * fullV)],
  ]);
  if (charge.currentA <= 0) return { code: 'step-too-coarse', stepA: charger.stepA, rateC };
  return {
    chargeA: charge.currentA,
    dischargeA: discharge.currentA,
    limitedBy: charge.by,
    dischargeLimitedBy: discharge.by,
    rateRule,
  };
}

/** The least of what the rate asks for and what holds it down; rounded to the step, but never above a limit. */
function currentOf(
  stepA: number,
  capacityAh: number,
  rateC: number,
  limits: readonly (readonly [CurrentLimit, number])[],
): { currentA: number; by: CurrentLimit } {
  const [by, leastA] = limits.reduce((least, one) => (one[1] < least[1] ? one : least));
  const byRateA = currentAtRate(rateC, capacityAh, stepA);
  if (byRateA <= leastA + 1e-9) return { currentA: tidy(byRateA), by: 'rate' };
  return { currentA: tidy(stepA > 0 ? Math.floor(leastA / stepA + 1e-9) * stepA : leastA), by };
}

const tidy = (currentA: number): number => Number(currentA.toFixed(6));

/** Where a pack stands and where it is to go. */
interface Start {
  curve: OpenCircuitCurve;
  /** Of each group at the start. */
  socs: number[];
  /** In the mean. */
  soc: number;
  emptySoc: number;
  storedSoc: number;
}

function sheetOf({ pack, charger, goal, rules, loadOhm }: SheetAsked, setting: Setting): ChargerSheet {
  const { chemistry, series, capacityAh } = pack;
  const { chargeA, dischargeA } = setting;
  const family = familyOf(pack);
  const start = startOf(pack, goal, rules);
  const spreadV = pack.groupsV ? max([...pack.groupsV]) - min([...pack.groupsV]) : 0;
  const canBalance = charger.bleedA > 0 && family === 'lithium' && series > 1;
  const wantsBalance = goal === 'balance' || rules.balanceAlways > 0 || spreadV > rules.spreadGoodV;
  const isBalanced = canBalance && wantsBalance && goal !== 'rescue';
  const steps = stepsOf(pack, goal, rules, setting, start, (socs) =>
    chargeMinutes(pack, charger, chargeA, socs, isBalanced, endRate),
  );
  const main = steps.find(({ kind }) => kind !== 'rest') ?? steps[0];
  const isCharge = main?.kind === 'charge';
  const out = steps.find(({ kind }) => kind === 'discharge');
  const attended = steps.filter(({ kind }) => kind !== 'rest');
  const startV = perGroupV(pack);
  const cycles = cyclesFor(pack, goal);
  const minuteOhm = (1.2 * usualOhmAh) / capacityAh;
  const currentA = main?.currentA ?? 0;
  const endV = tidy(main?.untilV ?? series * chemistries[chemistry].fullV);
  const longest = Math.max(0, ...attended.map(({ minutes }) => minutes));
  return {
    goal,
    main: isCharge ? 'charge' : 'discharge',
    series,
    chargeA: attended.some(({ kind }) => kind === 'charge') ? chargeA : null,
    dischargeA: out ? dischargeA : null,
    limitedBy: isCharge ? setting.limitedBy : setting.dischargeLimitedBy,
    rateRule: isCharge ? setting.rateRule : 'testDischargeC',
    endV,
    dischargeEndV: out?.untilV ?? null,
    dischargeRule: goal === 'storage' && family === 'lithium' ? 'storageLithiumV' : lowestRule(pack),
    timerMin: goal === 'rescue' ? rules.rescueLimitH * 60 : timerFor(longest),
    capacityLimitAh: Number((limitShare(pack, setting) * capacityAh).toFixed(3)),
    temperatureLimitC,
    restMin: steps.some(({ kind }) => kind === 'rest') ? cycleRestMin : null,
    cycles,
    isBalanced,
    balancing:
      isBalanced && isCharge
        ? { quickMin: chargeMinutes(pack, charger, chargeA, start.socs, true, quickEndRate), slowMin: main.minutes }
        : null,
    steps,
    expectedMin: Math.round(minutesOf(steps, cycles)),
    attendedMin: Math.round(
      minutesOf(
        steps.map((step) => (step.kind === 'rest' ? { ...step, minutes: 0 } : step)),
        cycles,
      ),
    ),
    seen: {
      startV: startV === null ? null : startV * series,
      minuteV: startV === null ? null : (startV + (isCharge ? 1 : -1) * currentA * minuteOhm) * series,
      endV,
      endA: isCharge && family !== 'nickel' && goal !== 'rescue' ? Math.min(endRate * capacityAh, currentA) : currentA,
      movedAh: main?.chargeAh ?? 0,
    },
    load: loadOhm !== null && out ? loadOf(loadOhm, out, series * start.curve.voltageAt(start.soc)) : null,
  };
}

/** Of several cycles all but the way to storage comes again. */
function minutesOf(steps: readonly SheetStep[], cycles: number | null): number {
  const sumOf = (some: readonly SheetStep[]): number => some.reduce((all, { minutes }) => all + minutes, 0);
  return sumOf(steps) + ((cycles ?? 1) - 1) * sumOf(steps.slice(0, cycleSteps));
}
/** Charge, rest, discharge, rest. */
const cycleSteps = 4;

const timerFor = (minutes: number): number =>
  Math.max(30, Math.ceil((timerTimes * minutes) / timerStepMin - 1e-9) * timerStepMin);

/** By a resistor of its own: the current follows the voltage, which hardly falls. */
const loadOf = (ohm: number, { chargeAh }: SheetStep, startV: number) => ({
  ohm,
  minutes: (chargeAh / (startV / ohm)) * 60,
  watts: startV ** 2 / ohm,
});

const lowestRule = ({ chemistry }: SheetPack): RuleKey | null => {
  if (chemistry === 'li-ion') return 'lowestCylindricalV';
  if (chemistry === 'lfp') return 'lowestIronPhosphateV';
  return chemistry === 'lipo' || chemistry === 'lihv' ? 'lowestPouchV' : null;
};

function cyclesFor({ chemistry }: SheetPack, goal: SheetGoal): number | null {
  if (goal !== 'cycle') return null;
  return chemistry === 'nicd' || chemistry === 'nimh' ? cyclesOf[chemistry] : 1;
}

/** So much of its capacity goes into an empty nickel pack. */
const nickelShare = ({ capacityAh }: SheetPack, { chargeA }: Setting): number =>
  chargeA > nickelIn.quickAboveC * capacityAh ? nickelIn.quick : nickelIn.slow;

function limitShare(pack: SheetPack, setting: Setting): number {
  const family = familyOf(pack);
  if (family === 'nickel') return nickelShare(pack, setting) * mostIn.nickel;
  return mostIn[family === 'lead' ? 'lead' : 'lithium'];
}

/** Where it stands by its voltages; not measured, a charge begins as it comes from use, anything else with it full. */
function startOf(pack: SheetPack, goal: SheetGoal, rules: HouseRules): Start {
  const { chemistry, series, groupsV } = pack;
  const curve = openCircuitOf(chemistry);
  const socAt = (value: number): number => curve.socAt({ value, u: 0 }).value;
  const restV = perGroupV(pack);
  // The voltage of a nickel group tells nothing of its charge.
  const isTold = restV !== null && familyOf(pack) !== 'nickel';
  const unmeasured = goal === 'charge' || goal === 'balance' || goal === 'capacity' || goal === 'cycle' ? usedSoc : 1;
  const soc = isTold ? socAt(restV) : unmeasured;
  return {
    curve,
    soc,
    socs: isTold && groupsV ? groupsV.map(socAt) : alike(series, soc),
    emptySoc: Math.max(0, socAt(lowestVoltageV(chemistry, rules)) - 0.001),
    storedSoc: storedSocOf(pack, rules, socAt),
  };
}

/** All groups stand the same. */
const alike = (series: number, soc: number): number[] => new Array<number>(series).fill(soc);
const meanMissing = (socs: readonly number[]): number => mean(socs.map((soc) => 1 - soc));

/** How full something is stored. */
export function storedSocOf(
  { chemistry }: Pick<SheetPack, 'chemistry'>,
  rules: HouseRules,
  socAt: (v: number) => number,
): number {
  if (chemistry === 'lfp') return stored.lfpSoc;
  if (chemistry === 'lihv') return socAt(stored.lihvV);
  if (chemistry === 'nimh' || chemistry === 'nicd') return stored.nickelSoc;
  return chemistry === 'sla' ? 1 : socAt(rules.storageLithiumV);
}

/** Minutes until a charger is done with groups that stand so. */
function chargeMinutes(
  { chemistry, capacityAh }: SheetPack,
  { bleedA }: ChargerLimits,
  currentA: number,
  socs: readonly number[],
  balances: boolean,
  endShare: number,
): number {
  const usual = usualBalancing(chemistry);
  const curve = openCircuitOf(chemistry);
  const missing = meanMissing(socs);
  if (chemistries[chemistry].family === 'lead')
    return missing <= 0 ? 0 : ((leadIn * missing * capacityAh) / currentA) * 60 + leadHeldMin;
  const bulkH = (missing * capacityAh) / currentA;
  if (bulkH > longestH) return bulkH * 60;
  const charger: Charger = {
    currentA,
    endV: chemistries[chemistry].fullV,
    bleed: balances ? { currentA: bleedA, fromV: usual.bleedFromV, beyondV: 0.005 } : null,
    overshootV: usual.overshootV,
    endCurrentA: Math.min(endShare * capacityAh, currentA / 2),
  };
  // Groups that stand alike are charged alike: one stands for all.
  const apart = new Set(socs).size === 1 ? socs.slice(0, 1) : socs;
  const groups = apart.map((soc) => groupOf({ curve, capacityAh, soc }, usualOhmAh / capacityAh));
  const limitS = 2 * longestH * 3600;
  return (chargePack(groups, charger, limitS).endsAtS ?? limitS) / 60;
}

/** What happens in its order. */
function stepsOf(
  pack: SheetPack,
  goal: SheetGoal,
  rules: HouseRules,
  setting: Setting,
  start: Start,
  toFullMin: (socs: readonly number[]) => number,
): SheetStep[] {
  const { series, capacityAh, chemistry } = pack;
  const { fullV } = chemistries[chemistry];
  const isNickel = familyOf(pack) === 'nickel';
  const toFull = (socs: readonly number[]): SheetStep => {
    const share = isNickel ? nickelShare(pack, setting) : Math.max(0, meanMissing(socs));
    const chargeAh = share * capacityAh;
    return {
      kind: 'charge',
      currentA: setting.chargeA,
      untilV: isNickel ? null : series * fullV,
      chargeAh,
      minutes: isNickel ? (chargeAh / setting.chargeA) * 60 : toFullMin(socs),
    };
  };
  const moved = (kind: 'charge' | 'discharge', share: number, untilV: number): SheetStep => {
    const currentA = kind === 'charge' ? setting.chargeA : setting.dischargeA;
    const chargeAh = Math.max(0, share) * capacityAh;
    return { kind, currentA, untilV, chargeAh, minutes: (chargeAh / currentA) * 60 };
  };
  const out = (from: number, to: number, untilV: number): SheetStep => moved('discharge', from - to, untilV);
  const into = (from: number, to: number, untilV: number): SheetStep => moved('charge', to - from, untilV);
  const rest: SheetStep = { kind: 'rest', currentA: 0, untilV: null, chargeAh: 0, minutes: cycleRestMin };
  const lowV = series * lowestVoltageV(chemistry, rules);
  const storedV = series * start.curve.voltageAt(start.storedSoc);
  const toStorage = (from: number): SheetStep[] => {
    if (familyOf(pack) === 'lead') return [toFull(alike(series, from))];
    if (isNickel)
      return from < stored.nickelSoc
        ? [toFull(alike(series, start.emptySoc)), rest, out(1, start.storedSoc, lowV)]
        : [out(from, start.storedSoc, lowV)];
    if (from > start.storedSoc) return [out(from, start.storedSoc, storedV)];
    return [into(from, start.storedSoc, storedV)];
  };
  switch (goal) {
    case 'charge':
    case 'balance':
      return [toFull(start.socs)];
    case 'storage':
      return toStorage(start.soc);
    case 'discharge':
      return [out(start.soc, start.emptySoc, lowV)];
    case 'run-down':
      return [out(start.soc, 0, series * chemistries[chemistry].lowestV)];
    case 'capacity':
    case 'cycle':
      return [toFull(start.socs), rest, out(1, start.emptySoc, lowV), rest, ...toStorage(start.emptySoc)];
    case 'rescue':
      return [into(0, rescueShare, series * rescueEndV)];
  }
}

/** So much of its capacity brings a group that was run down to three volts. From memory. */
const rescueShare = 0.05;
