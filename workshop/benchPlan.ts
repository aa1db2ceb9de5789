import 'server-only';
import type { JudgedSubject } from '@/core/judging/subject';
import type { Bench, BenchSubject, JobKind } from '@/core/planning/benchPlan';
import type { ChargerLimits } from '@/core/planning/sheet';
import type { OutOfService } from '@/core/state/facts';
import {
  attendedFrom,
  type Attended,
  lastJobsDone,
  type MadePlan,
  madePlan,
  type PlannedJob,
  plannedJobs,
  storePlan,
} from '@/records/benchPlans';
import { database, inTransaction } from '@/records/database';
import { now } from './clock';
import { judgedWorkshop, subjectNamed, type Workshop } from './judged';
import { inBackground } from './pool';
import { stateNow } from './states';

const limitMs = 20_000;
const minuteMs = 60_000;
/** A job that is not started this long after its time makes the plan slip. */
const graceMs = 5 * minuteMs;
/** A job that takes longer than planned gets this much more time. */
const overrunMin = 10;

/** What is wanted, and where it is planned. */
export interface BenchNow {
  attended: Attended[];
  jobs: PlannedJob[];
  /** Null where none was ever made. */
  plan: MadePlan | null;
  /** What contradicts the plan as it was made. */
  slips: Slipped[];
}

export type Slipped =
  | { code: 'not-begun'; job: PlannedJob; fromAt: Date }
  | { code: 'out-of-plan'; job: PlannedJob }
  | { code: 'new-job'; job: PlannedJob };

/** Of a charger that carries several packs each output is a place of its own. */
const outputsOf = (code: string, outputs: number): string[] =>
  outputs === 1 ? [code] : Array.from({ length: outputs }, (_, i) => `${code}/${i + 1}`);

/** Chargers and loads that were not put away. */
export function benchOf({ instruments }: Workshop): Bench {
  const here = instruments.all.filter(({ archivedAt }) => archivedAt === null);
  return {
    chargers: here.flatMap(({ code, charging }) => {
      if (!charging) return [];
      const { outputs, ...limits }: ChargerLimits & { outputs: number } = charging;
      return outputsOf(code, outputs).map((id) => ({ id, limits }));
    }),
    loads: here.filter(({ kind }) => kind === 'load').map(({ code }) => code),
  };
}

/** The present state. */
export async function benchNow(): Promise<BenchNow> {
  const db = database();
  const at = now();
  const made = await madePlan(db);
  // The first view makes it.
  if (!made) await replan();
  const [attended, jobs, plan] = await Promise.all([attendedFrom(db, at), plannedJobs(db), made ?? madePlan(db)]);
  const workshop = await judgedWorkshop();
  const subjects = await judgedOf(jobs);
  const unplaced = new Set(plan?.unplaced.map(({ id }) => id));
  const slips = jobs.flatMap((job): Slipped[] => {
    if (job.begun) return [];
    const subject = subjects.get(job.of);
    if (job.planned && (!subject || outOfPlan(subject, workshop))) return [{ code: 'out-of-plan', job }];
    if (!job.planned) return unplaced.has(job.id) ? [] : [{ code: 'new-job', job }];
    const { fromAt } = job.planned;
    return fromAt.getTime() + graceMs < at.getTime() ? [{ code: 'not-begun', job, fromAt }] : [];
  });
  return { attended, jobs, plan, slips };
}

/** The plan replanned from now; what runs stays where it is. */
export async function replan(): Promise<void> {
  const db = database();
  const workshop = await judgedWorkshop();
  const at = now();
  const [attended, jobs, done] = await Promise.all([attendedFrom(db, at), plannedJobs(db), lastJobsDone(db)]);
  const minuteOf = (moment: Date): number => (moment.getTime() - at.getTime()) / minuteMs;
  const momentOf = (minute: number): Date => new Date(at.getTime() + minute * minuteMs);
  const judged = await judgedOf(jobs);
  const plan = await inBackground(
    'jobs',
    {
      subjects: [...judged.values()].map((subject) => benchSubject(subject, workshop, done.get(subject.code))),
      jobs: jobs
        .filter(({ begun }) => !begun)
        .map(({ id, of, kind, after, dueAt }) => ({ id, of, kind, after, dueMin: dueAt && minuteOf(dueAt) })),
      bench: benchOf(workshop),
      attended: attended.map(({ fromAt, toAt }) => ({ from: Math.max(0, minuteOf(fromAt)), to: minuteOf(toAt) })),
      running: jobs.flatMap(({ id, of, kind, begun }) => {
        if (!begun) return [];
        const from = minuteOf(begun.at);
        return [{ id, of, kind, station: begun.station, from, to: Math.max(from + begun.plannedS / 60, overrunMin) }];
      }),
      rules: workshop.rules.limits,
    },
    { crew: 'own', limitMs },
  );
  const { isProven, unplaced, endsAt, bound, placed } = plan;
  await inTransaction((on) =>
    storePlan(
      on,
      { madeAt: at, endsAt: momentOf(endsAt), boundAt: momentOf(bound), isProven, unplaced },
      placed.map(({ from, to, ...place }) => ({ ...place, fromAt: momentOf(from), toAt: momentOf(to) })),
    ),
  );
}

async function judgedOf(jobs: readonly PlannedJob[]): Promise<Map<string, JudgedSubject>> {
  const workshop = await judgedWorkshop();
  const judged = new Map<string, JudgedSubject>();
  for (const { of } of jobs) {
    if (judged.has(of)) continue;
    const { subject } = await subjectNamed(of, workshop);
    if (subject) judged.set(of, subject);
  }
  return judged;
}

/** Why nothing is done with it; null where nothing speaks against it. */
export const outOfPlan = (subject: JudgedSubject, workshop: Workshop): OutOfService | null =>
  stateNow(subject, workshop).outOfService;

function benchSubject(
  subject: JudgedSubject,
  workshop: Workshop,
  done?: { kind: JobKind; endedAt: Date },
): BenchSubject {
  return {
    code: subject.code,
    state: stateNow(subject, workshop, done),
    lastDone: done
      ? { kind: done.kind, agoMin: Math.max(0, (now().getTime() - done.endedAt.getTime()) / minuteMs) }
      : null,
  };
}
