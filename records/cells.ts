import type { CellFacts, StoredResistance } from '@/core/judging/facts';
import type { SelfDischargeFacts } from '@/core/judging/judgeSelfDischarge';
import type { Chemistry } from '@/core/chemistry/chemistries';
import { inTurn, prepared, type Queryable, type Snapshot } from './database';
import { selfDischargesBySubject } from './selfDischarges';
import { resistancesBySubject } from './readings';

interface CellRow extends Omit<CellFacts, 'voltage' | 'resistances' | 'holds' | 'run'> {
  voltageV: number | null;
  voltageStep: number | null;
  voltageInstrumentId: number | null;
  voltageChannel: number | null;
  voltageTakenAt: Date | null;
  runId: number | null;
  runEndedAt: Date | null;
  capacityAh: number | null;
  capacityU: number | null;
  reachedCutoff: boolean | null;
  energyWh: number | null;
  meanVoltageV: number | null;
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
  const text = `with read as (
       select subject_id, entry.id, taken_at, instrument_id, channel
       from entry_subject join entry on entry.id = entry_id
       where voided_at is null and ${some('subject_id')}),
     welded as (
       select distinct on (subject_id) subject_id, id
       from read join weld on weld.entry_id = read.id
       order by subject_id, id desc),
     -- What was measured last in a rescue is its newest voltage, too.
     volts as (
       select distinct on (subject_id) read.*, voltage_v, step
       from read
       cross join lateral (
         select voltage_v, step from voltage where voltage.entry_id = read.id and position = 1
         union all
         select voltages_v[1], step from rescue_reading where rescue_reading.entry_id = read.id) measured
       order by subject_id, taken_at desc, id desc),
     weight as (
       select distinct on (subject_id) subject_id, mass_kg / together as mass_kg, step / together as step
       from read join mass on mass.entry_id = read.id
       cross join lateral (select count(*) from entry_subject where entry_id = read.id) every (together)
       order by subject_id, taken_at desc, id desc),
     part as (
       select distinct on (subject_id) subject_id, jsonb_build_object('entry', entry.uid, 'takenAt', read.taken_at,
           'startVoltagesV', start_voltages_v, 'step', step, 'chargeAh', charge_ah / together,
           'chargeLimit', charge_limit, 'endVoltageV', end_voltage_v,
           'instrumentId', read.instrument_id, 'channel', read.channel) as told
       from read join partial_charge on partial_charge.entry_id = read.id join entry on entry.id = read.id
       cross join lateral (select count(*) from entry_subject where entry_id = read.id) every (together)
       order by subject_id, read.taken_at desc, read.id desc),
     noted as (
       select distinct on (subject_id) subject_id, jsonb_build_object('takenAt', taken_at,
           'capacityAh', capacity_ah / together, 'step', step / together) as told
       from read join capacity_noted on capacity_noted.entry_id = read.id
       cross join lateral (select count(*) from entry_subject where entry_id = read.id) every (together)
       order by subject_id, taken_at desc, read.id desc),
     inspected as (
       select subject_id, array_agg(distinct finding) filter (where finding is not null) as findings
       from read join inspection on inspection.entry_id = read.id left join lateral unnest(findings) finding on true
       group by subject_id),
     judged as (
       select distinct on (subject.id) subject.id as subject_id, run.id, run.ended_at,
         result.capacity_ah / together as capacity_ah,
         result.capacity_u / together as capacity_u, (result.result ->> 'reachedCutoff')::boolean as reached,
         (result.result ->> 'energyWh')::double precision / together as energy_wh,
         (result.result ->> 'meanVoltageV')::double precision as mean_v
       from read
       join run on run.entry_id = read.id
       cross join lateral (select count(*) from entry_subject where entry_id = read.id) every (together)
       join subject on subject.id = read.subject_id
       join cell_model on cell_model.id = subject.model_id
       cross join lateral (select max(id) as id from run_layout where run_id = run.id) layout
       join run_result result on result.layout_id = layout.id and result.arithmetic = $2
         and result.cutoff_v = ($1::jsonb ->> cell_model.chemistry)::double precision
       order by subject.id, (result.result ->> 'reachedCutoff')::boolean desc nulls last, run.ended_at desc,
         run.id desc)
     select subject.id, subject.code, batch.code as "batchCode", subject.place, 'w' || welded.id as bond,
       coalesce((select array_agg(partner.code order by partner.code)
         from entry_subject join subject partner on partner.id = subject_id
         where entry_id = welded.id and partner.id <> subject.id), '{}') as "weldedTo",
       batch.archived_at is not null or exists (
         select from retiring join entry on entry.id = entry_id and voided_at is null
           join entry_subject using (entry_id)
         where subject_id = subject.id and act = 'gone') as "putAway", cell_model.maker, cell_model.name as model,
       cell_model.size, cell_model.chemistry, cell_model.rated_capacity_ah as "ratedCapacityAh",
       cell_model.mass_kg as "modelMassKg",
       subject.rescues + (select count(*)::integer from rescue join entry on entry.id = entry_id and voided_at is null
           join entry_subject using (entry_id)
         where subject_id = subject.id) as rescues,
       (select max(began_at) from rescue join entry on entry.id = entry_id and voided_at is null
           join period using (entry_id) join entry_subject using (entry_id)
         where subject_id = subject.id) as "rescuedAt",
       cell_model.board, cell_model.as_new_ohm as "asNewOhm",
       cell_model.charge_a as "labelChargeA", cell_model.discharge_a as "labelDischargeA",
       volts.voltage_v as "voltageV", volts.step as "voltageStep", volts.instrument_id as "voltageInstrumentId",
       volts.channel as "voltageChannel", volts.taken_at as "voltageTakenAt",
       weight.mass_kg as "massKg", weight.step as "massStepKg",
       case when inspected.subject_id is not null then coalesce(inspected.findings, '{}') end as findings,
       part.told as partial, noted.told as noted, judged.id as "runId", judged.ended_at as "runEndedAt",
       judged.capacity_ah as "capacityAh", judged.capacity_u as "capacityU",
       judged.reached as "reachedCutoff", judged.energy_wh as "energyWh", judged.mean_v as "meanVoltageV",
       build_cell.build_id as "buildId",
       case when pack.id is not null then jsonb_build_object('code', pack.code, 'position', build_cell.position) end
         as pack
     from subject
     join batch on batch.id = subject.batch_id
     join cell_model on cell_model.id = subject.model_id
     left join welded on welded.subject_id = subject.id
     left join volts on volts.subject_id = subject.id
     left join weight on weight.subject_id = subject.id
     left join inspected on inspected.subject_id = subject.id
     left join judged on judged.subject_id = subject.id
     left join part on part.subject_id = subject.id
     left join noted on noted.subject_id = subject.id
     left join build_cell on build_cell.cell_id = subject.id and not build_cell.released
     left join subject pack on pack.build_id = build_cell.build_id
     where ${some('subject.id')}
     order by subject.code`;
  const values: unknown[] = [JSON.stringify(cutoffs), arithmetic];
  const ask = inTurn(db);
  const [{ rows }, resistances, selfDischarges] = await Promise.all([
    ask(() => (only ? prepared<CellRow>(db, text, [...values, only]) : db.query<CellRow>(text, values))),
    ask(() => resistancesBySubject(db, only)),
    ask(() => selfDischargesBySubject(db, only)),
  ]);
  return rows.map((row) => cellOf(row, resistances.get(row.id) ?? [], selfDischarges.get(row.id) ?? []));
}

