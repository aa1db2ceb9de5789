import type { RoundReadingRow, StoredResistance } from '@/core/judging/facts';
import type { InspectionFinding } from '@/core/grading/intake';
import type { ResistanceFacts } from '@/core/resistance/judgeReading';
import type { MethodKey } from '@/core/resistance/methods';
import type { LoadEdge } from '@/core/resistance/pulses';
import { prepared, type Queryable } from './database';
import { isNewEntry } from './entries';

/** The instrument a reading was taken with, where one was named. */
export interface TakenWith {
  instrumentId: number;
  channel: number;
}

export type NewReading =
  | { kind: 'voltage'; voltageV: number; step: number }
  | { kind: 'mass'; massKg: number; step: number }
  | { kind: 'inspection'; findings: InspectionFinding[] }
  | NewResistanceReading;

/** A reading of a resistance round, raw. */
export type NewResistanceReading = { roundId: number; temperatureC: number | null } & (
  | {
      kind: 'load-step';
      openV: number;
      loadedV: number;
      afterV: number | null;
      currentA: number | null;
      step: number;
      loadedStep?: number | null;
      afterStep?: number | null;
      currentStep: number | null;
    }
  | {
      kind: 'two-current';
      atLowV: number;
      lowCurrentA: number;
      atHighV: number;
      highCurrentA: number;
      step: number;
      highStep?: number | null;
      currentStep: number;
    }
  | { kind: 'resistance'; resistanceOhm: number; step: number; openV: number | null; openStep?: number | null }
  | { kind: 'pulse'; runId: number; atS: number }
);

export interface Entry {
  /** Made by whoever typed it, so that sending it twice files it once. */
  entry: string;
  cellId: number;
  /** Those read together with it, since they are welded: the same is filed for each. */
  withCellIds?: readonly number[];
  confirmed: boolean;
  readings: NewReading[];
  takenWith?: TakenWith | null;
  takenAt?: Date;
}

/** Columns by the name that a reading gives its values. */
const columnOf = {
  roundId: 'round_id',
  temperatureC: 'temperature_c',
  voltageV: 'voltage_v',
  massKg: 'mass_kg',
  findings: 'findings',
  openV: 'open_v',
  loadedV: 'loaded_v',
  afterV: 'after_v',
  currentA: 'current_a',
  step: 'step',
  currentStep: 'current_step',
  atLowV: 'at_low_v',
  atHighV: 'at_high_v',
  lowCurrentA: 'low_current_a',
  highCurrentA: 'high_current_a',
  resistanceOhm: 'resistance_ohm',
  openStep: 'open_step',
  loadedStep: 'loaded_step',
  afterStep: 'after_step',
  highStep: 'high_step',
  runId: 'run_id',
  atS: 'at_s',
} as const;

const storedColumns = Object.entries(columnOf)
  .map(([name, column]) => `${column} as "${name}"`)
  .join(', ');

/**
 * How often a cell was read in a round beside this entry and the one it replaces; none where the entry is stored
 * already. Whoever else wants to file for that cell waits until this transaction has ended.
 */
export async function readByOthers(
  db: Queryable,
  roundId: number,
  cellId: number,
  { entry, replaces }: { entry: string; replaces: string | null },
): Promise<number> {
  await db.query('select from cell where id = $1 for no key update', [cellId]);
  const { rows } = await db.query<{ count: number }>(
    `select count(*) as count
     from reading
     where round_id = $1 and cell_id = $2 and voided_at is null and entry is distinct from $4
       and not exists (select from reading own where own.entry = $3 and own.cell_id = $2)`,
    [roundId, cellId, entry, replaces],
  );
  return rows[0]?.count ?? 0;
}

/**
 * Files all readings of one entry. Returns false for an entry that was filed already. Run it in a transaction.
 *
 * @throws EntryTaken when something else was filed under that id
 */
