import type { RescueAct, RescueFacts, RescueReading } from '@/core/judging/rescue';
import { inTurn, type Queryable } from './database';

/** Which rescues: those not ended, or all of one subject. */
export type WhichRescues = { isOpen: true } | { subjectId: number };

/** Rescues with all that was read and done in them, the newest first. */
export async function rescueFacts(db: Queryable, which: WhichRescues): Promise<RescueFacts[]> {
  const subjectId = 'subjectId' in which ? which.subjectId : null;
  const { rows } = await db.query<Omit<RescueFacts, 'readings' | 'acts'>>(
    `select entry.uid as entry, subject.id as "subjectId", subject.code, coalesce(subject.series, 1) as series,
       coalesce(subject.chemistry, cell_model.chemistry) as chemistry, began_at as "beganAt", ended.at as "endedAt",
       rescue.current_a as "currentA",
       case when own_limits is not null
         then jsonb_build_object('limits', own_limits, 'reason', own_reason) end as own
     from period
     join entry on entry.id = period.entry_id
     join rescue on rescue.entry_id = entry.id
     join entry_subject on entry_subject.entry_id = entry.id
     join subject on subject.id = subject_id
     left join cell_model on cell_model.id = subject.model_id
     -- Voiding what ended a rescue makes it go on.
     left join lateral (
       select min(acted.taken_at) as at
       from rescue_act
       join entry acted on acted.id = rescue_act.entry_id and acted.voided_at is null
       join entry_subject own on own.entry_id = acted.id
       where act = 'end' and own.subject_id = subject.id
         and acted.taken_at >= began_at) ended on true
     where period.kind = 'rescue' and entry.voided_at is null
       and ($1::integer is null and ended.at is null or subject.id = $1)
     order by began_at desc, entry.id desc`,
    [subjectId],
  );
  const ids = rows.map((row) => row.subjectId);
  if (ids.length === 0) return [];
  const ask = inTurn(db);
  const [{ rows: readings }, { rows: acts }] = await Promise.all([
    ask(() =>
      db.query<RescueReading & { subjectId: number }>(
        `select subject_id as "subjectId", entry.uid as entry, taken_at as "takenAt", voltages_v as "voltagesV", step,
         skin_c as "skinC", is_warm as "isWarm"
       from rescue_reading
       join entry on entry.id = rescue_reading.entry_id
       join entry_subject on entry_subject.entry_id = entry.id
       where subject_id = any($1) and voided_at is null
       order by taken_at, entry.id`,
        [ids],
      ),
    ),
    ask(() =>
      db.query<RescueAct & { subjectId: number }>(
        `select subject_id as "subjectId", taken_at as at, act, why
       from rescue_act
       join entry on entry.id = rescue_act.entry_id
       join entry_subject on entry_subject.entry_id = entry.id
       where subject_id = any($1) and voided_at is null
       order by taken_at, entry.id`,
        [ids],
      ),
    ),
  ]);
  return rows.map((rescue) => {
    const isWithin = (at: Date): boolean => at >= rescue.beganAt && (rescue.endedAt === null || at <= rescue.endedAt);
    return {
      ...rescue,
      readings: readings.flatMap(({ subjectId: of, ...one }) =>
        of === rescue.subjectId && isWithin(one.takenAt) ? one : [],
      ),
      acts: acts.flatMap(({ subjectId: of, ...one }) => (of === rescue.subjectId && isWithin(one.at) ? one : [])),
    };
  });
}
