import type { UpkeepAct } from '@/core/judging/upkeep';
import type { Queryable } from './database';

/** A due task that was postponed. */
export interface Postponement {
  code: string;
  act: UpkeepAct;
  untilAt: Date;
  reason: string;
}

/** Postponed tasks that are not void; of a task postponed twice, the later. */
export async function postponements(db: Queryable): Promise<Postponement[]> {
  const { rows } = await db.query<Postponement>(
    `select distinct on (code, act) code, act, until_at as "untilAt", reason
     from put_off
     join entry on entry.id = entry_id
     join entry_subject using (entry_id)
     join subject on subject.id = subject_id
     where voided_at is null
     order by code, act, until_at desc`,
  );
  return rows;
}
