import type { UpkeepAct } from '@/core/judging/upkeep';
import type { Queryable } from './database';

/** What somebody put off that was due. */
export interface PutOff {
  code: string;
  act: UpkeepAct;
  untilAt: Date;
  reason: string;
}

/** What is put off, and stands; of a thing that was put off twice the later. */
export async function standingPutOffs(db: Queryable): Promise<PutOff[]> {
  const { rows } = await db.query<PutOff>(
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
