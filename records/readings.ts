import type { ResistanceBody } from '@/core/judging/bodies';
import type { RoundReadingRow, StoredResistance } from '@/core/judging/facts';
import type { ResistanceFacts } from '@/core/resistance/judgeReading';
import type { MethodKey } from '@/core/resistance/methods';
import type { LoadEdge } from '@/core/resistance/pulses';
import { prepared, type Queryable } from './database';

/**
 * How often a cell was read in a round beside this entry and the one it replaces; none where the entry is stored
 * already. Whoever else wants to file for that cell waits until this transaction has ended.
 */
export async function readByOthers(
  db: Queryable,
  occasionId: number,
  cellId: number,
  { entry, replaces }: { entry: string; replaces: string | null },
): Promise<number> {
  await db.query('select from subject where id = $1 for no key update', [cellId]);
  const { rows } = await db.query<{ count: number }>(
    `select count(*) as count
     from entry join entry_subject on entry_id = entry.id
     where occasion_id = $1 and subject_id = $2 and voided_at is null and uid is distinct from $4
       and not exists (select from entry own where own.uid = $3)`,
    [occasionId, cellId, entry, replaces],
  );
  return rows[0]?.count ?? 0;
}

/** The code of the cell of a batch that stands read, weighed or looked at last; null where none was. */
export async function cellReadLast(db: Queryable, batchCode: string): Promise<string | null> {
  const { rows } = await db.query<{ code: string }>(
    `select subject.code
     from batch join subject on subject.batch_id = batch.id
     cross join lateral (
       select entry.id
       from entry_subject join entry on entry.id = entry_id
       where subject_id = subject.id and voided_at is null and (
         exists (select from voltage where voltage.entry_id = entry.id)
         or exists (select from mass where mass.entry_id = entry.id)
         or exists (select from inspection where inspection.entry_id = entry.id))
       order by entry.id desc limit 1) last
     where batch.code = $1 order by last.id desc limit 1`,
    [batchCode],
  );
  return rows[0]?.code ?? null;
}

/**
 * An arithmetic that reads a log otherwise may see a step one sample earlier or later: no two steps are nearer than
 * this.
 */
const sameStepS = 2.5;

/** Columns that `storedResistance` reads; needs what `resistanceTables` joins. */
const resistanceColumns = `(select count(*) from entry_subject every where every.entry_id = entry.id) as together,
  round.id as "roundId", round.protocol_id as "protocolId", round.method, entry.taken_at as "takenAt",
  entry.instrument_id as "instrumentId", entry.channel,
  coalesce(entry.temperature_c, round.temperature_c) as "temperatureC", round.ammeter_id as "ammeterId",
  coalesce(load_step.open_v, resistance.open_v) as "openV", load_step.loaded_v as "loadedV",
  load_step.after_v as "afterV", load_step.current_a as "currentA",
  coalesce(load_step.step, two_current.step, resistance.step) as step,
  coalesce(load_step.current_step, two_current.current_step) as "currentStep",
  coalesce(load_step.open_step, resistance.open_step) as "openStep", load_step.loaded_step as "loadedStep",
  load_step.after_step as "afterStep", two_current.high_step as "highStep", two_current.at_low_v as "atLowV",
  two_current.at_high_v as "atHighV", two_current.low_current_a as "lowCurrentA",
  two_current.high_current_a as "highCurrentA", resistance.resistance_ohm as "resistanceOhm",
  round.load_resistance_ohm as "loadResistanceOhm", round.load_tolerance as "loadTolerance",
  round.load_rating_w as "loadRatingW", round.zero_taken as "zeroTaken", round.after_s as "afterS",
  pulse.run_id as "runId", pulse.at_s as "atS",
  case
    when load_step.entry_id is not null then 'load-step'
    when two_current.entry_id is not null then 'two-current'
    when resistance.entry_id is not null then 'resistance'
    when pulse.entry_id is not null then 'pulse'
  end as kind,
  case when round.id is not null then (
    select max(at)
    from entry_subject earlier join entry act on act.id = earlier.entry_id
    left join period on period.entry_id = act.id and period.kind = 'rest'
    left join run on run.entry_id = act.id
    cross join lateral (values (period.began_at), (run.ended_at)) moment (at)
    where earlier.subject_id = own.subject_id and act.voided_at is null and at <= entry.taken_at
  ) end as "disturbedAt",
  case when pulse.entry_id is not null then (
    select edge
    from run_result, jsonb_array_elements(result -> 'edges') edge
    where run_result.run_id = pulse.run_id
      and arithmetic = (select max(arithmetic) from run_result where run_id = pulse.run_id)
      and abs((edge ->> 'atS')::double precision - pulse.at_s) < ${sameStepS}
    order by abs((edge ->> 'atS')::double precision - pulse.at_s)
    limit 1) end as edge`;

