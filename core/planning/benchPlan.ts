import type { HouseRules } from '../chemistry/houseRules';
import { jobMove } from '../state/facts';
import { permission } from '../state/permissions';
import { afterMoveOf, type SubjectState } from '../state/subjectState';
import { chargerSheet } from './chargerSheet';
import { type ChargerLimits, nothingWanted, type SheetGoal, type SheetRefusal } from './sheet';
import { type BenchStation, type Job, type ScheduledJob, planBench, type Span, type WhyUnscheduled } from './schedule';

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
export type JobProgram = keyof typeof courses;

/** A cell or a pack that something is wanted with. */
export interface BenchSubject {
  code: string;
  state: SubjectState;
  /** What was done with it last, this many minutes ago. */
  lastDone: { kind: JobKind; agoMin: number } | null;
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

export interface BenchPlanRequest {
  subjects: readonly BenchSubject[];
  /** Each behind the one that it follows. */
  jobs: readonly WantedJob[];
  bench: Bench;
  attended: readonly Span[];
  running: readonly (ScheduledJob & { of: string; kind: JobKind })[];
  rules: HouseRules;
}

/** Why a job is in no plan. */
export type NotPlanned = WhyUnscheduled | { code: 'sheet-refused'; refusal: SheetRefusal } | { code: 'subject-gone' };

/** How long a job takes at a station. */
export interface JobTime {
  expectedMin: number;
  /** Standard, min. */
  doubtMin: number;
}

export interface PlannedJob extends ScheduledJob, JobTime {
  /** The start was not measured: calculated from the worst case. */
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

/**
 * Which job is done where and when. The charging model gives the time of each job, from the last readings or from the
 * state that the job before leaves. Rests between jobs are kept. A job gets its expected time and one standard
 * uncertainty, which is enough in five of six cases.
 */
export function planJobs(request: BenchPlanRequest): BenchPlan {
  const { attended, bench } = request;
  const running = [...request.running, ...doneOf(request.subjects)];
  const computed = estimateJobs(request);
  const times = new Map(computed.map((one) => [one.id, one]));
  const held = computed.filter(({ job }) => job.kind === 'hold');
  const { placed, unplaced, endsAt, bound, isProven } = planBench({
    attended,
    stations: stationsOf(bench),
    jobs: computed.filter((one) => !held.includes(one)).map(({ job }) => besideSelfDischarge(job, held)),
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

/** A shelf has room for all: a job that follows a self-discharge test rests after the job before the test. */
function besideSelfDischarge(job: Job, held: readonly Estimated[]): Job {
  const selfDischarge = held.find(({ id }) => id === job.after[0]);
  return selfDischarge ? { ...job, after: selfDischarge.job.after, restMin: holdMin } : job;
}

/** A job as it is planned, with how its time was calculated. */
interface Estimated {
  id: string;
  job: Job;
  byStation: ReadonlyMap<string, JobTime>;
  isBlind: boolean;
  /** Why nothing can do it. */
  refused: NotPlanned | null;
}

/** What was done last with a cell or pack, as one that runs no more. */
const doneId = (code: string): string => `done ${code}`;
const doneOf = (subjects: readonly BenchSubject[]): ScheduledJob[] =>
  subjects.flatMap(({ code, lastDone }) =>
    lastDone ? [{ id: doneId(code), station: '', from: -lastDone.agoMin, to: -lastDone.agoMin }] : [],
  );

/** How long each job takes from where the one before it leaves the subject. */
function estimateJobs({ subjects, jobs, bench, running, rules }: BenchPlanRequest): Estimated[] {
  const bySubject = new Map(subjects.map((subject) => [subject.code, subject]));
  const before = new Map<string, { kind: JobKind; leaves: SubjectState | null }>();
  const next = (id: string, kind: JobKind, starts: SubjectState | null): void => {
    before.set(id, { kind, leaves: starts && leftBy(kind, starts, rules) });
  };
  for (const { id, of, kind } of running) next(id, kind, bySubject.get(of)?.state ?? null);
  for (const { code, state, lastDone } of subjects)
    if (lastDone) before.set(doneId(code), { kind: lastDone.kind, leaves: state });
  return jobs.map(({ id, of, kind, after: behind, dueMin }): Estimated => {
    const subject = bySubject.get(of);
    // Behind what was done last it rests, too.
    const after = behind ?? (subject?.lastDone ? doneId(of) : null);
    const earlier = after === null ? undefined : before.get(after);
    const starts = earlier ? earlier.leaves : (subject?.state ?? null);
    next(id, kind, starts);
    const timed = starts ? timesOf(kind, starts, bench, rules) : { code: 'subject-gone' as const };
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
      isBlind: isMoved && (starts?.groups.some(({ soc }) => soc === null) ?? true),
      refused: 'code' in timed ? timed : null,
    };
  });
}

const setAside = ({ expectedMin, doubtMin }: JobTime): number => Math.ceil(expectedMin + doubtMin);

/** How long it rests between two jobs, min. */
function restBefore(kind: JobKind, before: JobKind, rules: HouseRules): number {
  const isMoved = before !== 'resistance' && before !== 'hold';
  if (!isMoved) return 0;
  if (kind === 'hold') return settlingMin;
  return kind === 'resistance' ? Math.max(rules.restAfterChargeH * 60, shortRestMin) : shortRestMin;
}
/** Between charge and discharge. Common practice. */
const shortRestMin = 30;
/** Before a self-discharge test: what still settles looks like a leak. Common practice. */
const settlingMin = 1440;

/** As a subject is after a job. */
function leftBy(kind: JobKind, state: SubjectState, rules: HouseRules): SubjectState {
  if (kind === 'resistance' || kind === 'hold') return state;
  return afterMoveOf(state, jobMove[kind], rules);
}

/** How long it takes at each station that can do it; or why none can. */
function timesOf(
  kind: JobKind,
  state: SubjectState,
  bench: Bench,
  rules: HouseRules,
): Map<string, JobTime> | NotPlanned {
  if (kind === 'hold' || kind === 'resistance') return byHand(kind, state, rules);
  const byStation = new Map<string, JobTime>();
  let refusal: SheetRefusal | null = null;
  const isOut = kind === 'discharge' || kind === 'storage';
  const tools = [...bench.chargers, ...(isOut ? bench.loads.map((id) => ({ id, limits: load })) : [])];
  for (const { id, limits } of tools) {
    const time = timeAt(kind, state, limits, rules);
    if ('refusal' in time) refusal ??= time.refusal;
    // A load only empties.
    else if (limits !== load || !time.charges) byStation.set(id, time);
  }
  if (byStation.size === 0 && refusal) return { code: 'sheet-refused', refusal };
  return byStation;
}

/** On the shelf, or with a meter. */
function byHand(
  kind: 'hold' | 'resistance',
  state: SubjectState,
  rules: HouseRules,
): Map<string, JobTime> | NotPlanned {
  const allowed = permission(state, kind === 'hold' ? 'self-discharge-test' : 'resistance', rules);
  const [barrier] = allowed.allowed ? [] : allowed.because;
  if (barrier) return { code: 'sheet-refused', refusal: barrier };
  return kind === 'hold'
    ? new Map([[shelfStation, { expectedMin: holdMin, doubtMin: 0 }]])
    : new Map([[handsStation, { expectedMin: handsMin + readMin * state.series, doubtMin: readMin }]]);
}

/** A week until the first useful reading. Common practice. */
const holdMin = 7 * 1440;
/** What a load is taken to bear: the current of a test. It charges nothing. */
const load: ChargerLimits = { maxA: 1e4, maxW: 1e6, dischargeMaxW: 1e6, stepA: 0, bleedA: 0 };
/** What it is was read and counted before it is connected: the sheet asks. */
const asFiled = { measuredV: null, groupsV: null, isCounted: true, isLabelRead: true };

/** By the charger's sheet, with its uncertainty. */
function timeAt(
  goal: SheetGoal & JobKind,
  state: SubjectState,
  charger: ChargerLimits,
  rules: HouseRules,
): (JobTime & { charges: boolean }) | { refusal: SheetRefusal } {
  const request = { state, measured: asFiled, charger, goal, wanted: nothingWanted, rules, loadOhm: null };
  const { sheet, refusal } = chargerSheet(request);
  if (refusal) return { refusal };
  return {
    charges: sheet.main === 'charge' && sheet.steps.length > 0,
    expectedMin: handsMin + sheet.expectedMin,
    doubtMin: sheet.expectedU,
  };
}
