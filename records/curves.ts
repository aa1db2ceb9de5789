import type { TeachingRun } from '@/core/judging/curveBook';
import type { Queryable } from './database';

/**
 * Discharges in force that show something of the open-circuit voltage, the newest first: those with a course of it, and
 * of cylindrical cells the newest `mostOfModel` of each model.
 */
export async function teachingRuns(
  db: Queryable,
  cutoffs: Record<string, number>,
  arithmetic: number,
  mostOfModel: number,
): Promise<TeachingRun[]> {
  const { rows } = await db.query<TeachingRun & { kind: 'cell' | 'pack' }>(
    `with discharge as (
       select run.id, run.ended_at, entry.instrument_id, subject.kind, subject.code, subject.series, cell_model.maker,
         cell_model.name, coalesce(subject.chemistry, cell_model.chemistry) as chemistry, cutoff_v, result.result,
         jsonb_typeof(result.result -> 'course') = 'object' as has_course,
         row_number() over (
           partition by case when subject.kind = 'cell' and cell_model.name is not null then 'model ' || cell_model.id
             else 'itself ' || subject.id end
           order by run.ended_at desc, run.id desc) as rank
       from run_result result
       join run_layout on run_layout.id = result.layout_id
       join run on run.id = run_id
       join entry on entry.id = run.entry_id
       cross join lateral (
         select subject.* from entry_subject join subject on subject.id = subject_id where entry_id = entry.id limit 1
       ) subject
       left join cell_model on cell_model.id = subject.model_id
       where arithmetic = $2 and voided_at is null
         and cutoff_v = ($1::jsonb ->> coalesce(subject.chemistry, cell_model.chemistry)::text)::double precision
         and result.layout_id = (select max(id) from run_layout newest where newest.run_id = run.id))
     select id as "runId", ended_at as "endedAt", kind, code, series as groups, maker, name as model, chemistry,
       instrument_id as "loggerId", cutoff_v as "cutoffV",
       (result -> 'segments' -> 0 ->> 'startVoltageV')::double precision as "startV",
       jsonb_build_object('capacityAh', result -> 'capacityAh', 'edges', result -> 'edges',
         'course', result -> 'course', 'meanVoltageV', result -> 'meanVoltageV',
         'meanCurrentA', result -> 'meanCurrentA',
         'reachedCutoff', result -> 'reachedCutoff') as result
     from discharge where has_course or (chemistry = 'li-ion' and rank <= $3)
     order by ended_at desc, id desc`,
    [JSON.stringify(cutoffs), arithmetic, mostOfModel],
  );
  return rows.map(({ kind, ...run }) => (kind === 'pack' ? { ...run, series: run.groups } : run));
}
