import type { SelfDischargeWhy } from '../selfDischarge/drift';
import type { IntakeReason } from './intake';
import { chemistries, type Chemistry } from '../chemistry/chemistries';
import type { HouseRules, RuleKey } from '../chemistry/houseRules';
import { propagate, type Quantity } from '../quantity/quantity';

export const duties = ['surge', 'steady', 'light', 'retire'] as const;

/** As earlier versions named a duty, in addresses, filters and programs. */
export const dutyNow = (word: unknown): unknown => (word === 'trickle' ? 'light' : word);
export type Duty = (typeof duties)[number];

/** What a cell is graded by; null where it was not measured yet. */
export interface DutyFacts {
  chemistry: Chemistry;
  /** As-new capacity: measured when new if there is such a record, rated otherwise. */
  asNewCapacityAh: number;
  asNewIs: 'measured' | 'rated';
  capacityAh: Quantity | null;
  /** Its discharge ended above the cut-off: capacity at least this. */
  capacityIsAtLeast: boolean;
  /** Ten-second resistance. */
  resistanceOhm: Quantity | null;
  /** Rescues from below its floor so far. */
  rescues: number;
  /** It was rescued, and no self-discharge test since says that it holds. */
  holdAsked: boolean;
  /** Any of them retires the cell. */
  safety: readonly SafetyReason[];
}

/** What rules out any use, whatever the figures say. */
export type SafetyReason =
  IntakeReason | { code: 'rescued'; rescues: number } | { code: 'leaks'; why: SelfDischargeWhy };

export type Met = 'met' | 'missed' | 'uncertain';

export interface LimitCheck {
  duty: Exclude<Duty, 'retire'>;
  what: 'health' | 'rate';
  measured: Quantity;
  limit: number;
  rule: RuleKey;
  met: Met;
}

export interface DutyVerdict {
  /** Null while a measurement is missing that decides. */
  duty: Duty | null;
  /** The duty and the health are lower bounds. */
  isAtLeast: boolean;
  health: Quantity | null;
  /** Rate at the house's sag, 1/h; where the capacity is a lower bound, as if it held its capacity when new. */
  rateC: Quantity | null;
  checks: LimitCheck[];
  missing: ('capacity' | 'resistance')[];
  /** Set where a class cannot be distinguished from the next better one: the measurement that would settle it. */
  measureAgain: { duty: Duty; what: 'capacity' | 'resistance' } | null;
  because: DutyReason;
}

type NotMet = Exclude<Met, 'met'>;
/** What keeps a cell from the next better duty. */
interface Short {
  duty: Duty;
  limit: number;
  met: NotMet;
}
/** A share of the capacity when new, perhaps a lower bound. */
interface Held {
  health: number;
  isAtLeast: boolean;
}

/** Why a cell has its duty, with the facts; its sentence is in words/duty.ts. */
export type DutyReason =
  | { code: 'unsafe'; because: SafetyReason }
  | { code: 'too-weak'; limit: number; asNewIs: DutyFacts['asNewIs'] }
  | { code: 'not-measured'; missing: DutyVerdict['missing'] }
  | { code: 'at-least'; health: number; asNewIs: DutyFacts['asNewIs'] }
  | { code: 'meets-all' }
  /** What lay below its floor often leaks. */
  | { code: 'hold-first' }
  /** It would do that duty, had it not been rescued. */
  | { code: 'rescued-once'; duty: Duty }
  /** Of a pack: a group has this many times the median of its resistances. */
  | { code: 'group-failing'; position: number; times: number }
  /** Of a pack: a group that did not hold its voltage. */
  | { code: 'group-leaks'; position: number }
  | ({ code: 'health' } & Short & Held)
  | ({ code: 'rate'; rateC: number } & Short)
  | ({ code: 'rate-though-healthy'; rateC: number } & Short & Held);

const ladder = [
  { duty: 'surge', health: 'surgeHealth', rate: 'surgeCRate' },
  { duty: 'steady', health: 'steadyHealth', rate: 'steadyCRate' },
  { duty: 'light', health: 'lightHealth', rate: 'lightCRate' },
] as const satisfies { duty: Duty; health: RuleKey; rate: RuleKey }[];

/**
 * Rate at which a cell sags by a share of its nominal voltage: c = share · nominal / resistance / capacity, 1/h.
 * Source: common practice; the share is a house rule (5 %).
 */
export function rateAtSag(nominalV: number, sagShare: number, resistanceOhm: Quantity, capacityAh: Quantity): Quantity {
  const { value, u } = propagate(({ r, q }) => (sagShare * nominalV) / r / q, { r: resistanceOhm, q: capacityAh });
  return { value, u };
}

/** A limit is met when the value lies above it by k standard uncertainties, missed when below by as many. */
export function guarded({ value, u }: Quantity, limit: number, k: number): Met {
  if (value - k * u >= limit) return 'met';
  return value + k * u < limit ? 'missed' : 'uncertain';
}

/** A lower bound meets a limit or leaves it open; it never misses one. */
const guardedBelow = (bound: Quantity, limit: number, k: number): Met =>
  guarded(bound, limit, k) === 'met' ? 'met' : 'uncertain';

/**
 * The duty a cell can do: the best class whose limits of health and rate are both met beyond the guard band. What
 * cannot be distinguished from a limit counts as not met and asks for a better measurement. A capacity that is a lower
 * bound may show that a cell is at least of a duty; it never retires one. Safety findings override all numbers.
 */
