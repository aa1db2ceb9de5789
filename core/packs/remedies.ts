import { max, median, min, sum } from 'simple-statistics';
import { chemistries, groupAboveFullV } from '../chemistry/chemistries';
import { givenOrUsual, type PlainCurve, type Rechargeable } from '../chemistry/openCircuit';
import { ImpossibleInput } from '../impossibleInput';
import type { Quantity } from '../quantity/quantity';
import type { VoltageTrace } from '../simulation/voltageTrace';
import { type Charger, chargePack, groupOf, type SimulatedGroup } from '../simulation/packCharge';
import { normalFraction } from '../statistics/distributions';
import { mostThroughPlugA } from './balancing';
import { usualOhmAh } from './diagnosis/roundMedians';

/** Ways to make the groups of a pack even. */
export const remediesAlone = ['bleed', 'top-up', 'drain'] as const;
/** And one made of several, and what helps where a group is bad. */
export const remedyKinds = [...remediesAlone, 'charge-drain', 'replace'] as const;
export type RemedyKind = (typeof remedyKinds)[number];

/** A pack with an imbalance, and the tools for balancing. */
export interface Uneven {
  chemistry: Rechargeable;
  /** Its own open-circuit curve; null: that of its chemistry. */
  curve: PlainCurve | null;
  /** From the negative terminal. */
  groups: readonly { soc: Quantity; capacityAh: number; resistanceOhm: number | null }[];
  /** How a group is reached: through a balance connector, at taps of its own, or by clips on its cells. */
  connector: 'balance' | 'taps' | 'none';
  /** No group is drained below this at rest, V. */
  floorV: number;
  charger: {
    currentA: number;
    /** Zero of one that does not balance. */
    bleedA: number;
    /** It begins in a group at this voltage, V. */
    bleedFromV: number;
    /** So far it lets a group rise above its end voltage, V. */
    overshootV: number;
    timerS: number | null;
  };
  topUpCurrentA: number;
  drainCurrentA: number;
  /** Those made of several are looked at as well, where its charger does not balance. */
  combined: boolean;
  /** Groups that are bad, from the negative terminal: evening them out would not last. */
  bad: readonly number[];
}

/** What a group gets or gives, from the negative terminal. */
export interface GroupMove {
  position: number;
  /** Put in or taken out at its own leads, Ah. */
  chargeAh: number;
  /** At its leads as it has had it, the current still on, V. */
  stopV: number;
}

export interface Remedy {
  kind: RemedyKind;
  /** Until the groups are balanced; null where that was not reached by the longest that is computed. */
  hours: number | null;
  /** Of these a person must be there; nothing is charged or discharged alone. */
  attendedHours: number | null;
  /** Through the bleed resistors, into the low groups or out of the high ones, Ah. */
  movedAh: number;
  /** No group is moved above its end or below its reserve, and each can be reached. */
  impossible: WhyImpossible | null;
  highestV: number;
  /** The lowest that a group is left at: V at rest, and its state of charge. */
  lowestV: number;
  lowestSoc: number;
  /** Of the whole at rest afterwards, V. */
  packV: number;
  /** Chance that the charger's timer ends it first. */
  timerChance: number;
  /** By how much the groups differ in missing charge afterwards, as a share of a group's capacity. */
  leftFraction: number;
  /** By how much their rested voltages then differ, V. */
  leftV: number;
  /** Of top-up, drain and replacement: which groups, in the order of the work. */
  moves: GroupMove[];
  /** Of what happens on the charger, or at the one group whose turn it is. */
  course: VoltageTrace;
}

/** Why a way is not for this pack. */
export type WhyImpossible =
  | { code: 'no-connector' }
  | { code: 'group-emptied'; position: number; leftAh: number }
  | { code: 'group-overcharged'; position: number; voltageV: number };

export interface Remedies {
  remedies: Remedy[];
  /** Null where the groups are balanced already, or none of them ends. */
  recommended: RemedyKind | null;
  isEven: boolean;
  /** Imbalance as a fraction of a group's capacity. */
  apartFraction: number;
}

