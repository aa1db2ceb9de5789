import { mean } from 'simple-statistics';
import type { Chemistry } from '../chemistry/chemistries';
import type { HouseRules } from '../chemistry/houseRules';
import { groupedBy } from '../grouped';
import {
  mostDays,
  type SelfDischargeLimits,
  type SelfDischargeResult,
  selfDischargeTest,
} from '../selfDischarge/drift';
import { selfDischarge } from '../selfDischarge/selfDischarge';
import { quadrature, type Quantity, rectangular } from '../quantity/quantity';
import type { CurveBook, CurveOf } from './curveBook';
import type { Equipment } from './equipment';
import { channelOfGroup, type InstrumentBook } from './instrumentBook';
import { correctedVoltage } from './correctedVoltage';

/** A voltage that was read of a subject that rests, of a group from the negative terminal. */
export interface SelfDischargeReading {
  position: number;
  valueV: number;
  step: number;
  instrumentId: number | null;
  channel: number | null;
  takenAt: Date;
}

/** A cell or pack in a self-discharge test. */
export interface Held {
  subjectId: number;
  code: string;
  chemistry: Chemistry;
  series: number;
  isPack: boolean;
  maker: string | null;
  model: string | null;
  /** What was read in the test, the oldest first. */
  readings: SelfDischargeReading[];
  /** When it was charged, discharged or loaded meanwhile: the test restarts then. */
  disturbedAt: Date[];
  /** When the charge before the test ended; null: not noted. */
  chargedAt: Date | null;
}

/** A self-discharge test: who was put to rest together, and what they read since. */
export interface SelfDischargeFacts {
  /** Serial number of its entry. */
  id: number;
  /** What its readings belong to. */
  occasionId: number;
  entry: string;
  beganAt: Date;
  plannedS: number;
  seen: boolean;
  endedAt: Date | null;
  subjects: Held[];
}

/** What a self-discharge test says of one cell or pack. */
export interface JudgedHeld extends Held {
  /** From the negative terminal. */
  groups: SelfDischargeResult[];
  /** That of the group that leaks, else of one without a verdict, else of all. */
  says: SelfDischargeResult;
  /** Of the group it speaks of, from the negative terminal. */
  position: number;
  firstAt: Date | null;
  lastAt: Date | null;
}

/** What readings of a self-discharge test are judged with. */
type SelfDischargeBench = Pick<Equipment, 'instruments' | 'curves'>;

export interface JudgedSelfDischarge extends Omit<SelfDischargeFacts, 'subjects'> {
  held: JudgedHeld[];
  /** When the next reading is due; null where the results are final. */
  dueAt: Date | null;
}

/** Readings of one meter agree within this much, whatever its last digit, V. */
export const repeatedU = 0.0005;
const dayMs = 86_400_000;
/** Read up to this much before it is due counts as read then. */
export const earlyMs = dayMs / 2;

export const selfDischargeLimits = ({ holdDriftV, oddBeyond }: HouseRules): SelfDischargeLimits => ({
  lithiumVPerDay: holdDriftV / 7,
  oddBeyond,
});

/** Groups of a pack are distinguished by this. */
const idOf = (held: Held, position: number): string => `${held.subjectId} ${position}`;

/**
 * The readings of a group. Readings of one meter differ by its last digit alone; those of several meters also by their
 * errors.
 */
function readingsOf(held: Held, position: number, book: InstrumentBook) {
  const channelOf = (reading: SelfDischargeReading): number | null =>
    reading.channel ?? channelOfGroup(book, reading.instrumentId, position);
  const own = held.readings
    .filter((reading) => reading.position === position)
    .map((reading) => ({ ...reading, channel: channelOf(reading) }));
  const isOneMeter = new Set(own.map(({ instrumentId, channel }) => `${instrumentId} ${channel}`)).size === 1;
  return own.map((reading) => {
    const { value, u } = correctedVoltage(reading, book);
    return {
      atS: reading.takenAt.getTime() / 1000,
      voltageV: value,
      u: isOneMeter ? quadrature(repeatedU, rectangular(reading.step)) : quadrature(repeatedU, u),
    };
  });
}