const resistanceTables = `entry
  join entry_subject own on own.entry_id = entry.id
  left join round on round.occasion_id = entry.occasion_id
  left join load_step on load_step.entry_id = entry.id
  left join two_current on two_current.entry_id = entry.id
  left join resistance on resistance.entry_id = entry.id
  left join pulse on pulse.entry_id = entry.id`;

interface ResistanceRow {
  together: number;
  kind: ResistanceBody['kind'] | null;
  roundId: number | null;
  protocolId: number | null;
  method: MethodKey | null;
  takenAt: Date;
  instrumentId: number | null;
  channel: number | null;
  temperatureC: number | null;
  ammeterId: number | null;
  openV: number | null;
  loadedV: number | null;
  afterV: number | null;
  currentA: number | null;
  step: number | null;
  currentStep: number | null;
  openStep: number | null;
  loadedStep: number | null;
  afterStep: number | null;
  highStep: number | null;
  atLowV: number | null;
  atHighV: number | null;
  lowCurrentA: number | null;
  highCurrentA: number | null;
  resistanceOhm: number | null;
  loadResistanceOhm: number | null;
  loadTolerance: number | null;
  loadRatingW: number | null;
  zeroTaken: boolean | null;
  afterS: number | null;
  runId: number | null;
  atS: number | null;
  disturbedAt: Date | null;
  edge: LoadEdge | null;
}

function storedResistance(row: ResistanceRow): StoredResistance | null {
  const facts = factsOf(row);
  const {
    together,
    roundId,
    protocolId,
    method,
    takenAt,
    temperatureC,
    instrumentId,
    channel,
    ammeterId,
    disturbedAt,
  } = row;
  if (!facts || roundId === null || protocolId === null || method === null) return null;
  return {
    together,
    roundId,
    protocolId,
    method,
    takenAt,
    temperatureC,
    instrumentId,
    channel,
    ammeterId,
    disturbedAt,
    facts,
  };
}

function factsOf(row: ResistanceRow): ResistanceFacts | null {
  const {
    kind,
    openV,
    loadedV,
    afterV,
    currentA,
    step,
    currentStep,
    openStep,
    loadedStep,
    afterStep,
    highStep,
    loadResistanceOhm,
    loadTolerance,
    loadRatingW,
    zeroTaken,
    afterS,
    atLowV,
    lowCurrentA,
    atHighV,
    highCurrentA,
    resistanceOhm,
    runId,
    atS,
    edge,
  } = row;
  if (kind === 'pulse') return runId === null || atS === null ? null : { kind, runId, atS, edge };
  if (step === null) return null;
  if (kind === 'load-step' && openV !== null && loadedV !== null)
    return {
      kind,
      openV,
      loadedV,
      afterV,
      afterS,
      currentA,
      step,
      loadedStep,
      afterStep,
      currentStep,
      loadResistanceOhm,
      loadTolerance,
      loadRatingW,
    };
  if (kind === 'resistance' && resistanceOhm !== null) return { kind, resistanceOhm, step, openV, openStep, zeroTaken };
  if (kind === 'two-current' && atLowV !== null && lowCurrentA !== null && atHighV !== null && highCurrentA !== null)
    return { kind, atLowV, lowCurrentA, atHighV, highCurrentA, step, highStep, currentStep: currentStep ?? step };
  return null;
}