/** Groups within this fraction of their capacity are balanced. */
const evenFraction = 0.02;
/** At a group's own clips: at most this much, and this much of its capacity an hour. Common practice. */
const clips = { mostA: 3, rateC: 0.5 };
/** A drained group keeps this fraction of its capacity. From memory. */
const reserve = 0.05;
/** A group may touch this much above its end, V. Common practice: 4.21 V. */
const touchesV = 0.015;
/** The longest wait considered. */
const longestH = 100;
/** Unless given, A. */
export const [usualTopUpA, usualDrainA] = [0.5, 0.1];
/** Groups within this much of the lowest are left alone, V. */
const bleedBeyondV = 0.005;
/** A charge ends at this rate. Common practice. */
const endRate = 0.05;
/** Moments at which the leads of a group are drawn. */
const courseMoments = 120;
/** A spare comes from storage, this full, and is brought to its neighbours at this rate at most. From memory. */
const [storedSoc, spareRate] = [0.5, 0.5];
/** It rests until its voltage shows whether it fits; then it is joined. From memory. */
const [sparesRestH, joiningH] = [1, 1];
/** An hour of polarity by hand weighs this many hours of waiting. */
const byHand = 2;

/**
 * What evens a pack out, each way simulated for it: hours, charge moved, the highest voltage that any group sees. What
 * counts is what each group misses until full: missing charge = capacity × difference in state of charge, and time is
 * that by the current (common practice).
 *
 * @param onShare how much of the work is done, from 0 to 1
 */
export function compareRemedies(pack: Uneven, onProgress?: (fraction: number) => void): Remedies {
  const curve = givenOrUsual(pack.curve, pack.chemistry);
  const groups = pack.groups.map(({ soc, capacityAh, resistanceOhm }) =>
    groupOf({ curve, capacityAh, soc: soc.value }, resistanceOhm ?? usualOhmAh / capacityAh),
  );
  const apartFraction = apart(groups);
  const canBleed = pack.charger.bleedA > 0 && chemistries[pack.chemistry].family === 'lithium';
  const remedies = [
    ...(canBleed ? [bleed(pack, groups, onProgress)] : []),
    atLeads('top-up', pack, groups).remedy,
    atLeads('drain', pack, groups).remedy,
    ...(pack.combined && !canBleed ? chargeDrain(pack, groups) : []),
    ...(pack.bad.length > 0 && pack.bad.length < groups.length ? [replace(pack, groups)] : []),
  ];
  onProgress?.(1);
  const isEven = apartFraction <= evenFraction;
  const needed = isEven ? null : recommend(remedies);
  return { remedies, recommended: pack.bad.length > 0 ? 'replace' : needed, isEven, apartFraction };
}

const missingAh = (groups: readonly SimulatedGroup[]): number[] =>
  groups.map(({ soc, capacityAh }) => (1 - soc) * capacityAh);

/** The range of the charge that the groups lack until full, as a fraction of the median capacity. */
const apart = (groups: readonly SimulatedGroup[]): number => {
  const missing = missingAh(groups);
  return (max(missing) - min(missing)) / median(groups.map(({ capacityAh }) => capacityAh));
};

/** How the groups are left, and whether that is within the limits of each. */
function leftOf(
  pack: Uneven,
  groups: readonly SimulatedGroup[],
  highestV: number,
): Pick<Remedy, 'leftFraction' | 'leftV' | 'lowestV' | 'lowestSoc' | 'packV' | 'highestV' | 'impossible'> {
  const volts = groups.map(restV);
  const socs = groups.map(({ soc }) => soc);
  return {
    leftFraction: apart(groups),
    leftV: max(volts) - min(volts),
    lowestV: min(volts),
    packV: sum(volts),
    lowestSoc: min(socs),
    highestV,
    impossible: emptied(pack, groups) ?? overcharged(pack, groups, highestV),
  };
}

/** A group that is left with less than its reserve, where it had more before. */
function emptied(
  { groups: before, floorV, chemistry, curve }: Uneven,
  after: readonly SimulatedGroup[],
): WhyImpossible | null {
  const least = givenOrUsual(curve, chemistry).socAt({ value: floorV, u: 0 }).value + reserve;
  const i = after.findIndex(({ soc }, k) => soc < least && soc < (before[k]?.soc.value ?? soc) - 1e-9);
  const group = after[i];
  return group ? { code: 'group-emptied', position: i + 1, leftAh: group.soc * group.capacityAh } : null;
}

function overcharged({ chemistry }: Uneven, groups: readonly SimulatedGroup[], highestV: number): WhyImpossible | null {
  const mostV = chemistries[chemistry].fullV + touchesV;
  const position = groups.findIndex(({ soc }) => soc > 1 + evenFraction) + 1;
  if (highestV <= mostV && position === 0) return null;
  const fullest = groups.map(({ soc }) => soc);
  return { code: 'group-overcharged', position: position || fullest.indexOf(max(fullest)) + 1, voltageV: highestV };
}

/** What one group is topped up with, A: the thin leads of a connector, or clips of its own. */
export const topUpA = (
  { connector, topUpCurrentA }: Pick<Uneven, 'connector' | 'topUpCurrentA'>,
  capacityAh: number,
): number =>
  Math.min(topUpCurrentA, connector === 'balance' ? mostThroughPlugA : Math.min(clips.mostA, clips.rateC * capacityAh));

