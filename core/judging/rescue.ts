import { max, median } from 'simple-statistics';
import { type Chemistry, chemistries } from '../chemistry/chemistries';
import type { HouseRules, RuleKey } from '../chemistry/houseRules';
import type { InspectionFinding } from '../grading/intake';
import { handOverV } from './handOver';
import { leastAh, type SubjectState } from '../state/subjectState';

/** What takes the current of a rescue off at once. */
export const rescueStops = ['warm', 'lag', 'ahead', 'missed', 'too-long'] as const;
export type RescueStop = (typeof rescueStops)[number];
/** Why the current was taken off, put on again, or a rescue ended. */
export type RescueWhy = RescueStop | 'by-hand' | 'goes-on' | 'reached' | 'given-up';

/** Every group at one moment of a rescue. */
export interface RescueReading {
  entry: string;
  takenAt: Date;
  /** From the negative terminal. */
  voltagesV: number[];
  step: number;
  skinC: number | null;
  /** To the hand. */
  isWarm: boolean;
}

export interface RescueAct {
  at: Date;
  act: 'off' | 'on' | 'end';
  why: RescueWhy;
}

/** The house rules that one rescue may have otherwise. */
export const rescueRules = [
  'rescueRateC',
  'rescueReadMin',
  'rescueLimitH',
  'rescueApartV',
  'rescueWarmerK',
  'rescueFloorV',
  'rescuesAllowed',
] as const satisfies readonly RuleKey[];
export type RescueRule = (typeof rescueRules)[number];

/** Limits of one rescue alone, and why. */
export interface OwnLimits {
  limits: Partial<Record<RescueRule, number>>;
  reason: string;
}

/** The house rules with the limits of one rescue in their place. */
export const withOwnLimits = (rules: HouseRules, own: OwnLimits | null): HouseRules =>
  own ? { ...rules, ...own.limits } : rules;

/** A rescue as it was begun, with all that was read and done since, in the order of time. */
export interface RescueFacts {
  entry: string;
  subjectId: number;
  code: string;
  series: number;
  chemistry: Chemistry;
  beganAt: Date;
  endedAt: Date | null;
  currentA: number;
  /** Null: it keeps to the house rules. */
  own: OwnLimits | null;
  readings: RescueReading[];
  acts: RescueAct[];
}

export interface JudgedRescue extends RescueFacts {
  /** Current is on, off for now, or off for good. */
  phase: 'on' | 'off' | 'over';
  /** What asks for the current to be taken off now; of a pause what asked for it. */
  stop: { code: RescueStop; position: number | null } | null;
  /** All groups have reached their floor: a normal charge follows. */
  isReached: boolean;
  /** By when every group is read next; null while the current is off. */
  readBy: Date | null;
  /** From then on the reading counts as missed. */
  missedAt: Date | null;
  /** With the current on, s. */
  onS: number;
  /** Of a pause: why it cannot go on; null where it can. */
  stays: RescueStays | null;
}

export type RescueStays = 'groups-disagree' | 'time-is-up' | 'read-first' | 'still-warm';

/** A reading is missed when it is late by this share of the time between two. */
const lateFraction = 0.5;
/** Warm at any rate, °C. */
const warmC = 45;
/** Cooled where it is within this much of its beginning, K. */
const cooledK = 2;
/** After this time with the current on, s, a group has moved by at least this much, V. */
const [movedAfterS, movedV] = [900, 0.02];
const minuteMs = 60_000;

/**
 * The status of a rescue, from its readings, acts and the clock. An interrupted rescue resumes where it is, and the
 * time that passed counts. Source: common practice; every limit is a house rule, or one of this rescue alone.
 */