export async function fileEntry(
  db: Queryable,
  { entry, cellId, withCellIds = [], confirmed, readings, takenWith = null, takenAt = new Date() }: Entry,
): Promise<boolean> {
  let inserted = 0;
  const cellIds = [cellId, ...withCellIds];
  const together = cellIds.length;
  for (const {
    reading: { kind, ...values },
    id,
  } of readings.flatMap((reading) => cellIds.map((id) => ({ reading, id })))) {
    const own = Object.entries(values).sort() as [keyof typeof columnOf, unknown][];
    const given = [
      entry,
      id,
      together,
      kind,
      confirmed,
      takenAt,
      takenWith?.instrumentId ?? null,
      takenWith?.channel ?? null,
      ...own.map(([, value]) => value),
    ];
    const { rowCount } = await prepared(
      db,
      `file a ${kind} reading`,
      `insert into reading (entry, cell_id, together, kind, confirmed, taken_at,
          instrument_id, channel${own.map(([name]) => `, ${columnOf[name]}`).join('')})
       values (${given.map((_, i) => `$${i + 1}`).join(', ')})
       on conflict (entry, kind, cell_id) do nothing`,
      given,
    );
    inserted += rowCount ?? 0;
  }
  const { rows } = await prepared<NewReading & { cellId: number; together: number }>(
    db,
    'what an entry filed',
    `select kind, cell_id as "cellId", together, ${storedColumns} from reading where entry = $1`,
    [entry],
  );
  return isNewEntry(
    readings.flatMap((reading) => cellIds.map((id) => ({ ...reading, cellId: id, together }))),
    rows,
    ['kind', 'cellId'],
    inserted,
  );
}

/**
 * Files the voided readings of an entry once more, as a new entry. Returns how many there were. The voided ones stay as
 * they are: facts are not unvoided.
 */
export async function refileEntry(db: Queryable, entry: string, anew: string): Promise<number> {
  const kept = [
    'cell_id',
    'together',
    'kind',
    'confirmed',
    'taken_at',
    'instrument_id',
    'channel',
    ...Object.values(columnOf),
  ].join(', ');
  const { rowCount } = await db.query(
    `insert into reading (entry, ${kept})
      select $2, ${kept}
      from reading
      where entry = $1 and voided_at is not null
      on conflict (entry, kind, cell_id) do nothing`,
    [entry, anew],
  );
  return rowCount ?? 0;
}

/** The code of the cell of a batch that stands read, weighed or looked at last; null where none was. */
export async function cellReadLast(db: Queryable, batchCode: string): Promise<string | null> {
  const { rows } = await db.query<{ code: string }>(
    `select cell.code from cell join batch on batch.id = cell.batch_id
     cross join lateral (select id from reading where cell_id = cell.id and kind in ('voltage', 'mass',
       'inspection') and voided_at is null order by id desc limit 1) last
     where batch.code = $1 order by last.id desc limit 1`,
    [batchCode],
  );
  return rows[0]?.code ?? null;
}

/** Voids every reading of an entry. Returns how many there were. */
export async function voidEntry(db: Queryable, entry: string, reason: string): Promise<number> {
  const { rowCount } = await db.query(
    'update reading set voided_at = now(), void_reason = $2 where entry = $1 and voided_at is null',
    [entry, reason],
  );
  return rowCount ?? 0;
}

export interface StoredReading {
  id: number;
  entry: string;
  kind: NewReading['kind'];
  roundId: number | null;
  voltageV: number | null;
  massKg: number | null;
  /** Last digit of a voltage or a weight, in its SI unit. */
  step: number | null;
  /** So many welded cells were read as one. */
  together: number;
  findings: InspectionFinding[] | null;
  instrumentId: number | null;
  channel: number | null;
  confirmed: boolean;
  takenAt: Date;
  voidReason: string | null;
  resistance: StoredResistance | null;
}

interface ReadingRow extends Omit<StoredReading, 'resistance' | 'kind'>, ResistanceRow {}

/**
 * An arithmetic that reads a log otherwise may see a step one sample earlier or later: no two steps are nearer than
 * this.
 */
const sameStepS = 2.5;