/** The same pack with its groups at other charges. */
const withSocs = (pack: Uneven, groups: readonly SimulatedGroup[]): Uneven => ({
  ...pack,
  groups: pack.groups.map((group, i) => ({
    ...group,
    soc: { ...group.soc, value: groups[i]?.soc ?? group.soc.value },
  })),
});

const withSoc = (groups: readonly SimulatedGroup[], soc: readonly number[]): SimulatedGroup[] =>
  groups.map((group, i) => ({ ...group, soc: soc[i] ?? group.soc }));

function chargerOf({ chemistry, charger, groups }: Uneven, balances: boolean): Charger {
  const { fullV } = chemistries[chemistry];
  const capacityAh = min(groups.map((group) => group.capacityAh));
  return {
    currentA: charger.currentA,
    endV: fullV,
    bleed: balances ? { currentA: charger.bleedA, fromV: charger.bleedFromV, beyondV: bleedBeyondV } : null,
    overshootV: charger.overshootV,
    endCurrentA: Math.min(endRate * capacityAh, charger.currentA / 2),
  };
}

function bleed(pack: Uneven, groups: readonly SimulatedGroup[], onProgress?: (fraction: number) => void): Remedy {
  const charged = chargePack(groups, chargerOf(pack, true), longestH * 3600, onProgress);
  const { endsAtS, bledAh, highestV, course } = charged;
  return {
    kind: 'bleed',
    hours: endsAtS === null ? null : endsAtS / 3600,
    attendedHours: endsAtS === null ? null : endsAtS / 3600,
    movedAh: bledAh,
    timerChance: timerChance(pack, endsAtS),
    ...leftOf(pack, withSoc(groups, charged.soc), highestV),
    ...(pack.connector === 'balance' ? {} : { impossible: { code: 'no-connector' as const } }),
    moves: [],
    course,
  };
}

/** How long it takes is as doubtful as what the lowest group misses beside the highest. */
function timerChance({ groups, charger: { timerS, bleedA } }: Uneven, endsAtS: number | null): number {
  if (timerS === null) return 0;
  if (endsAtS === null) return 1;
  const sorted = groups.toSorted((one, other) => one.soc.value - other.soc.value);
  const [low, high] = [sorted[0], sorted.at(-1)];
  if (!low || !high) return 0;
  const u = (Math.hypot(low.soc.u * low.capacityAh, high.soc.u * high.capacityAh) / bleedA) * 3600;
  return u > 0 ? normalFraction((endsAtS - timerS) / u) : Number(endsAtS > timerS);
}

/**
 * At the leads of single groups: the low ones topped up one after the other until they miss no more than the fullest,
 * or the high ones drained at once to what the emptiest misses. A one-cell charger holds its end voltage, so that its
 * current tapers.
 */
function atLeads(kind: 'top-up' | 'drain', pack: Uneven, groups: readonly SimulatedGroup[]): Leads {
  const missing = missingAh(groups);
  const isIn = kind === 'top-up';
  const target = isIn ? min(missing) : max(missing);
  const work = groups.flatMap((group, i): LeadWork[] => {
    const chargeAh = (missing[i] as number) - target;
    if (Math.abs(chargeAh) <= evenFraction * group.capacityAh) return [];
    return [isIn ? toppedUp(pack, group, i, chargeAh) : drained(pack, group, i, chargeAh)];
  });
  const hoursEach = work.map(({ hours }) => hours);
  const isEnding = hoursEach.every((hours) => hours !== null);
  const all = hoursEach.map((hours) => hours ?? longestH);
  const inAllH = isIn ? sum(all) : max([0, ...all]);
  const hours = isEnding ? inAllH : null;
  const after = groups.map((group, i) => {
    const chargeAh = work.find((one) => one.i === i)?.chargeAh ?? 0;
    return { ...group, soc: group.soc + chargeAh / group.capacityAh };
  });
  const highestV = max([...groups.map(restV), ...work.map(({ course }) => max(course.groupsV[0] ?? [0]))]);
  return {
    after,
    remedy: {
      kind,
      hours,
      attendedHours: hours,
      movedAh: sum(work.map(({ chargeAh }) => Math.abs(chargeAh))),
      timerChance: 0,
      ...leftOf(pack, after, highestV),
      moves: work.map(({ i, chargeAh, course }) => ({
        position: i + 1,
        chargeAh: Math.abs(chargeAh),
        stopV: course.groupsV[0]?.at(-1) ?? NaN,
      })),
      course: together(groups, work, isIn),
    },
  };
}

