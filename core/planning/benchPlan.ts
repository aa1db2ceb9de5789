import { mean } from 'simple-statistics';
import type { Chemistry } from '../chemistry/chemistries';
import { type HouseRules, lowestVoltageV } from '../chemistry/houseRules';
import { type OpenCircuitCurve, openCircuitOf } from '../chemistry/openCircuit';
import { benchMeterU } from '../instruments/instrument';
import { quadrature, type Quantity } from '../quantity/quantity';
import {
  type ChargerLimits,
  chargerSheet,
  type SheetGoal,
  type SheetPack,
  type SheetRefusal,
  storedSocOf,
} from './chargerSheet';
import { type BenchStation, type Job, type Placed, planBench, type Span, type Unplaced } from './schedule';

/** What is done with a cell or a pack at the bench. */
export const jobKinds = ['charge', 'balance', 'resistance', 'discharge', 'storage', 'hold'] as const;
export type JobKind = (typeof jobKinds)[number];

/** What is usually done one after the other. Source: common practice. */
export const courses = {
  charge: ['charge'],
  balance: ['balance'],
  storage: ['storage'],
  resistance: ['charge', 'resistance', 'storage'],
  capacity: ['charge', 'discharge', 'storage'],
  full: ['charge', 'resistance', 'discharge', 'storage'],
  hold: ['charge', 'hold'],
  discharge: ['discharge'],
} as const satisfies Record<string, readonly JobKind[]>;
export type Course = keyof typeof courses;

/** A cell or a pack that something is wanted with. */
export interface BenchSubject {
  code: string;
  chemistry: Chemistry;
  /** One of a cell. */
  series: number;
  /** Measured, or else what its label promises. */
  capacityAh: Quantity;
  rescues: number;
  /** Each group at rest, as it was read last, V; null where nobody read it. */
  groupsV: readonly number[] | null;
  /** What was done with it last, so many minutes ago; and whether nobody read it since. */
  lastDone: { kind: JobKind; agoMin: number; isUnread: boolean } | null;
  /** Why nothing is done with it; null where nothing stands against it. */
  outOfPlan: 'out' | 'apart' | null;
}

export interface WantedJob {
  id: string;
  /** Code of the cell or pack. */
  of: string;
  kind: JobKind;
  /** Done before it. */
  after: string | null;
  dueMin: number | null;
}

/** What there is to work with, by its code. */
export interface Bench {
  chargers: readonly { id: string; limits: ChargerLimits }[];
  /** They bear the current of a test discharge, and stop nothing by themselves. */
  loads: readonly string[];
}

export interface BenchAsked {
  subjects: readonly BenchSubject[];
  /** Each behind the one that it follows. */
  jobs: readonly WantedJob[];
  bench: Bench;
  attended: readonly Span[];
  running: readonly (Placed & { of: string; kind: JobKind })[];
  rules: HouseRules;
}

/** Why a job is in no plan. */
export type NotPlanned =
  | Unplaced
  | { code: 'sheet-refused'; refusal: SheetRefusal }
  | { code: 'out' | 'apart' | 'primary-cell' | 'subject-gone' };

/** How long a job takes at a station. */
export interface JobTime {
  expectedMin: number;
  /** Standard, min. */
  doubtMin: number;
}

export interface PlannedJob extends Placed, JobTime {
  /** Nobody read what it begins with: reckoned from the worst. */
  isBlind: boolean;
}

export interface BenchPlan {
  placed: PlannedJob[];
  endsAt: number;
  bound: number;
  isProven: boolean;
  unplaced: { id: string; why: NotPlanned }[];
}

/** Where nothing is charged. */
export const handsStation = 'Hands';
export const shelfStation = 'Shelf';

/** To look at it, measure it, set the charger and connect it; and to read a group's resistance. From memory. */
const [handsMin, readMin] = [5, 2];
/** The model of a charge and of a discharge is good to this share (standard): tried in `npm run coverage`. */
const modelU = { charge: 0.042, discharge: 0.012 };

/**
 * What is done with whom, where and when: each job takes what the charging model says, with its doubt, from what was
 * read last or from what the job before it leaves; rests between them are kept. So long is set aside as it takes in
 * five of six cases: the expected time and its standard doubt.
 */