/** Columns that `storedResistance` reads, all null for other readings; needs `reading` and a left-joined `round`. */
const resistanceColumns = `reading.kind as "kind", reading.together, reading.round_id as "roundId",
  round.protocol_id as "protocolId", round.method as "method", reading.taken_at as "takenAt",
  reading.instrument_id as "instrumentId", reading.channel as "channel",
  coalesce(reading.temperature_c, round.temperature_c) as "temperatureC", round.ammeter_id as "ammeterId",
  reading.open_v as "openV", reading.loaded_v as "loadedV", reading.after_v as "afterV",
  reading.current_a as "currentA", reading.step as "step", reading.current_step as "currentStep",
  reading.open_step as "openStep", reading.loaded_step as "loadedStep", reading.after_step as "afterStep",
  reading.high_step as "highStep", reading.at_low_v as "atLowV", reading.at_high_v as "atHighV",
  reading.low_current_a as "lowCurrentA", reading.high_current_a as "highCurrentA",
  reading.resistance_ohm as "resistanceOhm", round.load_resistance_ohm as "loadResistanceOhm",
  round.load_tolerance as "loadTolerance", round.load_rating_w as "loadRatingW",
  round.zero_taken as "zeroTaken", round.after_s as "afterS",
  case when reading.round_id is not null then greatest(
    (select max(began_at)
     from rest
     where rest.batch_id = (select batch_id from cell where cell.id = reading.cell_id)
       and rest.voided_at is null and began_at <= reading.taken_at),
    (select max(ended_at)
     from run
     where run.cell_id = reading.cell_id and run.voided_at is null and ended_at <= reading.taken_at)
  ) end as "disturbedAt",
  case when reading.kind = 'pulse' then (
    select edge
    from run_result, jsonb_array_elements(result -> 'edges') edge
    where run_result.run_id = reading.run_id
      and arithmetic = (select max(arithmetic) from run_result where run_id = reading.run_id)
      and abs((edge ->> 'atS')::double precision - reading.at_s) < ${sameStepS}
    order by abs((edge ->> 'atS')::double precision - reading.at_s)
    limit 1) end as "edge"`;

interface ResistanceRow {
  together: number;
  kind: NewReading['kind'];
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
    edge,
  } = row;
  if (kind === 'pulse') return { kind, edge };
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

const selectReading = `select ${resistanceColumns}, reading.id, reading.entry, reading.voltage_v as "voltageV",
    reading.mass_kg as "massKg", reading.findings,
    reading.confirmed, reading.void_reason as "voidReason"`;

const readingOf = (row: ReadingRow): StoredReading => {
  const {
    id,
    entry,
    kind,
    roundId,
    voltageV,
    massKg,
    step,
    together,
    findings,
    instrumentId,
    channel,
    confirmed,
    takenAt,
    voidReason,
  } = row;
  return {
    id,
    entry,
    kind,
    roundId,
    voltageV,
    massKg,
    step,
    together,
    findings,
    instrumentId,
    channel,
    confirmed,
    takenAt,
    voidReason,
    resistance: storedResistance(row),
  };
};

/** Everything ever read of one cell, newest first, voided ones included. */
export async function readingsOfCell(db: Queryable, cellId: number): Promise<StoredReading[]> {
  const { rows } = await db.query<ReadingRow>(
    `${selectReading} from reading left join round on round.id = reading.round_id where reading.cell_id = $1 ` +
      'order by reading.id desc',
    [cellId],
  );
  return rows.map(readingOf);
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
  const { rows } = await prepared<ReadingRow & { code: string; cellId: number }>(
    db,
    `standing resistances, ${name}`,
    `${selectReading}, reading.cell_id as "cellId", cell.code
     from reading join round on round.id = reading.round_id join cell on cell.id = reading.cell_id
     where reading.voided_at is null and ${condition}
     order by reading.id desc`,
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
  const ofRounds = 'reading.round_id = any($1)';
  if (only === null) return standingResistances(db, 'rounds', ofRounds, [roundIds]);
  if ('entry' in only)
    return standingResistances(db, 'an entry', `${ofRounds} and reading.entry = $2`, [roundIds, only.entry]);
  return standingResistances(db, 'rounds and cells', `${ofRounds} and reading.cell_id = any($2)`, [
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
  const ofRounds = 'reading.round_id is not null';
  const rows = only
    ? await standingResistances(db, 'of cells', `${ofRounds} and reading.cell_id = any($1)`, [only])
    : await standingResistances(db, 'of all', ofRounds, []);
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
    'select at_s as "atS" from reading where run_id = $1 and voided_at is null',
    [runId],
  );
  return rows.map((row) => row.atS);
}
