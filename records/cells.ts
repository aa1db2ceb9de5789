import type { CellFacts, StoredResistance } from '@/core/judging/facts';
import type { Chemistry } from '@/core/chemistry/chemistries';
import { prepared, type Queryable, type Snapshot } from './database';
import { resistancesByCell } from './readings';

interface CellRow extends Omit<CellFacts, 'voltage' | 'resistances' | 'run'> {
  voltageV: number | null;
  voltageStep: number | null;
  voltageInstrumentId: number | null;
  voltageChannel: number | null;
  voltageTakenAt: Date | null;
  runId: number | null;
  capacityAh: number | null;
  capacityU: number | null;
  reachedCutoff: boolean | null;
}

/**
 * Every cell (or `only` those with these ids) with its facts. A log counts by its result at the cut-off of its
 * chemistry; of several, the newest that reached the cut-off, else the newest.
 *
 * @param cutoffs cut-off by chemistry, V
 */
export async function cellFacts(
  db: Queryable,
  cutoffs: Record<string, number>,
  arithmetic: number,
  only: readonly number[] | null = null,
): Promise<CellFacts[]> {
  // Planning this takes longer than a few cells do: it is prepared for them, once a connection.
  const some = (column: string): string => (only ? `${column} = any($3)` : 'true');
  const text = `with welded as (
       select distinct on (cell_id) cell_id, id, cell_ids
       from weld, unnest(cell_ids) cell_id
       where voided_at is null and ${some('cell_id')}
       order by cell_id, id desc),
     standing as (
       select distinct on (cell_id, kind) *
       from reading
       where voided_at is null and ${some('cell_id')}
       order by cell_id, kind, id desc),
     inspected as (
       select cell_id, array_agg(distinct finding) filter (where finding is not null) as findings
       from reading left join lateral unnest(findings) finding on true
       where kind = 'inspection' and voided_at is null and ${some('cell_id')} group by cell_id),
     judged as (
       select distinct on (cell.id) cell.id as cell_id, run.id,
         result.capacity_ah / (1 + cardinality(run.with_cell_ids)) as capacity_ah,
         result.capacity_u / (1 + cardinality(run.with_cell_ids)) as capacity_u,
         (result.result ->> 'reachedCutoff')::boolean as reached
       from (select *, cell_id as of_id from run union all select *, unnest(with_cell_ids)
         from run where with_cell_ids <> '{}') run
       join cell on cell.id = run.of_id
       join cell_model on cell_model.id = cell.model_id
       join run_result result on result.run_id = run.id and result.arithmetic = $2
         and result.cutoff_v = ($1::jsonb ->> cell_model.chemistry)::double precision
       where run.voided_at is null and ${some('run.of_id')}
       order by cell.id, (result.result ->> 'reachedCutoff')::boolean desc nulls last, run.ended_at desc, run.id desc)
     select cell.id, cell.code, batch.code as "batchCode", cell.place, 'w' || welded.id as bond,
       coalesce((select array_agg(partner.code order by partner.code) from cell partner
         where partner.id = any(welded.cell_ids) and partner.id <> cell.id), '{}') as "weldedTo",
       batch.archived_at is not null as "putAway", cell_model.maker, cell_model.name as model,
         cell_model.size, cell_model.chemistry,
       cell_model.rated_capacity_ah as "ratedCapacityAh", cell_model.mass_kg as "modelMassKg", cell.rescues,
       cell_model.board, cell_model.as_new_ohm as "asNewOhm", volts.voltage_v as "voltageV",
         volts.step as "voltageStep", volts.instrument_id as "voltageInstrumentId",
         volts.channel as "voltageChannel", volts.taken_at as "voltageTakenAt",
       weight.mass_kg / weight.together as "massKg", weight.step / weight.together as "massStepKg",
       case when inspected.cell_id is not null then coalesce(inspected.findings, '{}') end as findings,
       judged.id as "runId", judged.capacity_ah as "capacityAh", judged.capacity_u as "capacityU",
         judged.reached as "reachedCutoff",
       build_cell.build_id as "buildId"
     from cell
     join batch on batch.id = cell.batch_id
     join cell_model on cell_model.id = cell.model_id
     left join welded on welded.cell_id = cell.id
     left join standing volts on volts.cell_id = cell.id and volts.kind = 'voltage'
     left join standing weight on weight.cell_id = cell.id and weight.kind = 'mass'
     left join inspected on inspected.cell_id = cell.id
     left join judged on judged.cell_id = cell.id
     left join build_cell on build_cell.cell_id = cell.id and not build_cell.released
     where ${some('cell.id')}
     order by cell.code`;
  const values: unknown[] = [JSON.stringify(cutoffs), arithmetic];
  const [{ rows }, resistances] = await Promise.all([
    only ? prepared<CellRow>(db, 'facts of some cells', text, [...values, only]) : db.query<CellRow>(text, values),
    resistancesByCell(db, only),
  ]);
  return rows.map((row) => cellOf(row, resistances.get(row.id) ?? []));
}

