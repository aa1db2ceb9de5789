import type { JobKind, NotPlanned } from '@/core/planning/benchPlan';
import type { Queryable } from './database';

/** When a person is at the bench. */
export interface Attended {
  id: string;
  fromAt: Date;
  toAt: Date;
}

/** Attended hours. The constraint `attended_hours_lie_apart` refuses hours that overlap. */
export async function addAttended(db: Queryable, { id, fromAt, toAt }: Attended): Promise<void> {
  await db.query('insert into attended (id, from_at, to_at) values ($1, $2, $3) on conflict (id) do nothing', [
    id,
    fromAt,
    toAt,
  ]);
}

export async function withdrawAttended(db: Queryable, id: string): Promise<boolean> {
  const { rowCount } = await db.query(
    'update attended set withdrawn_at = now() where id = $1 and withdrawn_at is null',
    [id],
  );
  return rowCount === 1;
}

/** What is not over, in the order of time. */
export async function attendedFrom(db: Queryable, at: Date): Promise<Attended[]> {
  const { rows } = await db.query<Attended>(
    `select id, from_at as "fromAt", to_at as "toAt"
     from attended
     where withdrawn_at is null and to_at > $1
     order by from_at`,
    [at],
  );
  return rows;
}

/** Where and when a job is planned, and how long it takes. */
export interface Place {
  station: string;
  fromAt: Date;
  toAt: Date;
  expectedMin: number;
  doubtMin: number;
  isBlind: boolean;
}

/** A job that is wanted and not done, with where it is planned and how far it is. */
export interface PlannedJob {
  /** Its entry. */
  id: string;
  /** Code of the cell or pack. */
  of: string;
  kind: JobKind;
  after: string | null;
  dueAt: Date | null;
  /** Null until it is in a plan. */
  planned: Place | null;
  /** Null until it was begun; `entry` is that of its period. */
  begun: { entry: string; station: string; at: Date; plannedS: number } | null;
}

/** Every job that was not dropped or ended, each behind the one that it follows. */
export async function plannedJobs(db: Queryable): Promise<PlannedJob[]> {
  const { rows } = await db.query<PlannedJob>(
    `select entry.uid as id, code as of, job as kind,
       after, due_at as "dueAt",
       case when planned.entry_id is not null then jsonb_build_object('station', planned.station,
         'fromAt', extract(epoch from from_at) * 1000, 'toAt', extract(epoch from to_at) * 1000,
         'expectedMin', expected_min, 'doubtMin', doubt_min, 'isBlind', is_blind) end as planned,
       case when begun.of is not null then jsonb_build_object('entry', begun.uid, 'station', begun.station,
         'at', extract(epoch from begun.began_at) * 1000, 'plannedS', begun.planned_s) end as begun
     from job
     join entry on entry.id = job.entry_id and entry.voided_at is null
     join entry_subject on entry_subject.entry_id = entry.id
     join subject on subject.id = subject_id
     left join planned on planned.entry_id = entry.id
     left join (
       select of, uid, station, began_at, planned_s, ended_at
       from job_begun join entry on entry.id = entry_id and voided_at is null join period using (entry_id)
     ) begun on begun.of = entry.uid
     where begun.ended_at is null
     order by entry.id`,
  );
  const there = new Set(rows.map(({ id }) => id));
  return rows.map(({ planned, begun, after, ...job }) => ({
    ...job,
    // What is done or was dropped holds nothing up.
    after: after !== null && there.has(after) ? after : null,
    planned: planned && { ...planned, fromAt: new Date(planned.fromAt), toAt: new Date(planned.toAt) },
    begun: begun && { ...begun, at: new Date(begun.at) },
  }));
}

/** The plan as a whole, as it was made last. */
export interface MadePlan {
  madeAt: Date;
  endsAt: Date;
  boundAt: Date;
  isProven: boolean;
  unplaced: { id: string; why: NotPlanned }[];
}

/** Null where none was ever made. */
export async function madePlan(db: Queryable): Promise<MadePlan | null> {
  const { rows } = await db.query<MadePlan>(
    `select made_at as "madeAt", ends_at as "endsAt", bound_at as "boundAt", is_proven as "isProven", unplaced
     from bench_plan`,
  );
  return rows[0] ?? null;
}

/** Another plan in place of the one before. Run it in a transaction; of two at once the later is kept. */
export async function storePlan(
  db: Queryable,
  plan: MadePlan,
  placed: readonly (Place & { id: string })[],
): Promise<void> {
  await db.query(
    `insert into bench_plan (id, made_at, ends_at, bound_at, is_proven, unplaced)
     values (1, $1, $2, $3, $4, $5)
     on conflict (id) do update set made_at = excluded.made_at, ends_at = excluded.ends_at,
       bound_at = excluded.bound_at, is_proven = excluded.is_proven, unplaced = excluded.unplaced`,
    [plan.madeAt, plan.endsAt, plan.boundAt, plan.isProven, JSON.stringify(plan.unplaced)],
  );
  await db.query('delete from planned');
  await db.query(
    `insert into planned (entry_id, station, from_at, to_at, expected_min, doubt_min, is_blind)
     select entry.id, station, "fromAt", "toAt", "expectedMin", "doubtMin", "isBlind"
     from jsonb_to_recordset($1) as placed (id uuid, station text, "fromAt" timestamptz, "toAt" timestamptz,
       "expectedMin" double precision, "doubtMin" double precision, "isBlind" boolean)
     join entry on entry.uid = placed.id`,
    [JSON.stringify(placed)],
  );
}

/** What was done last with each cell or pack, by its code, and when it ended. */
export async function lastJobsDone(db: Queryable): Promise<Map<string, { kind: JobKind; endedAt: Date }>> {
  const { rows } = await db.query<{ code: string; kind: JobKind; endedAt: Date }>(
    `select distinct on (code) code, job as kind, ended_at as "endedAt"
     from job_begun
     join period using (entry_id)
     join entry on entry.id = entry_id and voided_at is null
     join entry wanted on wanted.uid = of
     join job on job.entry_id = wanted.id
     join entry_subject on entry_subject.entry_id = entry.id
     join subject on subject.id = subject_id
     where ended_at is not null
     order by code, ended_at desc`,
  );
  return new Map(rows.map(({ code, ...done }) => [code, done]));
}