/** A charger for one cell at the group: its current, then its end voltage until this much is in. */
function toppedUp(pack: Uneven, group: SimulatedGroup, i: number, chargeAh: number): LeadWork {
  const { chemistry } = pack;
  const currentA = topUpA(pack, group.capacityAh);
  const { family, fullV } = chemistries[chemistry];
  if (family !== 'lithium')
    return { i, chargeAh, hours: chargeAh / currentA, course: alone(group, currentA, chargeAh) };
  const charger: Charger = {
    currentA,
    endV: fullV,
    bleed: null,
    overshootV: null,
    endCurrentA: Math.min(endRate * group.capacityAh, currentA / 2),
    untilAh: chargeAh,
  };
  const { endsAtS, chargedAh, course } = chargePack([group], charger, longestH * 3600);
  return { i, chargeAh: chargedAh, hours: endsAtS === null ? null : endsAtS / 3600, course };
}

const drained = ({ drainCurrentA }: Uneven, group: SimulatedGroup, i: number, chargeAh: number): LeadWork => ({
  i,
  chargeAh,
  hours: Math.abs(chargeAh) / drainCurrentA,
  course: alone(group, -drainCurrentA, Math.abs(chargeAh)),
});

interface LeadWork {
  i: number;
  /** Below zero where it is taken out, Ah. */
  chargeAh: number;
  /** Null where it does not end. */
  hours: number | null;
  course: VoltageTrace;
}

interface Leads {
  remedy: Remedy;
  after: SimulatedGroup[];
}

/** Charged until the first group is full, the full ones drained to the lowest, charged again. */
function chargeDrain(pack: Uneven, groups: readonly SimulatedGroup[]): Remedy[] {
  if (chemistries[pack.chemistry].family !== 'lithium') return [];
  const charger = chargerOf(pack, false);
  const first = chargePack(groups, charger, longestH * 3600);
  const charged = withSoc(groups, first.soc);
  const balanced = atLeads('drain', withSocs(pack, charged), charged);
  const last = chargePack(balanced.after, charger, longestH * 3600);
  const hours =
    first.endsAtS === null || last.endsAtS === null || balanced.remedy.hours === null
      ? null
      : (first.endsAtS + last.endsAtS) / 3600 + balanced.remedy.hours;
  return [
    {
      ...balanced.remedy,
      kind: 'charge-drain',
      hours,
      attendedHours: hours,
      ...leftOf(pack, withSoc(balanced.after, last.soc), Math.max(first.highestV, last.highestV)),
      impossible: balanced.remedy.impossible,
      course: inTurn([first.course, balanced.remedy.course, last.course]),
    },
  ];
}

/**
 * Bad groups replaced by spares: each is brought from storage to the median voltage of the good ones, rests, and is
 * joined. Its capacity and resistance are taken to be like theirs.
 */
function replace(pack: Uneven, groups: readonly SimulatedGroup[]): Remedy {
  const { bad, charger } = pack;
  const good = groups.filter((_, i) => !bad.includes(i + 1));
  const soc = median(good.map((group) => group.soc));
  const like = good.reduce((a, b) => (Math.abs(b.soc - soc) < Math.abs(a.soc - soc) ? b : a));
  const spare: SimulatedGroup = { ...like, soc: storedSoc };
  const chargeAh = (soc - storedSoc) * spare.capacityAh;
  const currentA = Math.min(charger.currentA, spareRate * spare.capacityAh);
  const course = alone(spare, Math.sign(chargeAh) * currentA, Math.abs(chargeAh));
  const work = bad.map((position): LeadWork => ({
    i: position - 1,
    chargeAh,
    hours: Math.abs(chargeAh) / currentA,
    course,
  }));
  const fitted = groups.map((group, i) => (bad.includes(i + 1) ? spare : group));
  const after = groups.map((group, i) => (bad.includes(i + 1) ? { ...spare, soc } : group));
  const chargingH = (bad.length * Math.abs(chargeAh)) / currentA;
  const attendedHours = chargingH + bad.length * joiningH;
  return {
    kind: 'replace',
    hours: attendedHours + sparesRestH,
    attendedHours,
    movedAh: bad.length * Math.abs(chargeAh),
    timerChance: 0,
    ...leftOf(pack, after, max([...good.map(restV), ...(course.groupsV[0] ?? [])])),
    impossible: null,
    moves: bad.map((position) => ({ position, chargeAh, stopV: course.groupsV[0]?.at(-1) ?? restV(spare) })),
    course: together(fitted, work, true),
  };
}

