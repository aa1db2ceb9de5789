import type { Discharge, DischargeLoad } from '@/core/capacity/discharge';
import type { LogColumn } from '@/core/capacity/logColumns';
import type { LogMapping } from '@/core/capacity/logMapping';
import type { Sample } from '@/core/capacity/logReader';
import type { Warning } from '@/core/warning';
import { randomUUID } from 'node:crypto';
import type { PoolClient } from 'pg';
import type { Queryable } from './database';
import { openEntry } from './ledger';
import { copySamples, sampleBlocksOf } from './sampleBlocks';

export interface NewRun {
  /** What the log is of: a pack, a cell, or cells that are welded together. */
  subjectIds: readonly number[];
  fileName: string;
  contentSha256: Buffer;
  /** What logged it; null where not given. */
  loggerId?: number | null;
  endedAt: Date;
}

/** How the file of a run is read. */
export interface RunLayout {
  /** As a person entered it; null where the file says it. */
  mapping: LogMapping | null;
  load: DischargeLoad;
  /** Limit of the resistor or the set current, a share; null where not given. */
  loadTolerance: number | null;
  voltageStepV: number;
  /** Null without a column of current. */
  currentStepA: number | null;
  /** Null without columns of groups. */
  groupStepV: number | null;
  samples: number;
  columns: LogColumn[];
  notices: Warning[];
}

/** The next layout's id, taken before its row is known, so that its samples can be written while a file is read. */
export async function reserveLayoutId(db: Queryable): Promise<number> {
  const { rows } = await db.query<{ id: number }>(`select nextval(pg_get_serial_sequence('run_layout', 'id')) as id`);
  return rows[0]?.id as number;
}

/** Files a run; how it is read is filed with `addLayout`. */
export async function addRun(db: Queryable, run: NewRun): Promise<number> {
  const entryId = await openEntry(db, {
    entry: randomUUID(),
    subjectIds: run.subjectIds,
    takenAt: run.endedAt,
    takenWith: run.loggerId == null ? null : { instrumentId: run.loggerId, channel: null },
  });
  const { rows } = await db.query<{ id: number }>(
    'insert into run (entry_id, file_name, content_sha256, ended_at) values ($1, $2, $3, $4) returning id',
    [entryId, run.fileName, run.contentSha256, run.endedAt],
  );
  return rows[0]?.id as number;
}

/** From now on this is how the file of a run is read. */
export async function addLayout(db: Queryable, id: number, runId: number, layout: RunLayout): Promise<void> {
  const { load } = layout;
  await db.query(
    `insert into run_layout (id, run_id, mapping, load_kind, load_resistance_ohm, load_current_a, load_tolerance,
       voltage_step_v, current_step_a, group_step_v, samples, columns, notices)
     overriding system value
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13)`,
    [
      id,
      runId,
      layout.mapping && JSON.stringify(layout.mapping),
      load.kind,
      load.kind === 'resistor' ? load.resistanceOhm : null,
      load.kind === 'current' ? load.currentA : null,
      layout.loadTolerance,
      layout.voltageStepV,
      layout.currentStepA,
      layout.groupStepV,
      layout.samples,
      JSON.stringify(layout.columns),
      JSON.stringify(layout.notices),
    ],
  );
}

/** Files a run whose samples are all at hand. */
export async function addRunOf(
  connection: PoolClient,
  run: NewRun,
  layout: Pick<RunLayout, 'load'> & Partial<RunLayout>,
  samples: readonly Sample[],
): Promise<{ id: number; layoutId: number }> {
  const layoutId = await reserveLayoutId(connection);
  const id = await addRun(connection, run);
  await addLayout(connection, layoutId, id, {
    mapping: null,
    loadTolerance: null,
    voltageStepV: 0.001,
    currentStepA: null,
    groupStepV: null,
    columns: [],
    notices: [],
    ...layout,
    samples: samples.length,
  });
  await copySamples(connection, sampleBlocksOf(layoutId, samples));
  return { id, layoutId };
}

