import type { Discharge, DischargeLoad } from '@/core/capacity/discharge';
import type { LogColumn } from '@/core/capacity/logColumns';
import type { Sample } from '@/core/capacity/logReader';
import type { Warning } from '@/core/warning';
import { randomUUID } from 'node:crypto';
import { pipeline } from 'node:stream/promises';
import type { Readable } from 'node:stream';
import type { PoolClient } from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import type { Queryable } from './database';
import { openEntry } from './ledger';

export interface NewRun {
  /** What the log is of: a pack, a cell, or cells that are welded together. */
  subjectIds: readonly number[];
  fileName: string;
  contentSha256: Buffer;
  load: DischargeLoad;
  /** Limit of the resistor or the set current, a share; null where nobody said. */
  loadTolerance?: number | null;
  /** What logged it; null where nobody said. */
  loggerId?: number | null;
  voltageStepV: number;
  /** Null without a column of current. */
  currentStepA?: number | null;
  /** Null without columns of groups. */
  groupStepV?: number | null;
  samples: number;
  columns: LogColumn[];
  notices: Warning[];
  endedAt: Date;
}

/** The next run's id, taken before its row is known, so that its sample rows can be written while a file is read. */
export async function reserveRunId(db: Queryable): Promise<number> {
  const { rows } = await db.query<{ id: number }>(`select nextval(pg_get_serial_sequence('run', 'id')) as id`);
  return rows[0]?.id as number;
}

/** Streams rows made by `createSampleRows` into the database. Their run must be there already. */
export async function copySamples(connection: PoolClient, rows: Readable): Promise<void> {
  await pipeline(
    rows,
    connection.query(
      copyFrom(
        'copy sample (run_id, seq, time_s, voltage_v, current_a, temperature_c, groups_v) from stdin (format binary)',
      ),
    ),
  );
}

export async function addRun(db: Queryable, id: number, run: NewRun): Promise<void> {
  const entryId = await openEntry(db, {
    entry: randomUUID(),
    subjectIds: run.subjectIds,
    takenAt: run.endedAt,
    takenWith: run.loggerId == null ? null : { instrumentId: run.loggerId, channel: null },
  });
  await db.query(
    `insert into run (id, entry_id, file_name, content_sha256, load_kind, load_resistance_ohm, load_current_a,
        load_tolerance, voltage_step_v, current_step_a, group_step_v, samples, columns, notices, ended_at)
     overriding system value
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15)`,
    [
      id,
      entryId,
      run.fileName,
      run.contentSha256,
      run.load.kind,
      run.load.kind === 'resistor' ? run.load.resistanceOhm : null,
      run.load.kind === 'current' ? run.load.currentA : null,
      run.loadTolerance ?? null,
      run.voltageStepV,
      run.currentStepA ?? null,
      run.groupStepV ?? null,
      run.samples,
      JSON.stringify(run.columns),
      JSON.stringify(run.notices),
      run.endedAt,
    ],
  );
}

/** The run that already holds this very file, if one stands. */
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

