import type { Chemistry } from '@/core/chemistry/chemistries';
import type { InspectionFinding } from '@/core/grading/intake';
import type { Queryable } from './database';

/** One cell with the facts that its verdicts stand on. */
export interface CellFacts {
  id: number;
  code: string;
  batchCode: string;
  place: number;
  bond: string | null;
  maker: string;
  model: string;
  chemistry: Chemistry;
  ratedCapacityAh: number;
  modelMassKg: number | null;
  rescues: number;
  /** The newest standing reading of each kind. */
  voltageV: number | null;
  massKg: number | null;
  massStepKg: number | null;
  /** Null until it was inspected; all standing findings together. */
  findings: InspectionFinding[] | null;
  step: LoadStepFacts | null;
  run: { id: number; capacityAh: number; capacityU: number; reachedCutoff: boolean | null } | null;
  /** A standing log that has no result at the cut-off in force yet. */
  unjudgedRun: boolean;
  buildId: number | null;
}

export interface LoadStepFacts {
  openV: number;
  loadedV: number;
  afterV: number | null;
  currentA: number | null;
  step: number;
  currentStep: number | null;
  loadResistanceOhm: number | null;
  loadTolerance: number | null;
  loadRatingW: number | null;
  roundId: number;
}

interface CellRow extends Omit<CellFacts, 'step' | 'run'> {
  openV: number | null;
  loadedV: number | null;
  afterV: number | null;
  currentA: number | null;
  readingStep: number | null;
  currentStep: number | null;
  loadResistanceOhm: number | null;
  loadTolerance: number | null;
  loadRatingW: number | null;
  roundId: number | null;
  runId: number | null;
  capacityAh: number | null;
  capacityU: number | null;
  reachedCutoff: boolean | null;
}

/**
 * Every cell (or those of one batch or one code) with its facts. A log counts by its result at the cut-off of its
 * chemistry; of several, the newest that reached the cut-off, else the newest.
 *
 * @param cutoffs cut-off by chemistry, V
 */
export async function cellFacts(db: Queryable, cutoffs: Record<string, number>, arithmetic: number, only: { batchCode?: string; code?: string } = {}): Promise<CellFacts[]> {
  const { rows } = await db.query<CellRow>(
    `with standing as (
       select distinct on (cell_id, kind) * from reading where voided_at is null order by cell_id, kind, id desc),
     inspected as (
       select cell_id, array_agg(distinct finding) filter (where finding is not null) as findings
       from reading left join lateral unnest(findings) finding on true
       where kind = 'inspection' and voided_at is null group by cell_id),
     judged as (
       select distinct on (run.cell_id) run.cell_id, run.id, result.capacity_ah, result.capacity_u, (result.result ->> 'reachedCutoff')::boolean as reached
       from run
       join cell on cell.id = run.cell_id
       join cell_model on cell_model.id = cell.model_id
       join run_result result on result.run_id = run.id and result.arithmetic = $2 and result.cutoff_v = ($1::jsonb ->> cell_model.chemistry)::double precision
       where run.voided_at is null
       order by run.cell_id, (result.result ->> 'reachedCutoff')::boolean desc nulls last, run.ended_at desc, run.id desc)
     select cell.id, cell.code, batch.code as "batchCode", cell.place, cell.bond, cell_model.maker, cell_model.name as model, cell_model.chemistry,
       cell_model.rated_capacity_ah as "ratedCapacityAh", cell_model.mass_kg as "modelMassKg", cell.rescues,
       volts.voltage_v as "voltageV", weight.mass_kg as "massKg", weight.step as "massStepKg",
       case when inspected.cell_id is not null then coalesce(inspected.findings, '{}') end as findings,
       load.open_v as "openV", load.loaded_v as "loadedV", load.after_v as "afterV", load.current_a as "currentA", load.step as "readingStep",
       load.current_step as "currentStep", load.round_id as "roundId",
       round.load_resistance_ohm as "loadResistanceOhm", round.load_tolerance as "loadTolerance", round.load_rating_w as "loadRatingW",
       judged.id as "runId", judged.capacity_ah as "capacityAh", judged.capacity_u as "capacityU", judged.reached as "reachedCutoff",
       judged.id is null and exists (select from run where run.cell_id = cell.id and run.voided_at is null) as "unjudgedRun",
       build_cell.build_id as "buildId"
     from cell
     join batch on batch.id = cell.batch_id
     join cell_model on cell_model.id = cell.model_id
     left join standing volts on volts.cell_id = cell.id and volts.kind = 'voltage'
     left join standing weight on weight.cell_id = cell.id and weight.kind = 'mass'
     left join inspected on inspected.cell_id = cell.id
     left join standing load on load.cell_id = cell.id and load.kind = 'load-step'
     left join round on round.id = load.round_id
     left join judged on judged.cell_id = cell.id
     left join build_cell on build_cell.cell_id = cell.id and not build_cell.released
     where ($3::text is null or batch.code = $3) and ($4::text is null or cell.code = $4)
     order by cell.code`,
    [JSON.stringify(cutoffs), arithmetic, only.batchCode ?? null, only.code ?? null],
  );
  return rows.map(factsOf);
}

function factsOf(row: CellRow): CellFacts {
  const { openV, loadedV, afterV, currentA, readingStep, currentStep, loadResistanceOhm, loadTolerance, loadRatingW, roundId, runId, capacityAh, capacityU, reachedCutoff, ...cell } = row;
  return {
    ...cell,
    step:
      openV === null || loadedV === null || readingStep === null || roundId === null
        ? null
        : { openV, loadedV, afterV, currentA, step: readingStep, currentStep, loadResistanceOhm, loadTolerance, loadRatingW, roundId },
    run: runId === null || capacityAh === null || capacityU === null ? null : { id: runId, capacityAh, capacityU, reachedCutoff },
  };
}

export async function cellByCode(db: Queryable, code: string): Promise<{ id: number; code: string; chemistry: Chemistry } | null> {
  const { rows } = await db.query<{ id: number; code: string; chemistry: Chemistry }>(
    'select cell.id, cell.code, cell_model.chemistry from cell join cell_model on cell_model.id = cell.model_id where cell.code = $1',
    [code],
  );
  return rows[0] ?? null;
}