function cellOf(row: CellRow, resistances: StoredResistance[]): CellFacts {
  const {
    id,
    code,
    batchCode,
    place,
    bond,
    weldedTo,
    putAway,
    maker,
    model,
    size,
    chemistry,
    ratedCapacityAh,
    modelMassKg,
    board,
    asNewOhm,
    rescues,
    massKg,
    massStepKg,
    findings,
    buildId,
  } = row;
  const {
    voltageV,
    voltageStep,
    voltageInstrumentId,
    voltageChannel,
    voltageTakenAt,
    runId,
    capacityAh,
    capacityU,
    reachedCutoff,
  } = row;
  return {
    id,
    code,
    batchCode,
    place,
    bond,
    weldedTo,
    putAway,
    maker,
    model,
    size,
    chemistry,
    ratedCapacityAh,
    modelMassKg,
    board,
    asNewOhm,
    rescues,
    massKg,
    massStepKg,
    findings,
    buildId,
    voltage:
      voltageV === null || voltageStep === null || voltageTakenAt === null
        ? null
        : {
            valueV: voltageV,
            step: voltageStep,
            instrumentId: voltageInstrumentId,
            channel: voltageChannel,
            takenAt: voltageTakenAt,
          },
    resistances,
    run:
      runId === null || capacityAh === null || capacityU === null
        ? null
        : { id: runId, capacityAh, capacityU, reachedCutoff },
  };
}

/** The next cells in the order of their codes. */
export async function cellIdsAfter(db: Queryable, code: string, most: number): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>('select id from cell where code > $1 order by code limit $2', [
    code,
    most,
  ]);
  return rows.map((row) => row.id);
}

/** A cell by its code, or the cells of a batch. */
export async function cellIdsOf(db: Queryable, of: { code: string } | { batchCode: string }): Promise<number[]> {
  const { rows } =
    'code' in of
      ? await db.query<{ id: number }>('select id from cell where code = $1', [of.code])
      : await db.query<{ id: number }>(
          'select cell.id from cell join batch on batch.id = cell.batch_id where batch.code = $1 order by cell.code',
          [of.batchCode],
        );
  return rows.map((row) => row.id);
}

export async function countCells(db: Queryable): Promise<number> {
  const { rows } = await db.query<{ count: number }>('select count(*) as count from cell');
  return rows[0]?.count ?? 0;
}

/** Cells of which a fact may have come or gone since a snapshot was taken: none too few. */
export async function cellsChangedSince(db: Queryable, { visible }: Snapshot): Promise<number[]> {
  // What that snapshot did not see was done by transactions that had not ended then: none is older than its xmin.
  const { rows } = await db.query<{ id: number }>(
    'select cell_id as id from cell_change where changed_by >= pg_snapshot_xmin($1::pg_snapshot)',
    [visible],
  );
  return rows.map((row) => row.id);
}

export async function cellByCode(
  db: Queryable,
  code: string,
): Promise<{ id: number; code: string; chemistry: Chemistry; batchId: number; weldedIds: number[] } | null> {
  const { rows } = await db.query<{
    id: number;
    code: string;
    chemistry: Chemistry;
    batchId: number;
    weldedIds: number[];
  }>(
    `select cell.id, cell.code, cell_model.chemistry, cell.batch_id as "batchId",
       coalesce((select array_remove(cell_ids, cell.id) from weld where cell_ids @> array[cell.id]
         and voided_at is null order by id desc limit 1), '{}') as "weldedIds"
     from cell join cell_model on cell_model.id = cell.model_id where cell.code = $1`,
    [code],
  );
  return rows[0] ?? null;
}