/** A cell is read by the curve of its model, a pack by its own. */
const curveOfHeld = ({ chemistry, code, series, isPack, maker, model }: Held): CurveOf =>
  isPack ? { chemistry, code, series } : { chemistry, code, maker, model };

/** The readings between two disturbances: of the newest such time that was read twice, else of the newest. */
function undisturbed(held: Held): Held {
  const spells = groupedBy(held.readings, ({ takenAt }) => held.disturbedAt.filter((at) => at <= takenAt).length);
  const newest = [...spells].sort(([one], [other]) => other - one).map(([, readings]) => readings);
  const twice = newest.find((readings) => new Set(readings.map(({ takenAt }) => takenAt.getTime())).size > 1);
  const readings = twice ?? newest[0] ?? [];
  const [first] = readings;
  const before = first ? held.disturbedAt.filter((at) => at <= first.takenAt) : [];
  // It settles after a load or a discharge as well.
  const times = [...before, ...(held.chargedAt ? [held.chargedAt] : [])].map((at) => at.getTime());
  return { ...held, readings, chargedAt: times.length > 0 ? new Date(Math.max(...times)) : null };
}

/**
 * The current that a lithium cell or group loses within, A; null where its capacity was not measured or its curve does
 * not tell.
 */
export function lostWithin(
  { chemistry, readings, position, says: { drift } }: JudgedHeld,
  of: CurveOf & { capacity: Quantity | null },
  curves: CurveBook,
): Quantity | null {
  const curve = curves.of(of);
  const voltageV = aboutV({ readings, position });
  if (!drift || !curve || !of.capacity || voltageV === null) return null;
  return selfDischarge({ chemistry, drift, voltageV, capacityAh: of.capacity, curve });
}

/** Where the group it speaks of was read, in the mean, V. */
function aboutV({ readings, position }: Pick<JudgedHeld, 'readings' | 'position'>): number | null {
  const own = readings.filter((reading) => reading.position === position).map(({ valueV }) => valueV);
  return own.length === 0 ? null : mean(own);
}

const weight = { leaks: 0, 'cannot-tell': 1, holds: 2 };

/**
 * Judges a self-discharge test: each against the house's limit, and against those of its chemistry that rest with it.
 */
export function judgeSelfDischarge(
  facts: SelfDischargeFacts,
  rules: HouseRules,
  bench: SelfDischargeBench,
): JudgedSelfDischarge {
  const selfDischarge = { ...facts, subjects: facts.subjects.map(undisturbed) };
  const results = new Map<string, SelfDischargeResult>();
  for (const [chemistry, held] of groupedBy(selfDischarge.subjects, (one) => one.chemistry)) {
    const groups = held.flatMap((one) =>
      Array.from({ length: one.series }, (_, i) => ({
        id: idOf(one, i + 1),
        readings: readingsOf(one, i + 1, bench.instruments),
        curve: bench.curves.of(curveOfHeld(one)),
        chargedAtS: one.chargedAt && one.chargedAt.getTime() / 1000,
      })),
    );
    for (const result of selfDischargeTest(groups, chemistry, selfDischargeLimits(rules)))
      results.set(result.id, result);
  }
  const held = selfDischarge.subjects.map((one): JudgedHeld => {
    const groups = Array.from({ length: one.series }, (_, i) => results.get(idOf(one, i + 1)) as SelfDischargeResult);
    const says = groups.reduce((worst, group) => (weight[group.verdict] < weight[worst.verdict] ? group : worst));
    const times = one.readings.map(({ takenAt }) => takenAt.getTime());
    return {
      ...one,
      groups,
      says,
      position: groups.indexOf(says) + 1,
      firstAt: times.length > 0 ? new Date(Math.min(...times)) : null,
      lastAt: times.length > 0 ? new Date(Math.max(...times)) : null,
    };
  });
  const { id, occasionId, entry, beganAt, plannedS, seen, endedAt } = selfDischarge;
  return {
    id,
    occasionId,
    entry,
    beganAt,
    plannedS,
    seen,
    endedAt,
    held,
    dueAt: endedAt ? null : dueOf(selfDischarge, held),
  };
}