export function judgeRescue(rescue: RescueFacts, house: HouseRules, now: Date): JudgedRescue {
  const { acts, readings, beganAt } = rescue;
  const rules = withOwnLimits(house, rescue.own);
  const last = acts.at(-1) ?? null;
  const onS = onSeconds(rescue, now);
  const newest = readings.at(-1) ?? null;
  const still = { ...rescue, stop: null, isReached: false, readBy: null, missedAt: null, onS, stays: null };
  if (rescue.endedAt !== null || last?.act === 'end') return { ...still, phase: 'over' };
  if (last?.act === 'off') {
    const code = rescueStops.find((stop) => stop === last.why);
    const stop = code ? { code, position: null } : null;
    return { ...still, phase: 'off', stop, stays: whyOff(rescue, last, onS, rules) };
  }
  const since = new Date(Math.max((last?.at ?? beganAt).getTime(), (newest?.takenAt ?? beganAt).getTime()));
  const readBy = new Date(since.getTime() + rules.rescueReadMin * minuteMs);
  const missedAt = new Date(since.getTime() + rules.rescueReadMin * (1 + lateFraction) * minuteMs);
  const isReached = newest !== null && newest.voltagesV.every((v) => v >= handOverV(rescue.chemistry));
  return {
    ...still,
    phase: 'on',
    stop:
      stopSince(rescue, last?.at ?? beganAt, rules) ?? (now >= missedAt ? { code: 'missed', position: null } : null),
    isReached,
    readBy,
    missedAt,
  };
}

/** For how long the current was on until now, s. */
function onSeconds({ beganAt, endedAt, acts }: RescueFacts, now: Date): number {
  let onMs = 0;
  let since: Date | null = beganAt;
  for (const { at, act } of acts) {
    if (since && act !== 'on') {
      onMs += at.getTime() - since.getTime();
      since = null;
    } else if (act === 'on') since ??= at;
  }
  if (since) onMs += Math.max(0, (endedAt ?? now).getTime() - since.getTime());
  return onMs / 1000;
}

/**
 * What asked for the current to be taken off since it is on: the first reason is kept until a person did, whatever was
 * read afterwards.
 */
function stopSince(rescue: RescueFacts, on: Date, rules: HouseRules): JudgedRescue['stop'] {
  let before = on;
  for (const [k, { takenAt }] of rescue.readings.entries()) {
    if (takenAt < on) continue;
    if (takenAt.getTime() - before.getTime() >= rules.rescueReadMin * (1 + lateFraction) * minuteMs)
      return { code: 'missed', position: null };
    const upTo = { ...rescue, readings: rescue.readings.slice(0, k + 1) };
    const stop = stopOf(upTo, onSeconds(rescue, takenAt), rules);
    if (stop) return stop;
    before = takenAt;
  }
  return null;
}

/** What the newest reading says against going on. */
function stopOf({ readings, chemistry }: RescueFacts, onS: number, rules: HouseRules): JudgedRescue['stop'] {
  const [first, newest] = [readings[0], readings.at(-1)];
  if (!first || !newest) return null;
  if (isWarm(newest, first, rules)) return { code: 'warm', position: null };
  const isMoving = onS >= movedAfterS;
  for (const [i, v] of newest.voltagesV.entries()) {
    const position = i + 1;
    if (v > chemistries[chemistry].fullV) return { code: 'ahead', position };
    const beganV = first.voltagesV[i] ?? v;
    if (isMoving && v - beganV < movedV) return { code: 'lag', position };
    const others = newest.voltagesV.filter((_, k) => k !== i);
    const began = first.voltagesV.filter((_, k) => k !== i);
    if (others.length === 0) continue;
    const apartV = v - median(others);
    const apartAtFirstV = beganV - median(began);
    if (apartV < Math.min(0, apartAtFirstV) - rules.rescueApartV) return { code: 'lag', position };
    if (apartV > Math.max(0, apartAtFirstV) + rules.rescueApartV) return { code: 'ahead', position };
  }
  return onS > rules.rescueLimitH * 3600 ? { code: 'too-long', position: null } : null;
}

const isWarm = (reading: RescueReading, first: RescueReading, { rescueWarmerK }: HouseRules): boolean =>
  reading.isWarm ||
  (reading.skinC !== null &&
    (reading.skinC >= warmC || (first.skinC !== null && reading.skinC - first.skinC >= rescueWarmerK)));

/** Why a rescue whose current is off stays off for now, or for good. */
function whyOff({ readings }: RescueFacts, off: RescueAct, onS: number, rules: HouseRules): RescueStays | null {
  if (off.why === 'lag' || off.why === 'ahead') return 'groups-disagree';
  if (off.why === 'too-long' || onS > rules.rescueLimitH * 3600) return 'time-is-up';
  const [first, newest] = [readings[0], readings.at(-1)];
  if (!first || !newest || newest.takenAt <= off.at) return 'read-first';
  const isCooled =
    !newest.isWarm && (newest.skinC === null || first.skinC === null || newest.skinC - first.skinC <= cooledK);
  return isCooled ? null : 'still-warm';
}