const restV = ({ curve, soc }: SimulatedGroup): number => curve.voltageAt(Math.min(1, Math.max(0, soc)));

/** Voltage of a group that a current fills, or below 0 drains, until it had its charge. */
function alone(group: SimulatedGroup, currentA: number, chargeAh: number): VoltageTrace {
  const course: VoltageTrace = { atS: [], groupsV: [[]] };
  const seconds = chargeAh === 0 ? 0 : (chargeAh / Math.abs(currentA)) * 3600;
  for (let k = 0; k <= courseMoments; k += 1) {
    const t = (seconds * k) / courseMoments;
    const soc = group.soc + (currentA * t) / 3600 / group.capacityAh;
    const lag = group.branches.reduce(
      (sum, { resistanceOhm, timeConstantS }) => sum + resistanceOhm * (1 - Math.exp(-t / timeConstantS)),
      group.ohmicOhm,
    );
    course.atS.push(t);
    course.groupsV[0]?.push(group.curve.voltageAt(Math.min(1, Math.max(0, soc))) + currentA * lag);
  }
  return course;
}

/** The courses of single groups as that of the pack: those whose turn it is not rest. */
function together(groups: readonly SimulatedGroup[], work: readonly LeadWork[], isInTurn: boolean): VoltageTrace {
  const ends = work.map(({ course }) => course.atS.at(-1) ?? 0);
  const totalS = isInTurn ? sum(ends) : max([0, ...ends]);
  const atS = Array.from({ length: courseMoments + 1 }, (_, k) => (totalS * k) / courseMoments);
  const startOf = (w: number): number => (isInTurn ? sum(ends.slice(0, w)) : 0);
  return {
    atS,
    groupsV: groups.map((group, i) => {
      const w = work.findIndex((one) => one.i === i);
      const own = work[w];
      return atS.map((t) => (own ? valueAt(own.course, t - startOf(w), group) : restV(group)));
    }),
  };
}

/** Before its turn a group rests as it was; after it, as it was left, the current off. */
function valueAt({ atS, groupsV: [own = []] }: VoltageTrace, t: number, group: SimulatedGroup): number {
  if (t < 0) return restV(group);
  const k = atS.findLastIndex((at) => at <= t + 1e-9);
  return own[Math.max(0, k)] ?? NaN;
}

/** Courses one after the other. */
function inTurn(courses: readonly VoltageTrace[]): VoltageTrace {
  let fromS = 0;
  const whole: VoltageTrace = { atS: [], groupsV: (courses[0]?.groupsV ?? []).map(() => []) };
  for (const { atS, groupsV } of courses) {
    whole.atS.push(...atS.map((t) => t + fromS));
    whole.groupsV.forEach((list, i) => list.push(...(groupsV[i] ?? [])));
    fromS += atS.at(-1) ?? 0;
  }
  return whole;
}

/** The soonest; hours at the leads, where a mistake in polarity is possible, count more. */
function recommend(remedies: readonly Remedy[]): RemedyKind | null {
  const cost = ({ kind, hours, leftFraction, impossible }: Remedy): number =>
    hours === null || impossible || leftFraction > 2 * evenFraction
      ? Infinity
      : hours * (kind === 'top-up' ? byHand : 1);
  const best = remedies.reduce<Remedy | null>((least, one) => (least && cost(least) <= cost(one) ? least : one), null);
  return best && cost(best) < Infinity ? best.kind : null;
}

/**
 * Refuses what no remedy is for.
 *
 * @param restVoltagesV from the negative terminal; null where one was not read
 * @throws ImpossibleInput where a group is below its floor or above what its chemistry allows
 */
export function refuseUnfit(chemistry: Rechargeable, restVoltagesV: readonly (number | null)[]): void {
  const { lowestV } = chemistries[chemistry];
  refuseAbove(chemistry, restVoltagesV);
  restVoltagesV.forEach((voltageV, i) => {
    if (voltageV !== null && voltageV < lowestV)
      throw new ImpossibleInput(`groups[${i}]`, { code: 'needs-rescue', position: i + 1, voltageV, lowestV });
  });
}

/**
 * Refuses groups above what their chemistry allows.
 *
 * @throws ImpossibleInput naming the first
 */
export function refuseAbove(chemistry: Rechargeable, restVoltagesV: readonly (number | null)[]): void {
  const { fullV } = chemistries[chemistry];
  restVoltagesV.forEach((voltageV, i) => {
    if (voltageV !== null && voltageV > fullV + groupAboveFullV)
      throw new ImpossibleInput(`groups[${i}]`, { code: 'above-its-chemistry', position: i + 1, voltageV, fullV });
  });
}
