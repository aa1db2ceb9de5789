import type { Queryable } from './database';

export async function beginRest(
  db: Queryable,
  batchId: number,
  reason: 'charge' | 'discharge',
  plannedS: number,
  beganAt = new Date(),
): Promise<void> {
  await db.query('insert into rest (batch_id, reason, began_at, planned_s) values ($1, $2, $3, $4)', [
    batchId,
    reason,
    beganAt,
    plannedS,
  ]);
}

export async function endRest(db: Queryable, id: number, reason: string): Promise<void> {
  await db.query('update rest set voided_at = now(), void_reason = $2 where id = $1 and voided_at is null', [
    id,
    reason,
  ]);
}

/** Something that rests: a whole batch put to rest, or one cell after a discharge that a log shows. */
export interface Resting {
  /** Null for a cell whose rest follows from its log. */
  restId: number | null;
  code: string;
  batch: string;
  reason: 'charge' | 'discharge';
  dueAt: Date;
}

/**
 * What rests now or came to its end within the last two hours. Cells rest for `afterDischargeS` once their log ended.
 */
export async function restingNow(db: Queryable, afterDischargeS: number): Promise<Resting[]> {
  const { rows } = await db.query<Resting>(
    `select * from (
       select rest.id as "restId", batch.code, batch.code as batch, rest.reason,
         began_at + planned_s * interval '1 second' as "dueAt"
       from rest join batch on batch.id = rest.batch_id where voided_at is null and archived_at is null
       union all
       select null, cell.code, batch.code, 'discharge', ended_at + $1 * interval '1 second'
       from run join cell on cell.id = run.cell_id join batch on batch.id = cell.batch_id
         where voided_at is null and archived_at is null and ended_at > now() - interval '1 day') resting
     where "dueAt" > now() - interval '2 hours'
     order by "dueAt" limit 100`,
    [afterDischargeS],
  );
  return rows;
}
