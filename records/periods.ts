import type { Body } from '@/core/judging/bodies';
import type { Rest } from '@/core/judging/due';
import { randomUUID } from 'node:crypto';
import type { Queryable } from './database';
import { type Act, fileBodies, openEntry, factsBy } from './ledger';

interface NewPeriod extends Pick<Act, 'subjectIds' | 'occasionId'> {
  kind: 'rest' | 'charge' | 'discharge' | 'hold' | 'rescue' | 'work';
  beganAt: Date;
  plannedS: number;
  /** Of a rest what came before it, and the batch that rests as a whole. */
  restFrom?: 'charge' | 'discharge';
  batchId?: number;
  /** What is done meanwhile. */
  bodies?: readonly Body[];
  /** Made here where it does not exist. */
  entry?: string;
}

/** Something is left to itself from then on. Returns the number of its entry. Run it in a transaction. */
export async function beginPeriod(
  db: Queryable,
  {
    kind,
    subjectIds,
    beganAt,
    plannedS,
    restFrom,
    batchId,
    bodies = [],
    occasionId = null,
    entry = randomUUID(),
  }: NewPeriod,
): Promise<number> {
  const id = (await openEntry(db, { entry, subjectIds, takenAt: beganAt, occasionId })) as number;
  await db.query(
    `insert into period (entry_id, kind, rest_from, batch_id, began_at, planned_s)
     values ($1, $2, $3, $4, $5, $6)`,
    [id, kind, restFrom ?? null, batchId ?? null, beganAt, plannedS],
  );
  await fileBodies(db, id, bodies);
  return id;
}

/** The cells of a batch were charged or discharged, and rest from then on. Run it in a transaction. */
export async function beginRest(
  db: Queryable,
  batchId: number,
  restFrom: 'charge' | 'discharge',
  plannedS: number,
  beganAt: Date,
): Promise<void> {
  const { rows } = await db.query<{ id: number }>('select id from subject where batch_id = $1 order by id', [batchId]);
  const subjectIds = rows.map((row) => row.id);
  await beginPeriod(db, { kind: 'rest', subjectIds, batchId, restFrom, plannedS, beganAt });
}

/** Notes that a person saw that a period is due: the first time counts. It changes nothing else. */
export async function noteSeen(db: Queryable, entry: string, seenAt: Date): Promise<void> {
  await db.query(
    `update period set seen_at = $2
     from entry where entry.id = entry_id and uid = $1 and seen_at is null`,
    [entry, seenAt],
  );
}

/** Notes that a period is over; false where it was already, or was never begun. */
export async function endPeriod(db: Queryable, entry: string, endedAt: Date): Promise<boolean> {
  const { rowCount } = await db.query(
    `update period set ended_at = $2
     from entry where entry.id = entry_id and uid = $1 and ended_at is null and voided_at is null`,
    [entry, endedAt],
  );
  return rowCount === 1;
}

/** Whether a period of that kind is under way for one of these cells or packs. */
export async function isUnderWay(
  db: Queryable,
  kind: NewPeriod['kind'],
  subjectIds: readonly number[],
): Promise<boolean> {
  const { rowCount } = await db.query(
    `select from period
     join entry on entry.id = period.entry_id
     join entry_subject on entry_subject.entry_id = entry.id
     where kind = $1 and subject_id = any($2) and ended_at is null and voided_at is null
     limit 1`,
    [kind, subjectIds],
  );
  return rowCount === 1;
}

/**
 * All that is not ended, a rest, a remedy, a job or a discharge through a resistor; rests that follow from logs after
 * `since`.
 */
export async function validRests(db: Queryable, since: Date): Promise<Rest[]> {
  const { rows } = await db.query<Rest>(
    `select uid as entry, coalesce(batch.code, codes[1]) as code, coalesce(batch.code, codes[1]) as batch,
       case
         when kind = 'rest' then rest_from
         when remedy.entry_id is not null then 'remedy'
         when job_begun.entry_id is not null then 'job'
         when retiring.entry_id is not null then 'run-down'
         else 'resistor'
       end as reason,
       began_at as "beganAt", planned_s as "plannedS", seen_at is not null as seen
     from period join entry on entry.id = period.entry_id
     left join batch on batch.id = batch_id
     left join remedy on remedy.entry_id = entry.id
     left join job_begun on job_begun.entry_id = entry.id
     left join retiring on retiring.entry_id = entry.id
     cross join lateral (
       select array_agg(code order by code) as codes
       from entry_subject join subject on subject.id = subject_id
       where entry_id = entry.id) own
     where kind in ('rest', 'charge', 'discharge', 'work') and ended_at is null and voided_at is null
       and archived_at is null
     union all
     select null, subject.code, coalesce(batch.code, subject.code), 'discharge', ended_at, null, false
     from run join entry on entry.id = entry_id
     cross join lateral (
       select code, batch_id
       from entry_subject join subject on subject.id = subject_id
       where entry_id = entry.id
       order by code limit 1) subject
     left join batch on batch.id = subject.batch_id
     where voided_at is null and archived_at is null and ended_at > $1`,
    [since],
  );
  return rows;
}

/** Evening out a pack, as it was begun. */
export interface BegunRemedy {
  entry: string;
  beganAt: Date;
  endedAt: Date | null;
  told: Omit<Extract<Body, { kind: 'remedy' }>, 'kind'>;
}

/** The newest remedy of a pack; null where none was ever begun. */
export async function newestRemedy(db: Queryable, packId: number): Promise<BegunRemedy | null> {
  const { rows } = await db.query<Omit<BegunRemedy, 'told'> & { told: Record<string, unknown> }>(
    `select uid as entry, began_at as "beganAt", ended_at as "endedAt", to_jsonb(remedy) - 'entry_id' as told
     from remedy
     join period using (entry_id)
     join entry on entry.id = entry_id
     join entry_subject using (entry_id)
     where subject_id = $1 and voided_at is null
     order by began_at desc, entry_id desc limit 1`,
    [packId],
  );
  const [row] = rows;
  return row ? { ...row, told: factsBy(row.told) as BegunRemedy['told'] } : null;
}