const wasReadAt = (dueMs: number, { lastAt }: Pick<JudgedHeld, 'lastAt'>): boolean =>
  lastAt !== null && lastAt.getTime() >= dueMs - earlyMs;

/** As planned until everyone was read then; later for those that need more days. */
function dueOf({ beganAt, plannedS }: SelfDischargeFacts, held: readonly JudgedHeld[]): Date | null {
  const planned = beganAt.getTime() + plannedS * 1000;
  if (!held.every((one) => wasReadAt(planned, one))) return new Date(planned);
  const later = held.flatMap(({ says: { why }, firstAt }) =>
    why.code === 'not-yet' && firstAt && why.days <= mostDays ? [firstAt.getTime() + why.days * dayMs] : [],
  );
  return later.length > 0 ? new Date(Math.max(...later)) : null;
}

/** Those to be read now: once as the test begins, and again as it is due. */
export function toReadNow({ held, dueAt, endedAt, beganAt, plannedS }: JudgedSelfDischarge, now: Date): JudgedHeld[] {
  if (endedAt) return [];
  const dueMs = dueAt?.getTime() ?? Infinity;
  const isDue = now.getTime() >= dueMs - earlyMs;
  // A subject with a verdict is not measured again, even where others need more days.
  const isPlanned = dueMs === beganAt.getTime() + plannedS * 1000;
  return held.filter(
    (one) => one.lastAt === null || (isDue && !wasReadAt(dueMs, one) && (isPlanned || one.says.why.code === 'not-yet')),
  );
}

/** What self-discharge tests say of one cell or pack. Plain data: it goes to the browser. */
export interface HeldVerdict extends Pick<SelfDischargeResult, 'drift' | 'outlier' | 'verdict' | 'why'> {
  /** Where it was read, in the mean, V; null before it was. */
  aboutV: number | null;
  holdId: number;
  /** The group it speaks of, from the negative terminal. */
  position: number;
  beganAt: Date;
}

const judgedOnce = new WeakMap<SelfDischargeFacts, JudgedSelfDischarge>();

/** Those in one self-discharge test share its facts, and its judgement with them. */
function judgedWithFellows(
  selfDischarge: SelfDischargeFacts,
  rules: HouseRules,
  bench: SelfDischargeBench,
): JudgedSelfDischarge {
  const judged = judgedOnce.get(selfDischarge) ?? judgeSelfDischarge(selfDischarge, rules, bench);
  judgedOnce.set(selfDischarge, judged);
  return judged;
}

/**
 * What the newest self-discharge test that tells anything of a subject says of it, else its newest; null where it was
 * in none.
 *
 * @param selfDischarges the newest first; loaded for this judging, with these rules and instruments
 */
export function heldOf(
  selfDischarges: readonly SelfDischargeFacts[],
  subjectId: number,
  rules: HouseRules,
  bench: SelfDischargeBench,
): HeldVerdict | null {
  const verdicts = selfDischarges.flatMap((selfDischarge): HeldVerdict[] => {
    const own = judgedWithFellows(selfDischarge, rules, bench).held.find((one) => one.subjectId === subjectId);
    if (!own) return [];
    const { drift, outlier, verdict, why } = own.says;
    const { position } = own;
    return [
      {
        drift,
        outlier,
        verdict,
        why,
        aboutV: aboutV(own),
        holdId: selfDischarge.id,
        position,
        beganAt: selfDischarge.beganAt,
      },
    ];
  });
  return verdicts.find(({ verdict }) => verdict !== 'cannot-tell') ?? verdicts[0] ?? null;
}