export function planJobs(asked: BenchAsked): BenchPlan {
  const { attended, bench } = asked;
  const running = [...asked.running, ...doneOf(asked.subjects)];
  const reckoned = reckonJobs(asked);
  const times = new Map(reckoned.map((one) => [one.id, one]));
  const held = reckoned.filter(({ job }) => job.kind === 'hold');
  const { placed, unplaced, endsAt, bound, isProven } = planBench({
    attended,
    stations: stationsOf(bench),
    jobs: reckoned.filter((one) => !held.includes(one)).map(({ job }) => besideHold(job, held)),
    running,
  });
  const ends = new Map([...running, ...placed].map(({ id, to }) => [id, to]));
  const shelved = held.map(({ id, job: { after }, refused }): { id: string; from: number | null; why: NotPlanned } => {
    const [before] = after;
    const ready = before === undefined ? 0 : ends.get(before);
    const from = refused || ready === undefined ? null : Math.max(0, ready);
    return { id, from, why: refused ?? { code: 'after-unplaced', id: before ?? id } };
  });
  const left = [...unplaced, ...shelved.filter(({ from }) => from === null)];
  return {
    endsAt,
    bound,
    isProven: isProven && left.length === 0,
    unplaced: left.map(({ id, why }) => ({ id, why: times.get(id)?.refused ?? why })),
    placed: [
      ...placed,
      ...shelved.flatMap(({ id, from }) =>
        from === null ? [] : [{ id, station: shelfStation, from, to: from + holdMin }],
      ),
    ].flatMap((one) => {
      const own = times.get(one.id);
      const time = own?.byStation.get(one.station);
      return own && time ? [{ ...one, ...time, isBlind: own.isBlind }] : [];
    }),
  };
}

const stationsOf = ({ chargers, loads }: Bench): BenchStation[] => [
  ...chargers.map(({ id }) => ({ id, kinds: ['charge', 'balance', 'storage', 'discharge'] })),
  ...loads.map((id) => ({ id, kinds: ['discharge', 'storage'] })),
  { id: handsStation, kinds: ['resistance'] },
];

/** A shelf has room for all: what follows a hold test rests so long after what came before that. */
function besideHold(job: Job, held: readonly Reckoned[]): Job {
  const hold = held.find(({ id }) => id === job.after[0]);
  return hold ? { ...job, after: hold.job.after, restMin: holdMin } : job;
}

/** A job as it is planned, with how that was reckoned. */
interface Reckoned {
  id: string;
  job: Job;
  byStation: ReadonlyMap<string, JobTime>;
  isBlind: boolean;
  /** Why nothing can do it. */
  refused: NotPlanned | null;
}

/** What was done last with a cell or pack, as one that runs no more. */
const doneId = (code: string): string => `done ${code}`;
const doneOf = (subjects: readonly BenchSubject[]): Placed[] =>
  subjects.flatMap(({ code, lastDone }) =>
    lastDone ? [{ id: doneId(code), station: '', from: -lastDone.agoMin, to: -lastDone.agoMin }] : [],
  );

/** How long each job takes from where the one before it leaves the subject. */
function reckonJobs({ subjects, jobs, bench, running, rules }: BenchAsked): Reckoned[] {
  const bySubject = new Map(subjects.map((subject) => [subject.code, subject]));
  const before = new Map<string, { kind: JobKind; leavesV: readonly number[] | null }>();
  const next = (id: string, of: string, kind: JobKind, startV: readonly number[] | null): void => {
    const subject = bySubject.get(of);
    before.set(id, { kind, leavesV: (subject && leftBy(kind, subject, rules)) ?? startV });
  };
  const standsV = (of: string): readonly number[] | null => {
    const subject = bySubject.get(of);
    if (!subject) return null;
    const { lastDone, groupsV } = subject;
    return (lastDone?.isUnread ? leftBy(lastDone.kind, subject, rules) : null) ?? groupsV;
  };
  for (const { id, of, kind } of running) next(id, of, kind, standsV(of));
  for (const { code, lastDone } of subjects)
    if (lastDone) before.set(doneId(code), { kind: lastDone.kind, leavesV: standsV(code) });
  return jobs.map(({ id, of, kind, after: behind, dueMin }): Reckoned => {
    const subject = bySubject.get(of);
    // Behind what was done last it rests, too.
    const after = behind ?? (subject?.lastDone ? doneId(of) : null);
    const earlier = after === null ? undefined : before.get(after);
    const groupsV = earlier ? earlier.leavesV : standsV(of);
    next(id, of, kind, groupsV);
    const timed = subject ? timesOf(kind, { ...subject, groupsV }, bench, rules) : { code: 'subject-gone' as const };
    const byStation = 'code' in timed ? new Map<string, JobTime>() : timed;
    const isMoved = kind !== 'resistance' && kind !== 'hold';
    const takes = Object.fromEntries([...byStation].map(([at, time]) => [at, setAside(time)]));
    return {
      id,
      job: {
        id,
        kind,
        minutes: takes,
        attended: kind !== 'hold',
        after: after === null ? [] : [after],
        restMin: earlier ? restBefore(kind, earlier.kind, rules) : 0,
        dueMin,
      },
      byStation,
      isBlind: isMoved && groupsV === null,
      refused: 'code' in timed ? timed : null,
    };
  });
}

const setAside = ({ expectedMin, doubtMin }: JobTime): number => Math.ceil(expectedMin + doubtMin);

/** So long it rests between two jobs, min. */
function restBefore(kind: JobKind, before: JobKind, rules: HouseRules): number {
  const isMoved = before !== 'resistance' && before !== 'hold';
  if (!isMoved) return 0;
  return kind === 'resistance' ? Math.max(rules.restAfterChargeH * 60, shortRestMin) : shortRestMin;
}
/** Between charge and discharge. Common practice. */
const shortRestMin = 30;