/** What a person answers before a rescue begins. */
export interface RescueRequest {
  /** Looked at just now. */
  findings: readonly InspectionFinding[];
  voltagesV: readonly number[];
  /** Since when it lay below two volts; null where not known, or where it does not. */
  belowSince: Date | null;
  currentA: number;
}

/** Why a rescue is refused; `rule` is the house rule it rests on. */
export type RescueRefusal = (
  | { code: 'not-lithium' }
  | { code: 'never-here' }
  | { code: 'rescued-before'; rescues: number }
  | { code: 'signs'; findings: InspectionFinding[] }
  | { code: 'too-low'; position: number; voltageV: number; limitV: number }
  | { code: 'unknown-time'; voltageV: number }
  | { code: 'nothing-low'; floorV: number }
  | { code: 'not-watched' }
  | { code: 'too-much-current'; limitA: number }
) & { rule?: RuleKey };

/** Below this it matters for how long it lay there, V. */
export const longBelowV = 2;

/** What a rescue asks of a cell or pack; a cell is a pack of one group. */
export interface Rescued {
  chemistry: Chemistry;
  series: number;
  /** Of its weakest group, Ah. */
  capacityAh: number;
  rescues: number;
  connector: SubjectState['connector'];
}

export const rescuedOf = (state: SubjectState): Rescued => {
  const { chemistry, series, rescues, connector } = state;
  return { chemistry, series, capacityAh: leastAh(state), rescues, connector };
};

/** At most this goes into it, A. */
export const mostRescueA = ({ capacityAh }: Pick<Rescued, 'capacityAh'>, rules: HouseRules): number =>
  rules.rescueRateC * capacityAh;

/**
 * Why a cell or pack is not rescued: what is known of it before anybody asks, and with `asked` what was answered.
 * Empty where it is allowed.
 */
export function refusalsOf(subject: Rescued, rules: HouseRules, request: RescueRequest | null): RescueRefusal[] {
  const refusals: RescueRefusal[] = [];
  if (chemistries[subject.chemistry].family !== 'lithium') refusals.push({ code: 'not-lithium' });
  if (rules.rescuesAllowed === 0) refusals.push({ code: 'never-here', rule: 'rescuesAllowed' });
  else if (subject.rescues >= rules.rescuesAllowed)
    refusals.push({ code: 'rescued-before', rescues: subject.rescues, rule: 'rescuesAllowed' });
  // The charger is blind below the floor: a person has to see every group.
  if (subject.series > 1 && subject.connector === 'none') refusals.push({ code: 'not-watched' });
  if (!request) return refusals;
  if (request.findings.length > 0) refusals.push({ code: 'signs', findings: [...request.findings] });
  const lowest = Math.min(...request.voltagesV);
  const position = request.voltagesV.indexOf(lowest) + 1;
  if (lowest < rules.rescueFloorV)
    refusals.push({
      code: 'too-low',
      position,
      voltageV: lowest,
      limitV: rules.rescueFloorV,
      rule: 'rescueFloorV',
    });
  else if (lowest < longBelowV && request.belowSince === null)
    refusals.push({ code: 'unknown-time', voltageV: lowest });
  if (lowest >= handOverV(subject.chemistry))
    refusals.push({ code: 'nothing-low', floorV: handOverV(subject.chemistry) });
  const limitA = mostRescueA(subject, rules);
  if (request.currentA > limitA * (1 + 1e-9)) refusals.push({ code: 'too-much-current', limitA, rule: 'rescueRateC' });
  return refusals;
}

/** Whether what was measured then counts: what was before a rescue or a mend says nothing of what came out of it. */
export const countsAfter =
  (changedAt: Date | null) =>
  (at: Date): boolean =>
    changedAt === null || at > changedAt;

/** Imbalance, V. */
export const rescueImbalanceV = ({ voltagesV }: Pick<RescueReading, 'voltagesV'>): number =>
  max(voltagesV) - Math.min(...voltagesV);