function cellOf(row: CellRow, resistances: StoredResistance[], selfDischarges: SelfDischargeFacts[]): CellFacts {
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
    labelChargeA,
    labelDischargeA,
    rescues,
    rescuedAt,
    massKg,
    massStepKg,
    findings,
    buildId,
    pack,
    partial,
    noted,
  } = row;
  const {
    voltageV,
    voltageStep,
    voltageInstrumentId,
    voltageChannel,
    voltageTakenAt,
    runId,
    runEndedAt,
    capacityAh,
    capacityU,
    reachedCutoff,
    energyWh,
    meanVoltageV,
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
    labelChargeA,
    labelDischargeA,
    rescues,
    rescuedAt,
    massKg,
    massStepKg,
    findings,
    buildId,
    pack,
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
    holds: selfDischarges,
    // A moment within JSON comes as text.
    partial: partial && { ...partial, takenAt: new Date(partial.takenAt) },
    noted: noted && { ...noted, takenAt: new Date(noted.takenAt) },
    run:
      runId === null ||
      runEndedAt === null ||
      capacityAh === null ||
      capacityU === null ||
      energyWh === null ||
      meanVoltageV === null
        ? null
        : { id: runId, endedAt: runEndedAt, capacityAh, capacityU, reachedCutoff, energyWh, meanVoltageV },
  };
}

/** Of every cell, in the order of their codes. */
export async function allCellIds(db: Queryable): Promise<number[]> {
  // As one value: a row for each would hold up other answers.
  const { rows } = await db.query<{ ids: number[] }>(
    "select array(select id from subject where kind = 'cell' order by code) as ids",
  );
  return rows[0]?.ids ?? [];
}

/** A cell by its code, or the cells of a batch. */
export async function cellIdsOf(db: Queryable, of: { code: string } | { batchCode: string }): Promise<number[]> {
  const { rows } =
    'code' in of
      ? await db.query<{ id: number }>("select id from subject where kind = 'cell' and code = $1", [of.code])
      : await db.query<{ id: number }>(
          `select subject.id
           from batch join subject on batch_id = batch.id
           where batch.code = $1
           order by subject.code`,
          [of.batchCode],
        );
  return rows.map((row) => row.id);
}

/** Cells and packs of which a fact may have come or gone since a snapshot was taken: none too few. */
export async function subjectsChangedSince(db: Queryable, { visible }: Snapshot): Promise<number[]> {
  // What that snapshot did not see was done by transactions that had not ended then: none is older than its xmin,
  // which may be that of another database's long one, so younger ones that it did see are left out.
  const { rows } = await db.query<{ id: number }>(
    `select subject_id as id from change
     where changed_by >= pg_snapshot_xmin($1::pg_snapshot) and not pg_visible_in_snapshot(changed_by, $1::pg_snapshot)`,
    [visible],
  );
  return rows.map((row) => row.id);
}

/** What a log can be of. */
export interface LoggedSubject {
  id: number;
  code: string;
  kind: 'cell' | 'pack';
  chemistry: Chemistry;
  series: number;
  /** Null for a pack. */
  batchId: number | null;
  /** Cells that are welded to it: the log is of them as well. */
  weldedIds: number[];
}

export async function subjectByCode(db: Queryable, code: string): Promise<LoggedSubject | null> {
  const { rows } = await db.query<LoggedSubject>(
    `select subject.id, subject.code, kind, coalesce(subject.chemistry, cell_model.chemistry) as chemistry, series,
       subject.batch_id as "batchId",
       array(select subject_id from entry_subject where entry_id = welded.id and subject_id <> subject.id)
         as "weldedIds"
     from subject
     left join cell_model on cell_model.id = subject.model_id
     left join lateral (
       select entry.id
       from entry_subject join entry on entry.id = entry_id join weld using (entry_id)
       where subject_id = subject.id and voided_at is null
       order by entry.id desc limit 1) welded on true
     where subject.code = $1`,
    [code],
  );
  return rows[0] ?? null;
}