/** At what each group rests after it, V; null where the job moves nothing. */
function leftBy(kind: JobKind, { chemistry, series }: BenchSubject, rules: HouseRules): readonly number[] | null {
  const all = (perGroupV: number) => new Array<number>(series).fill(perGroupV);
  if (kind === 'resistance' || kind === 'hold' || chemistry === 'alkaline') return null;
  const curve = openCircuitOf(chemistry);
  if (kind === 'charge' || kind === 'balance') return all(curve.voltageAt(1));
  // It recovers a little from where it was stopped.
  if (kind === 'discharge') return all(Math.max(curve.voltageAt(0), lowestVoltageV(chemistry, rules)) + recoversV);
  return all(curve.voltageAt(storedSocOf({ chemistry }, rules, (value) => curve.socAt({ value, u: 0 }).value)));
}
/** So much a cell rises once the load is off at the end of a discharge, V. */
const recoversV = 0.02;

/** How long it takes at each station that can do it; or why none can. */
function timesOf(
  kind: JobKind,
  subject: BenchSubject,
  bench: Bench,
  rules: HouseRules,
): Map<string, JobTime> | NotPlanned {
  if (subject.outOfPlan) return { code: subject.outOfPlan };
  if (kind === 'hold') return new Map([[shelfStation, { expectedMin: holdMin, doubtMin: 0 }]]);
  if (kind === 'resistance') {
    const expectedMin = handsMin + readMin * subject.series;
    return new Map([[handsStation, { expectedMin, doubtMin: readMin }]]);
  }
  const { chemistry } = subject;
  if (chemistry === 'alkaline') return { code: 'primary-cell' };
  const byStation = new Map<string, JobTime>();
  let refusal: SheetRefusal | null = null;
  const isOut = kind === 'discharge' || kind === 'storage';
  const tools = [...bench.chargers, ...(isOut ? bench.loads.map((id) => ({ id, limits: load })) : [])];
  for (const { id, limits } of tools) {
    const time = timeAt(kind, { ...subject, chemistry }, limits, rules);
    if ('refusal' in time) refusal ??= time.refusal;
    // A load only empties.
    else if (limits !== load || !time.charges) byStation.set(id, time);
  }
  if (byStation.size === 0 && refusal) return { code: 'sheet-refused', refusal };
  return byStation;
}

/** A week until the first reading that tells something. Common practice. */
const holdMin = 7 * 1440;
/** What a load is taken to bear: the current of a test. It charges nothing. */
const load: ChargerLimits = { maxA: 1e4, maxW: 1e6, dischargeMaxW: 1e6, stepA: 0, bleedA: 0 };

/** So much further up and down a group may really stand, as a shift of its voltage: the meter and the curve, V. */
function startDoubtV(curve: OpenCircuitCurve, restV: number): number[] {
  const { value: soc, u } = curve.socAt({ value: restV, u: benchMeterU });
  const within = (at: number): number => Math.min(1, Math.max(0, at));
  return [soc - u, soc + u].map((at) => curve.voltageAt(within(at)) - curve.voltageAt(soc));
}

/** By the charger's sheet; its doubt from the capacity, from where it stands, and from the model. */
function timeAt(
  goal: SheetGoal & JobKind,
  subject: BenchSubject & { chemistry: SheetPack['chemistry'] },
  charger: ChargerLimits,
  rules: HouseRules,
): (JobTime & { charges: boolean }) | { refusal: SheetRefusal } {
  const { chemistry, series, rescues, groupsV, capacityAh } = subject;
  const reckoned = (shiftV: number) => {
    const pack: SheetPack = {
      chemistry,
      series,
      capacityAh: capacityAh.value,
      rescues,
      measuredV: null,
      groupsV: groupsV && groupsV.map((v) => v + shiftV),
      // What it is was read and counted before it is connected: the sheet asks.
      isCounted: true,
      isLabelRead: true,
    };
    return chargerSheet({ pack, charger, goal, rules, loadOhm: null });
  };
  const { sheet, refusal } = reckoned(0);
  if (refusal) return { refusal };
  const beyond = (other: ReturnType<typeof reckoned>): number =>
    other.sheet ? Math.abs(other.sheet.expectedMin - sheet.expectedMin) : 0;
  // At the current that is set, it takes as much longer as there is more to move.
  const fromCapacity = (capacityAh.u / capacityAh.value) * sheet.attendedMin;
  const shiftsV = groupsV ? startDoubtV(openCircuitOf(chemistry), mean([...groupsV])) : [];
  const fromStart = Math.max(0, ...shiftsV.map((shiftV) => beyond(reckoned(shiftV))));
  return {
    charges: sheet.main === 'charge' && sheet.steps.length > 0,
    expectedMin: handsMin + sheet.expectedMin,
    doubtMin: quadrature(fromCapacity, fromStart, modelU[sheet.main] * sheet.expectedMin),
  };
}
