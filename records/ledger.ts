import type { InspectionFinding } from '@/core/grading/intake';
import type { PackState } from '@/core/packs/groupVoltages';
import { isDeepStrictEqual } from 'node:util';
import { prepared, type Queryable } from './database';

/** A resistance as it was read, raw. */
export type ResistanceBody =
  | {
      kind: 'load-step';
      openV: number;
      loadedV: number;
      afterV: number | null;
      currentA: number | null;
      /** Last digit of the voltages; of each where it is not that of all. */
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
  | { kind: 'pulse'; runId: number; atS: number };

/** What stands beside an entry, a row of the table of its kind. */
export type Body =
  /** At a group of a pack, from the black lead; 0 is from terminal to terminal, left out the only one. */
  | { kind: 'voltage'; voltageV: number; step: number; position?: number }
  | { kind: 'mass'; massKg: number; step: number }
  | { kind: 'inspection'; findings: InspectionFinding[] }
  | ResistanceBody
  | { kind: 'cross-check'; crossCheckId: number; position: number; channel: number; voltageV: number; step: number }
  | { kind: 'weld' }
  | { kind: 'note'; text: string };

type BodyKind = Body['kind'];

/** The table of each kind, and its columns by the name that a body gives its values. */
const tables: Record<BodyKind, { table: string; columns: Record<string, string> }> = {
  voltage: { table: 'voltage', columns: { position: 'position', voltageV: 'voltage_v', step: 'step' } },
  mass: { table: 'mass', columns: { massKg: 'mass_kg', step: 'step' } },
  inspection: { table: 'inspection', columns: { findings: 'findings' } },
  'load-step': {
    table: 'load_step',
    columns: {
      openV: 'open_v',
      loadedV: 'loaded_v',
      afterV: 'after_v',
      currentA: 'current_a',
      step: 'step',
      openStep: 'open_step',
      loadedStep: 'loaded_step',
      afterStep: 'after_step',
      currentStep: 'current_step',
    },
  },
  'two-current': {
    table: 'two_current',
    columns: {
      atLowV: 'at_low_v',
      lowCurrentA: 'low_current_a',
      atHighV: 'at_high_v',
      highCurrentA: 'high_current_a',
      step: 'step',
      highStep: 'high_step',
      currentStep: 'current_step',
    },
  },
  resistance: {
    table: 'resistance',
    columns: { resistanceOhm: 'resistance_ohm', step: 'step', openV: 'open_v', openStep: 'open_step' },
  },
  pulse: { table: 'pulse', columns: { runId: 'run_id', atS: 'at_s' } },
  'cross-check': {
    table: 'cross_check_voltage',
    columns: {
      crossCheckId: 'cross_check_id',
      position: 'position',
      channel: 'channel',
      voltageV: 'voltage_v',
      step: 'step',
    },
  },
  weld: { table: 'weld', columns: {} },
  note: { table: 'note', columns: { text: 'text' } },
};

/** The instrument a reading was taken with, where one was named. */
export interface TakenWith {
  instrumentId: number;
  channel: number | null;
}

/** What somebody did once: one press of Enter. */
export interface Act {
  /** Made by whoever typed it, so that sending it twice files it once. */
  entry: string;
  /** The cell or pack it is about; several cells that are welded together are read as one. */
  subjectIds: readonly number[];
  /** The round or cross-check it belongs to. */
  occasionId?: number | null;
  /** It was asked about and confirmed. */
  confirmed?: boolean;
  /** Left out, when it is filed. */
  takenAt?: Date;
  takenWith?: TakenWith | null;
  /** What the terminals of a pack were read with. */
  terminalInstrumentId?: number | null;
  state?: PackState | null;
  temperatureC?: number | null;
}

export interface Entry extends Act {
  bodies: readonly Body[];
  /** The entry that it corrects, which is void from then on. */
  replaces?: string | null;
}

/** What an entry was to correct was corrected or voided meanwhile. */
export class CorrectedMeanwhile extends Error {}

/** Why an entry is void that another one stands for. */
const correctedAtEntry = 'corrected at entry';

/** An entry's id came again with something else than was filed under it. */
export class EntryTaken extends Error {
  constructor() {
    super('This line was filed before, with another text.');
  }
}

/** The number of a new entry, with its subjects and still without a body; null where it was filed before. */
export async function openEntry(db: Queryable, act: Act, replaces: string | null = null): Promise<number | null> {
  const { rows } = await prepared<{ id: number }>(
    db,
    'open an entry',
    `insert into entry (uid, occasion_id, confirmed, taken_at, instrument_id, channel, terminal_instrument_id, state,
        temperature_c, replaces_id)
     values ($1, $2, $3, coalesce($4, now()), $5, $6, $7, $8, $9, (select id from entry where uid = $10))
     on conflict (uid) do nothing
     returning id`,
    [
      act.entry,
      act.occasionId ?? null,
      act.confirmed ?? false,
      act.takenAt ?? null,
      act.takenWith?.instrumentId ?? null,
      act.takenWith?.channel ?? null,
      act.terminalInstrumentId ?? null,
      act.state ?? null,
      act.temperatureC ?? null,
      replaces,
    ],
  );
  const id = rows[0]?.id ?? null;
  if (id !== null && act.subjectIds.length > 0)
    await prepared(
      db,
      'subjects of an entry',
      'insert into entry_subject (entry_id, subject_id) select $1, unnest($2::integer[])',
      [id, act.subjectIds],
    );
  return id;
}

/**
 * Files an entry with all that stands beside it, and voids the one that it corrects. Returns false where it was filed
 * already. Of two corrections of one entry the first stands. Run it in a transaction.
 *
 * @throws EntryTaken when something else was filed under that id
 * @throws CorrectedMeanwhile when what it corrects is void already
 */
export async function fileEntry(db: Queryable, { bodies, replaces = null, ...act }: Entry): Promise<boolean> {
  const id = await openEntry(db, act, replaces);
  if (id === null) {
    await isTheSame(db, act, bodies);
    return false;
  }
  for (const body of bodies) {
    const { table, columns } = tables[body.kind];
    const values = valuesOf(body);
    await prepared(
      db,
      `file ${table}`,
      `insert into ${table} (${['entry_id', ...Object.values(columns)].join(', ')})
       values (${['$1', ...values.map((_, i) => `$${i + 2}`)].join(', ')})`,
      [id, ...values],
    );
  }
  if (replaces !== null && !(await voidEntry(db, replaces, correctedAtEntry))) throw new CorrectedMeanwhile();
  return true;
}

/** In the order of its columns. */
const valuesOf = (body: Body): unknown[] =>
  Object.keys(tables[body.kind].columns).map(
    (name) => (body as Body & Record<string, unknown>)[name] ?? (name === 'position' ? 1 : null),
  );

/** Holds an entry that came again against what is stored. */
async function isTheSame(db: Queryable, act: Act, bodies: readonly Body[]): Promise<void> {
  const { rows } = await db.query<{ id: number; occasionId: number | null; state: string | null; ids: number[] }>(
    `select id, occasion_id as "occasionId", state,
       array(select subject_id from entry_subject where entry_id = entry.id order by subject_id) as ids
     from entry where uid = $1`,
    [act.entry],
  );
  const there = rows[0];
  const common = [act.occasionId ?? null, act.state ?? null, [...act.subjectIds].sort((a, b) => a - b)];
  if (!isDeepStrictEqual([there?.occasionId ?? null, there?.state ?? null, there?.ids ?? []], common))
    throw new EntryTaken();
  // A line that told of a weld finds the cells welded when it comes again.
  for (const kind of (Object.keys(tables) as BodyKind[]).filter((one) => one !== 'weld')) {
    const { table, columns } = tables[kind];
    const array = `json_build_array(${Object.values(columns).join(', ')})`;
    const stored = await db.query<{ row: unknown[] }>(`select ${array} as row from ${table} where entry_id = $1`, [
      there?.id,
    ]);
    const given = bodies.filter((body) => body.kind === kind).map(valuesOf);
    const isThere = (values: unknown[]) => stored.rows.some(({ row }) => isDeepStrictEqual(row, values));
    if (given.length !== stored.rows.length || !given.every(isThere)) throw new EntryTaken();
  }
}

/** Whether anything was filed under that id: then it is sent again, since its answer was lost. */
export async function isFiled(db: Queryable, entry: string): Promise<boolean> {
  return (await db.query('select from entry where uid = $1', [entry])).rowCount === 1;
}

/** Voids an entry; false where it was void already. What it filed stays. */
export async function voidEntry(db: Queryable, entry: string, reason: string): Promise<boolean> {
  const { rowCount } = await db.query(
    'update entry set voided_at = now(), void_reason = $2 where uid = $1 and voided_at is null',
    [entry, reason],
  );
  return rowCount === 1;
}

/**
 * Files a voided entry once more, as a new one that stands for it; false where there is none, or it was filed anew
 * already. Facts are not unvoided. Run it in a transaction.
 */
export async function refileEntry(db: Queryable, entry: string, anew: string): Promise<boolean> {
  const kept =
    'occasion_id, confirmed, taken_at, instrument_id, channel, terminal_instrument_id, instrument_noted, state, ' +
    'temperature_c';
  const { rows } = await db.query<{ id: number; oldId: number }>(
    `insert into entry (uid, replaces_id, ${kept})
     select $2, id, ${kept} from entry
     where uid = $1 and voided_at is not null
       and not exists (select from entry other where other.replaces_id = entry.id and other.voided_at is null)
     on conflict (uid) do nothing
     returning id, replaces_id as "oldId"`,
    [entry, anew],
  );
  if (!rows[0]) return false;
  const { id, oldId } = rows[0];
  await db.query(
    'insert into entry_subject (entry_id, subject_id) select $1, subject_id from entry_subject where entry_id = $2',
    [id, oldId],
  );
  for (const { table, columns } of Object.values(tables)) {
    const own = ['', ...Object.values(columns)].join(', ');
    await db.query(`insert into ${table} (entry_id${own}) select $1${own} from ${table} where entry_id = $2`, [
      id,
      oldId,
    ]);
  }
  return true;
}