/** The run that already has this very file, if one is not void. */
export async function runWithContent(
  db: Queryable,
  contentSha256: Buffer,
): Promise<{ id: number; code: string } | null> {
  const { rows } = await db.query<{ id: number; code: string }>(
    `select run.id, min(code) as code
     from run join entry on entry.id = entry_id join entry_subject using (entry_id)
     join subject on subject.id = subject_id
     where content_sha256 = $1 and voided_at is null
     group by run.id`,
    [contentSha256],
  );
  return rows[0] ?? null;
}

export interface Run extends RunLayout {
  id: number;
  entry: string;
  layoutId: number;
  subjectIds: number[];
  kind: 'cell' | 'pack';
  /** Cells or groups in series. */
  series: number;
  code: string;
  /** Codes of those welded to it, which the log is of as well. */
  withCodes: string[];
  fileName: string;
  loggerId: number | null;
  endedAt: Date;
  recordedAt: Date;
  voidReason: string | null;
  /** The file that it came from is kept. */
  hasFile: boolean;
}

interface RunRow extends Omit<Run, 'load'> {
  loadKind: DischargeLoad['kind'];
  loadResistanceOhm: number | null;
  loadCurrentA: number | null;
}

/** How the file of `run` is read now. */
export const layoutOfRun = 'select * from run_layout where run_id = run.id order by id desc limit 1';

const selectRun = `
  select run.id, uid as entry, layout.id as "layoutId", "subjectIds", own.kind, own.series,
    codes[1] as code, codes[2:] as "withCodes", file_name as "fileName", mapping,
    load_kind as "loadKind", load_resistance_ohm as "loadResistanceOhm", load_current_a as "loadCurrentA",
    load_tolerance as "loadTolerance", instrument_id as "loggerId", voltage_step_v as "voltageStepV",
    current_step_a as "currentStepA", group_step_v as "groupStepV", samples, columns, notices, ended_at as "endedAt",
    recorded_at as "recordedAt", void_reason as "voidReason",
    exists (select from run_file where run_id = run.id) as "hasFile"
  from run join entry on entry.id = run.entry_id
  cross join lateral (${layoutOfRun}) layout
  cross join lateral (
    select array_agg(subject_id order by code) as "subjectIds", array_agg(code order by code) as codes,
      min(kind) as kind, min(series) as series
    from entry_subject join subject on subject.id = subject_id
    where entry_id = entry.id) own`;

function runOf({ loadKind, loadResistanceOhm, loadCurrentA, ...row }: RunRow): Run {
  const loads: Record<DischargeLoad['kind'], DischargeLoad> = {
    resistor: { kind: 'resistor', resistanceOhm: loadResistanceOhm ?? NaN },
    current: { kind: 'current', currentA: loadCurrentA ?? NaN },
    column: { kind: 'column' },
  };
  return { ...row, load: loads[loadKind] };
}

export async function runById(db: Queryable, id: number): Promise<Run | null> {
  const { rows } = await db.query<RunRow>(`${selectRun} where run.id = $1`, [id]);
  return rows[0] ? runOf(rows[0]) : null;
}

export async function runsOfSubject(db: Queryable, subjectId: number): Promise<Run[]> {
  const { rows } = await db.query<RunRow>(
    `${selectRun}
     where entry.id in (select entry_id from entry_subject where subject_id = $1)
     order by run.id desc`,
    [subjectId],
  );
  return rows.map(runOf);
}

export interface RunListing {
  id: number;
  code: string;
  fileName: string;
  samples: number;
  endedAt: Date;
  capacityAh: number | null;
  capacityU: number | null;
  reachedCutoff: boolean | null;
}

/** The newest valid runs, with the latest computed capacity. */
export async function listRuns(
  db: Queryable,
  arithmetic: number,
  limit: number,
  offset: number,
): Promise<RunListing[]> {
  const { rows } = await db.query<RunListing>(
    `select run.id, subject.code, file_name as "fileName", samples, ended_at as "endedAt",
       result.capacity_ah as "capacityAh", result.capacity_u as "capacityU",
         (result.result ->> 'reachedCutoff')::boolean as "reachedCutoff"
     from run
     join entry on entry.id = entry_id
     cross join lateral (
       select code
       from entry_subject join subject on subject.id = subject_id
       where entry_id = entry.id
       order by code limit 1) subject
     cross join lateral (${layoutOfRun}) layout
     left join lateral (select * from run_result where layout_id = layout.id
       and arithmetic = $1 order by cutoff_v desc limit 1) result on true
     where voided_at is null
     order by run.ended_at desc, run.id desc limit $2 offset $3`,
    [arithmetic, limit, offset],
  );
  return rows;
}