export interface Run {
  id: number;
  entry: string;
  subjectIds: number[];
  kind: 'cell' | 'pack';
  /** Cells or groups in series. */
  series: number;
  code: string;
  /** Codes of those welded to it, which the log is of as well. */
  withCodes: string[];
  fileName: string;
  load: DischargeLoad;
  loadTolerance: number | null;
  loggerId: number | null;
  voltageStepV: number;
  currentStepA: number | null;
  groupStepV: number | null;
  samples: number;
  columns: LogColumn[];
  notices: Warning[];
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

const selectRun = `
  select run.id, uid as entry, "subjectIds", own.kind, own.series,
    codes[1] as code, codes[2:] as "withCodes", file_name as "fileName",
    load_kind as "loadKind", load_resistance_ohm as "loadResistanceOhm", load_current_a as "loadCurrentA",
    load_tolerance as "loadTolerance", instrument_id as "loggerId", voltage_step_v as "voltageStepV",
    current_step_a as "currentStepA", group_step_v as "groupStepV", samples, columns, notices, ended_at as "endedAt",
    recorded_at as "recordedAt", void_reason as "voidReason",
    exists (select from run_file where run_id = run.id) as "hasFile"
  from run join entry on entry.id = run.entry_id
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

/** The newest runs that stand, with the latest computed capacity. */
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
     left join lateral (select * from run_result where run_id = run.id
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

/** Hands over the samples of a run in order, some thousands at a time. */
export async function eachSample(db: Queryable, runId: number, visit: (sample: Sample) => void): Promise<void> {
  const portion = 20_000;
  for (let from = 0; ; from += portion) {
    const { rows } = await db.query<Sample>(
      `select time_s as "timeS", voltage_v as "voltageV", current_a as "currentA", temperature_c as "temperatureC",
         groups_v as "groupsV"
       from sample where run_id = $1 and seq >= $2 and seq < $3 order by seq`,
      [runId, from, from + portion],
    );
    rows.forEach(visit);
    if (rows.length < portion) return;
  }
}

export interface CurvePoint {
  timeS: number;
  voltageV: number;
  currentA: number | null;
  temperatureC: number | null;
  /** Null where no groups were logged. */
  groupsV?: number[] | null;
}

/** Enough for any screen. */
const usualStretches = 400;

/**
 * The curve of a run, reduced so that the lowest and the highest voltage of every stretch are kept; two points a
 * stretch. It is kept, so that a million samples are gone through once.
 */
export async function curveOf(db: Queryable, runId: number, stretches = usualStretches): Promise<CurvePoint[]> {
  const kept = await db.query<{ points: CurvePoint[] }>('select points from run_curve where run_id = $1', [runId]);
  if (kept.rows[0]) return kept.rows[0].points;
  const { rows } = await db.query<CurvePoint>(
    `with marked as (
       select seq, time_s, voltage_v, current_a, temperature_c, groups_v,
         row_number() over (partition by seq * $2::bigint / (select samples from run
           where id = $1) order by voltage_v, seq) as from_low,
         row_number() over (partition by seq * $2::bigint / (select samples from run
           where id = $1) order by voltage_v desc, seq) as from_high
       from sample where run_id = $1)
     select time_s as "timeS", voltage_v as "voltageV", current_a as "currentA", temperature_c as "temperatureC",
       groups_v as "groupsV"
     from marked where from_low = 1 or from_high = 1 order by seq`,
    [runId, stretches],
  );
  await db.query('insert into run_curve (run_id, points) values ($1, $2) on conflict (run_id) do nothing', [
    runId,
    JSON.stringify(rows),
  ]);
  return rows;
}

export async function resultOf(
  db: Queryable,
  runId: number,
  cutoffV: number,
  arithmetic: number,
): Promise<Discharge | null> {
  const { rows } = await db.query<{ result: Discharge }>(
    'select result from run_result where run_id = $1 and cutoff_v = $2 and arithmetic = $3',
    [runId, cutoffV, arithmetic],
  );
  return rows[0]?.result ?? null;
}

export async function keepResult(
  db: Queryable,
  runId: number,
  cutoffV: number,
  arithmetic: number,
  result: Discharge,
): Promise<void> {
  await db.query(
    `insert into run_result (run_id, cutoff_v, arithmetic, capacity_ah, capacity_u, result)
      values ($1, $2, $3, $4, $5, $6)
     on conflict (run_id, cutoff_v, arithmetic) do nothing`,
    [runId, cutoffV, arithmetic, result.capacityAh.value, result.capacityAh.u, JSON.stringify(result)],
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
     where voided_at is null
       and not exists (select from run_result where run_id = run.id and cutoff_v = cutoff.v and arithmetic = $2)
     order by run.id`,
    [JSON.stringify(cutoffs), arithmetic],
  );
  return rows;
}