export function gradeDuty(facts: DutyFacts, rules: HouseRules): DutyVerdict {
  const { capacityAh, resistanceOhm, asNewCapacityAh } = facts;
  const health = capacityAh && { value: capacityAh.value / asNewCapacityAh, u: capacityAh.u / asNewCapacityAh };
  const isAtLeast = capacityAh !== null && facts.capacityIsAtLeast;
  const rateAt = (ah: Quantity): Quantity | null =>
    resistanceOhm && rateAtSag(chemistries[facts.chemistry].nominalV, rules.sagShare, resistanceOhm, ah);
  const rateC =
    capacityAh && rateAt(isAtLeast ? { value: Math.max(asNewCapacityAh, capacityAh.value), u: 0 } : capacityAh);
  const checks = checksOf({ health, rateC, isAtLeast, mostRateC: isAtLeast ? rateAt(capacityAh) : null }, rules);
  const missing: DutyVerdict['missing'] = [];
  if (!capacityAh) missing.push('capacity');
  if (!resistanceOhm) missing.push('resistance');
  const common = { health, isAtLeast, rateC, checks, missing };

  const [finding = rescuedOut(facts)] = facts.safety;
  if (finding !== undefined)
    return { ...common, duty: 'retire', measureAgain: null, because: { code: 'unsafe', because: finding } };
  const tooWeak = checks.find((check) => check.duty === 'light' && check.what === 'health' && check.met === 'missed');
  if (tooWeak)
    return {
      ...common,
      duty: 'retire',
      measureAgain: null,
      because: { code: 'too-weak', limit: tooWeak.limit, asNewIs: facts.asNewIs },
    };
  if (missing.length > 0)
    return { ...common, duty: null, measureAgain: null, because: { code: 'not-measured', missing } };
  if (facts.holdAsked) return { ...common, duty: null, measureAgain: null, because: { code: 'hold-first' } };

  const metAll = (duty: Duty) => checks.filter((check) => check.duty === duty).every((check) => check.met === 'met');
  const reached = ladder.find(({ duty }) => metAll(duty))?.duty ?? 'retire';
  if (isAtLeast && reached === 'retire' && !checks.some((check) => check.duty === 'light' && check.met === 'missed')) {
    return {
      ...common,
      duty: null,
      measureAgain: null,
      because: { code: 'at-least', health: health?.value ?? 0, asNewIs: facts.asNewIs },
    };
  }
  const lower = duties[duties.indexOf(reached) + 1];
  if (facts.rescues > 0 && reached !== 'light' && reached !== 'retire' && lower)
    return { ...common, duty: lower, measureAgain: null, because: { code: 'rescued-once', duty: reached } };
  return {
    ...common,
    duty: reached,
    measureAgain: unsettled(checks, reached, facts),
    because: becauseOf(checks, reached, facts),
  };
}

/** One rescue lowers the duty, two end it. Common practice. */
const rescuedOut = ({ rescues }: DutyFacts): SafetyReason | undefined =>
  rescues > 1 ? { code: 'rescued', rescues } : undefined;

/**
 * @param mostRateC the rate at a capacity that is a lower bound: no larger capacity gives more; null where it is none
 */
function checksOf(
  {
    health,
    rateC,
    isAtLeast,
    mostRateC,
  }: { health: Quantity | null; rateC: Quantity | null; isAtLeast: boolean; mostRateC: Quantity | null },
  rules: HouseRules,
): LimitCheck[] {
  const k = rules.guardBand;
  const ofRate = (measured: Quantity, limit: number): Met => {
    if (!mostRateC) return guarded(measured, limit, k);
    return guarded(mostRateC, limit, k) === 'missed' ? 'missed' : guardedBelow(measured, limit, k);
  };
  return ladder.flatMap((step) => {
    const check = (
      what: LimitCheck['what'],
      measured: Quantity | null,
      rule: RuleKey,
      metOf: (measured: Quantity, limit: number) => Met,
    ): LimitCheck[] =>
      measured
        ? [{ duty: step.duty, what, measured, limit: rules[rule], rule, met: metOf(measured, rules[rule]) }]
        : [];
    const ofHealth = (measured: Quantity, limit: number): Met =>
      isAtLeast ? guardedBelow(measured, limit, k) : guarded(measured, limit, k);
    return [...check('health', health, step.health, ofHealth), ...check('rate', rateC, step.rate, ofRate)];
  });
}

/** The next better class, if it was kept from the cell by uncertainty alone. */
function unsettled(checks: readonly LimitCheck[], reached: Duty, facts: DutyFacts): DutyVerdict['measureAgain'] {
  const better = duties[duties.indexOf(reached) - 1];
  const open = checks.filter((check) => check.duty === better && check.met !== 'met');
  if (better === undefined || open.length === 0 || open.some((check) => check.met === 'missed')) return null;
  const healthOpen = open.some((check) => check.what === 'health');
  const relative = (q: Quantity | null) => (q ? q.u / q.value : 0);
  return {
    duty: better,
    what: healthOpen || relative(facts.capacityAh) > relative(facts.resistanceOhm) ? 'capacity' : 'resistance',
  };
}

function becauseOf(checks: readonly LimitCheck[], reached: Duty, facts: DutyFacts): DutyReason {
  const better = duties[duties.indexOf(reached) - 1];
  const stop = checks.find((check) => check.duty === better && check.met !== 'met');
  if (!stop || stop.met === 'met') return { code: 'meets-all' };
  const { duty, limit, met, measured } = stop;
  const isAtLeast = facts.capacityIsAtLeast;
  if (stop.what === 'health') return { code: 'health', health: measured.value, isAtLeast, limit, duty, met };
  const health = checks.find((check) => check.duty === better && check.what === 'health' && check.met === 'met');
  return health
    ? { code: 'rate-though-healthy', health: health.measured.value, isAtLeast, rateC: measured.value, limit, duty, met }
    : { code: 'rate', rateC: measured.value, limit, duty, met };
}
