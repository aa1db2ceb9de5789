import type { RetireStep } from '@/core/judging/retiring';
import type { Queryable } from './database';

/** What was done with a cell or pack that is being retired. */
export interface Retiring {
  /** The oldest first. */
  steps: (RetireStep & { entry: string })[];
  /** When its newest run-down ended; null where it goes on, or there was none. */
  offAt: Date | null;
}

export async function retiringOf(db: Queryable, subjectId: number): Promise<Retiring> {
  const { rows } = await db.query<RetireStep & { entry: string; endedAt: Date | null }>(
    `select entry.uid as entry, act, taken_at as at, voltage_v as "voltageV", to_whom as "toWhom",
       ended_at as "endedAt"
     from retiring
     join entry on entry.id = retiring.entry_id
     join entry_subject using (entry_id)
     left join period on period.entry_id = entry.id
     where subject_id = $1 and voided_at is null
     order by taken_at, entry.id`,
    [subjectId],
  );
  return { steps: rows, offAt: rows.findLast(({ act }) => act === 'run-down')?.endedAt ?? null };
}
