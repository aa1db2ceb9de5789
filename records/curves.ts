import type { TeachingRun } from '@/core/judging/curveBook';
import type { Queryable } from './database';

/** Standing discharges that show the open-circuit voltage of what they are of, the newest first. */
export async function teachingRuns(
  db: Queryable,
  cutoffs: Record<string, number>,
  arithmetic: number,
): Promise<TeachingRun[]> {
  const { rows } = await db.query<TeachingRun & { kind: 'cell' | 'pack' }>(
    `select run.id as "runId", subject.kind, subject.code, subject.series as groups, cell_model.maker,
       cell_model.name as model, cell_model.size, batch.code as "batchCode",
       coalesce(subject.chemistry, cell_model.chemistry) as chemistry, entry.instrument_id as "loggerId",
       jsonb_build_object('capacityAh', result.result -> 'capacityAh', 'edges', result.result -> 'edges',
         'course', result.result -> 'course') as result
     from run_result result
     join run_layout on run_layout.id = result.layout_id
     join run on run.id = run_id
     join entry on entry.id = run.entry_id
     cross join lateral (
       select subject.* from entry_subject join subject on subject.id = subject_id where entry_id = entry.id limit 1
     ) subject
     left join cell_model on cell_model.id = subject.model_id
     left join batch on batch.id = subject.batch_id
     where jsonb_typeof(result.result -> 'course') = 'object' and arithmetic = $2 and voided_at is null
       and cutoff_v = ($1::jsonb ->> coalesce(subject.chemistry, cell_model.chemistry)::text)::double precision
       and result.layout_id = (select max(id) from run_layout newest where newest.run_id = run.id)
     order by run.ended_at desc, run.id desc`,
    [JSON.stringify(cutoffs), arithmetic],
  );
  return rows.map(({ kind, ...run }) => (kind === 'pack' ? { ...run, series: run.groups } : run));
}