/**
 * Standing readings that show a resistance, newest first. `name` tells the conditions apart, for planning them once.
 */
async function standingResistances(
  db: Queryable,
  name: string,
  condition: string,
  values: unknown[],
): Promise<RoundReadingRow[]> {
  const { rows } = await prepared<
    ResistanceRow & { id: number; entry: string; confirmed: boolean; code: string; cellId: number }
  >(
    db,
    `standing resistances, ${name}`,
    `select ${resistanceColumns}, entry.id, entry.uid as entry, entry.confirmed, own.subject_id as "cellId",
       subject.code
     from ${resistanceTables} join subject on subject.id = own.subject_id
     where entry.occasion_id is not null and entry.voided_at is null and ${condition}
     order by entry.id desc, own.subject_id desc`,
    values,
  );
  return rows.flatMap((row) => {
    const resistance = storedResistance(row);
    return resistance
      ? [{ id: row.id, cellId: row.cellId, entry: row.entry, code: row.code, confirmed: row.confirmed, resistance }]
      : [];
  });
}

/** The standing readings of rounds (or `only` those of one entry or of some cells), newest first. */
export async function readingsOfRounds(
  db: Queryable,
  roundIds: readonly number[],
  only: { entry: string } | { cellIds: readonly number[] } | null = null,
): Promise<RoundReadingRow[]> {
  const ofRounds = 'round.id = any($1)';
  if (only === null) return standingResistances(db, 'rounds', ofRounds, [roundIds]);
  if ('entry' in only)
    return standingResistances(db, 'an entry', `${ofRounds} and entry.uid = $2`, [roundIds, only.entry]);
  return standingResistances(db, 'rounds and cells', `${ofRounds} and own.subject_id = any($2)`, [
    roundIds,
    only.cellIds,
  ]);
}

/**
 * The standing readings of rounds, typed or logged, of every cell (or `only` of those with these ids), newest first, by
 * the cell's id.
 */
export async function resistancesByCell(
  db: Queryable,
  only: readonly number[] | null,
): Promise<Map<number, StoredResistance[]>> {
  const rows = only
    ? await standingResistances(db, 'of cells', 'own.subject_id = any($1)', [only])
    : await standingResistances(db, 'of all', 'true', []);
  const byCell = new Map<number, StoredResistance[]>();
  for (const { cellId, resistance } of rows) {
    const own = byCell.get(cellId);
    if (own) own.push(resistance);
    else byCell.set(cellId, [resistance]);
  }
  return byCell;
}

/** The steps of a run that stand filed as readings, seconds from its start. */
export async function pulsesFiled(db: Queryable, runId: number): Promise<number[]> {
  const { rows } = await db.query<{ atS: number }>(
    'select at_s as "atS" from pulse join entry on entry.id = entry_id where run_id = $1 and voided_at is null',
    [runId],
  );
  return rows.map((row) => row.atS);
}

/** A line that somebody filed, as other screens hear of it. */
export interface FiledElsewhere {
  id: number;
  entry: string;
  codes: string[];
  /** The round it belongs to; null where it belongs to none. */
  roundId: number | null;
}

/** The newest entries, the oldest of them first. */
export async function newestFiled(db: Queryable, most: number): Promise<FiledElsewhere[]> {
  const { rows } = await db.query<FiledElsewhere>(
    `select entry.id, uid as entry, round.id as "roundId",
       array(select code from entry_subject join subject on subject.id = subject_id
         where entry_id = entry.id order by code limit 20) as codes
     from entry left join round using (occasion_id)
     order by entry.id desc limit $1`,
    [most],
  );
  return rows.reverse();
}