export async function countRuns(db: Queryable): Promise<number> {
  const { rows } = await db.query<{ count: number }>(
    'select count(*) as count from run join entry on entry.id = entry_id where voided_at is null',
  );
  return rows[0]?.count ?? 0;
}

export async function resultOf(
  db: Queryable,
  layoutId: number,
  cutoffV: number,
  arithmetic: number,
): Promise<Discharge | null> {
  const { rows } = await db.query<{ result: Discharge }>(
    'select result from run_result where layout_id = $1 and cutoff_v = $2 and arithmetic = $3',
    [layoutId, cutoffV, arithmetic],
  );
  return rows[0]?.result ?? null;
}

export async function keepResult(
  db: Queryable,
  layoutId: number,
  cutoffV: number,
  arithmetic: number,
  result: Discharge,
): Promise<void> {
  await db.query(
    `insert into run_result (layout_id, cutoff_v, arithmetic, capacity_ah, capacity_u, result)
      values ($1, $2, $3, $4, $5, $6)
     on conflict (layout_id, cutoff_v, arithmetic) do nothing`,
    [layoutId, cutoffV, arithmetic, result.capacityAh.value, result.capacityAh.u, JSON.stringify(result)],
  );
}

/** Standing runs that have no result at the cut-off of their chemistry: [run id, cut-off of a cell or group]. */
export async function runsWithoutResult(
  db: Queryable,
  cutoffs: Record<string, number>,
  arithmetic: number,
): Promise<{ id: number; cutoffV: number }[]> {
  const { rows } = await db.query<{ id: number; cutoffV: number }>(
    `select distinct run.id, cutoff.v as "cutoffV"
     from run
     join entry on entry.id = entry_id
     join entry_subject using (entry_id)
     join subject on subject.id = subject_id
     left join cell_model on cell_model.id = subject.model_id
     join (select key, value::double precision as v from jsonb_each_text($1)) cutoff
       on cutoff.key = coalesce(subject.chemistry, cell_model.chemistry)
     cross join lateral (select max(id) as id from run_layout where run_id = run.id) layout
     where voided_at is null
       and not exists (select from run_result where layout_id = layout.id and cutoff_v = cutoff.v and arithmetic = $2)
     order by run.id`,
    [JSON.stringify(cutoffs), arithmetic],
  );
  return rows;
}

/** A discharge that ended at the cut-off; of welded cells the share of one. */
export interface Discharged {
  runId: number;
  endedAt: Date;
  capacityAh: number;
  u: number;
  meanCurrentA: number;
}

/** Every standing discharge of a cell or pack that ended at the cut-off, the oldest first. */
export async function dischargesOf(
  db: Queryable,
  subjectId: number,
  cutoffV: number,
  arithmetic: number,
): Promise<Discharged[]> {
  const { rows } = await db.query<Discharged>(
    `select run.id as "runId", run.ended_at as "endedAt", capacity_ah / together as "capacityAh",
       capacity_u / together as u, (result.result ->> 'meanCurrentA')::double precision / together as "meanCurrentA"
     from entry_subject
     join entry on entry.id = entry_id
     join run using (entry_id)
     cross join lateral (select count(*) from entry_subject every where every.entry_id = entry.id) every (together)
     cross join lateral (select max(id) as id from run_layout where run_id = run.id) layout
     join run_result result on result.layout_id = layout.id and cutoff_v = $2 and arithmetic = $3
     where subject_id = $1 and voided_at is null and (result.result ->> 'reachedCutoff')::boolean
     order by run.ended_at, run.id`,
    [subjectId, cutoffV, arithmetic],
  );
  return rows;
}
