import type { PastVisits, VisitReason, VisitsByReason } from '@/core/packs/diagnosis/visit';
import type { Queryable } from './database';

/** A visit is over after this, and what was done until then followed from it. */
const days = 30;

/**
 * Visits of packs that are over, by their reason: a visit begins with voltages of a pack that had none for thirty days.
 * It found a fault where the pack was mended, balanced or retired within thirty days.
 */
export async function pastVisits(db: Queryable, now: Date): Promise<VisitsByReason> {
  const { rows } = await db.query<PastVisits & { reason: VisitReason }>(
    `with measured as (
       select subject_id, taken_at, state,
         lag(taken_at) over (partition by subject_id order by taken_at) as before
       from entry
       join entry_subject on entry_id = entry.id
       join subject on subject.id = subject_id
       where subject.kind = 'pack' and state is not null and voided_at is null),
     visit as (
       select * from measured
       where (before is null or before < taken_at - make_interval(days => $1))
         and taken_at < $2::timestamptz - make_interval(days => $1)),
     told as (
       select visit.*,
         exists (
           select from entry
           join entry_subject about on about.entry_id = entry.id
           join complaint on complaint.entry_id = entry.id
           where about.subject_id = visit.subject_id and voided_at is null
             and entry.taken_at between visit.taken_at - interval '1 day' and visit.taken_at + interval '1 day'
         ) as complained,
         exists (
           select from entry
           join entry_subject about on about.entry_id = entry.id
           where about.subject_id = visit.subject_id and voided_at is null
             and entry.taken_at between visit.taken_at and visit.taken_at + make_interval(days => $1)
             and (exists (select from mended where mended.entry_id = entry.id)
               or exists (select from remedy where remedy.entry_id = entry.id)
               or exists (select from retiring where retiring.entry_id = entry.id))
         ) as is_faulty
       from visit)
     select
       case when complained then 'complaint' when state = 'after-use' then 'after-use' else 'routine' end as reason,
       count(*)::int as visits, (count(*) filter (where is_faulty))::int as faulty
     from told group by 1`,
    [days, now],
  );
  const of = (reason: VisitReason): PastVisits => {
    const { visits, faulty } = rows.find((row) => row.reason === reason) ?? { visits: 0, faulty: 0 };
    return { visits, faulty };
  };
  return { routine: of('routine'), 'after-use': of('after-use'), complaint: of('complaint') };
}
