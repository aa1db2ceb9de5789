import type { Held, SelfDischargeFacts, SelfDischargeReading } from '@/core/judging/judgeSelfDischarge';
import { inTurn, type Queryable } from './database';
import { openOccasion } from './occasions';
import { beginPeriod } from './periods';

/** Cells and packs were put to rest for a self-discharge test, under an id that is new. Run it in a transaction. */
export async function beginSelfDischarge(
  db: Queryable,
  selfDischarge: { entry: string; subjectIds: readonly number[]; plannedS: number; beganAt: Date },
): Promise<{ id: number; occasionId: number }> {
  const { entry, subjectIds, plannedS, beganAt } = selfDischarge;
  const occasionId = await openOccasion(db, 'hold');
  const id = await beginPeriod(db, { kind: 'hold', entry, subjectIds, occasionId, beganAt, plannedS });
  return { id, occasionId };
}

interface SelfDischargeRow extends Omit<SelfDischargeFacts, 'subjects'> {
  subjects: Omit<Held, 'readings' | 'disturbedAt' | 'chargedAt'>[];
}

/** Which self-discharge tests: those not ended, one by its number, those that any of some subjects was in, or all. */
export type WhichSelfDischarges = { isOpen: true } | { id: number } | { subjectIds: readonly number[] } | 'all';

/** Standing self-discharge tests, the newest first. */
export async function selfDischargeFacts(db: Queryable, which: WhichSelfDischarges): Promise<SelfDischargeFacts[]> {
  const asked = { isOpen: false, id: null, subjectIds: null, ...(which === 'all' ? {} : which) };
  const { rows: selfDischarges } = await db.query<SelfDischargeRow>(
    `select entry.id, uid as entry, occasion_id as "occasionId", began_at as "beganAt",
       planned_s as "plannedS", seen_at is not null as seen, ended_at as "endedAt",
       (select jsonb_agg(jsonb_build_object('subjectId', subject.id, 'code', subject.code,
            'chemistry', coalesce(subject.chemistry, cell_model.chemistry), 'series', subject.series,
            'isPack', subject.kind = 'pack',
            'maker', cell_model.maker, 'model', cell_model.name)
            order by subject.code)
          from entry_subject join subject on subject.id = subject_id
          left join cell_model on cell_model.id = subject.model_id
          where entry_id = entry.id) as subjects
     from period join entry on entry.id = entry_id
     where kind = 'hold' and voided_at is null
       and ($1::integer[] is null or entry_id in (select entry_id from entry_subject where subject_id = any($1)))
       and ($2::integer is null or entry_id = $2)
       and (ended_at is null or not $3)
     order by began_at desc, entry.id desc`,
    [asked.subjectIds, asked.id, asked.isOpen],
  );
  if (selfDischarges.length === 0) return [];
  const ids = selfDischarges.map(({ id }) => id);
  const ask = inTurn(db);
  const [{ rows: readings }, { rows: disturbed }, { rows: charged }] = await Promise.all([
    ask(() =>
      db.query<SelfDischargeReading & { holdId: number; subjectId: number }>(
        `select hold.id as "holdId", subject_id as "subjectId", position, voltage_v as "valueV", step,
         entry.instrument_id as "instrumentId", entry.channel, entry.taken_at as "takenAt"
       from entry hold
       join entry on entry.occasion_id = hold.occasion_id
       join entry_subject on entry_id = entry.id
       join voltage on voltage.entry_id = entry.id
       where hold.id = any($1) and entry.voided_at is null and position > 0
       order by entry.taken_at`,
        [ids],
      ),
    ),
    ask(() =>
      db.query<{ holdId: number; subjectId: number; at: Date }>(
        `select period.entry_id as "holdId", own.subject_id as "subjectId", coalesce(run.ended_at, taken_at) as at
       from period
       join entry_subject own on own.entry_id = period.entry_id
       join entry_subject about on about.subject_id = own.subject_id
       join entry on entry.id = about.entry_id
       left join run on run.entry_id = entry.id
       where period.entry_id = any($1) and voided_at is null
         and (run.id is not null or state in ('load', 'charge-end', 'discharge-end'))
         and coalesce(run.ended_at, taken_at) between began_at and coalesce(period.ended_at, 'infinity')`,
        [ids],
      ),
    ),
    ask(() =>
      db.query<{ holdId: number; subjectId: number; at: Date }>(
        `select hold.entry_id as "holdId", own.subject_id as "subjectId",
         max(coalesce(charge.ended_at, entry.taken_at)) as at
       from period hold
       join entry_subject own on own.entry_id = hold.entry_id
       join entry_subject about on about.subject_id = own.subject_id
       join entry on entry.id = about.entry_id
       left join period charge on charge.entry_id = entry.id and charge.kind = 'charge'
       where hold.entry_id = any($1) and voided_at is null
         and (charge.ended_at is not null or state = 'charge-end')
         and coalesce(charge.ended_at, entry.taken_at) <= hold.began_at
       group by 1, 2`,
        [ids],
      ),
    ),
  ]);
  const byHeld = new Map<string, SelfDischargeReading[]>();
  for (const { holdId, subjectId, ...reading } of readings) {
    const own = byHeld.get(`${holdId} ${subjectId}`);
    if (own) own.push(reading);
    else byHeld.set(`${holdId} ${subjectId}`, [reading]);
  }
  const chargedAt = new Map(charged.map(({ holdId, subjectId, at }) => [`${holdId} ${subjectId}`, at]));
  return selfDischarges.map(({ subjects, ...selfDischarge }) => ({
    ...selfDischarge,
    subjects: subjects.map((one) => ({
      ...one,
      readings: byHeld.get(`${selfDischarge.id} ${one.subjectId}`) ?? [],
      disturbedAt: disturbed
        .filter(({ holdId, subjectId }) => holdId === selfDischarge.id && subjectId === one.subjectId)
        .map(({ at }) => at),
      chargedAt: chargedAt.get(`${selfDischarge.id} ${one.subjectId}`) ?? null,
    })),
  }));
}

/** The self-discharge tests of each subject, the newest first. Those that were in one together share its facts. */
export async function selfDischargesBySubject(
  db: Queryable,
  only: readonly number[] | null,
): Promise<Map<number, SelfDischargeFacts[]>> {
  const bySubject = new Map<number, SelfDischargeFacts[]>();
  for (const selfDischarge of await selfDischargeFacts(db, only ? { subjectIds: only } : 'all'))
    for (const { subjectId } of selfDischarge.subjects)
      bySubject.set(subjectId, [...(bySubject.get(subjectId) ?? []), selfDischarge]);
  return bySubject;
}
