import type { Body, BodyKind } from '@/core/judging/bodies';
import type { PackState } from '@/core/packs/groupVoltages';
import { isDeepStrictEqual } from 'node:util';
import { undoMends } from './builds';
import { prepared, type Queryable, refusedBy } from './database';

/** The table of each kind of body. Its columns are the names of a body's fields: `openV` is in `open_v`. */
const tables: Record<BodyKind, string> = {
  voltage: 'voltage',
  mass: 'mass',
  inspection: 'inspection',
  'skin-temperature': 'skin_temperature',
  'load-step': 'load_step',
  'two-current': 'two_current',
  resistance: 'resistance',
  pulse: 'pulse',
  'cross-check': 'cross_check_voltage',
  weld: 'weld',
  'as-new': 'as_new',
  label: 'label',
  cycles: 'cycles',
  'capacity-noted': 'capacity_noted',
  'partial-charge': 'partial_charge',
  'run-time': 'run_time',
  twins: 'twins',
  complaint: 'complaint',
  remedy: 'remedy',
  rescue: 'rescue',
  'rescue-reading': 'rescue_reading',
  'rescue-act': 'rescue_act',
  'put-off': 'put_off',
  job: 'job',
  'job-begun': 'job_begun',
  'taken-out': 'taken_out',
  'brought-back': 'brought_back',
  mended: 'mended',
  retiring: 'retiring',
  note: 'note',
};

const columnOf = (name: string): string => name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
const nameOf = (column: string): string => column.replace(/_([a-z])/g, (_, letter: string) => letter.toUpperCase());

/** The fields of a body, without what is left out. */
const columnsOf = (body: Body): [column: string, value: unknown][] =>
  Object.entries(body)
    .filter(([name, value]) => name !== 'kind' && value !== null && value !== undefined)
    .map(([name, value]) => [columnOf(name), value]);

/** The bodies of `entry`, a row each, as SQL: kind, its fields by column, and a place among the kinds. */
export const bodiesOf = (some: readonly BodyKind[]): string =>
  some
    .map(
      (kind, place) =>
        `select '${kind}' as kind, to_jsonb(${tables[kind]}.*) - 'entry_id' as told, ${place} as place ` +
        `from ${tables[kind]} where entry_id = entry.id`,
    )
    .join(' union all ');
export const bodyKinds = Object.keys(tables) as BodyKind[];
export const everyBody = bodiesOf(bodyKinds);

/** A row of a body's table, by the names of the body. */
export const factsBy = (columns: Record<string, unknown>): Record<string, unknown> =>
  Object.fromEntries(Object.entries(columns).map(([column, value]) => [nameOf(column), value]));

/** The instrument a reading was taken with, where one was named. */
export interface TakenWith {
  instrumentId: number;
  channel: number | null;
}

/** What a person did once: one press of Enter. */
export interface Act {
  /** Made where it was typed, so that sending it twice files it once. */
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
  /** Under which a pack was read, A. */
  currentA?: number | null;
  temperatureC?: number | null;
}

export interface Entry extends Act {
  bodies: readonly Body[];
  /** The entry that it corrects, which is void from then on. */
  replaces?: string | null;
}

/** What an entry was to correct was corrected or voided meanwhile. */
export class CorrectedMeanwhile extends Error {}

/** Why an entry is void that another one replaces. */
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
    `with opened as (
       insert into entry (uid, occasion_id, confirmed, taken_at, instrument_id, channel, terminal_instrument_id, state,
          temperature_c, replaces_id, current_a)
       values ($1, $2, $3, coalesce($4, now()), $5, $6, $7, $8, $9, (select id from entry where uid = $10), $12)
       on conflict (uid) do nothing
       returning id),
     own as (insert into entry_subject (entry_id, subject_id) select id, unnest($11::integer[]) from opened)
     select id from opened`,
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
      act.subjectIds,
      act.currentA ?? null,
    ],
  );
  return rows[0]?.id ?? null;
}

/**
 * Files an entry with all its contents, and voids the one that it corrects. Returns false where it was filed
 * already. Of two corrections of one entry the first counts. Run it in a transaction.
 *
 * @throws EntryTaken when something else was filed under that id
 * @throws CorrectedMeanwhile when what it corrects is void already
 */
export async function fileEntry(db: Queryable, { bodies, replaces = null, ...act }: Entry): Promise<boolean> {
  const id = await openEntry(db, act, replaces).catch((error: unknown) => {
    throw refusedBy(error)?.constraint === 'entry_stands_for_one' ? new CorrectedMeanwhile() : error;
  });
  if (id === null) {
    await isTheSame(db, act, bodies);
    return false;
  }
  await fileBodies(db, id, bodies);
  if (replaces !== null && !(await voidEntry(db, replaces, correctedAtEntry))) throw new CorrectedMeanwhile();
  return true;
}

/** The contents of an entry that was opened. */
export async function fileBodies(db: Queryable, id: number, bodies: readonly Body[]): Promise<void> {
  for (const body of bodies) {
    const columns = columnsOf(body);
    await prepared(
      db,
      `insert into ${tables[body.kind]} (${['entry_id', ...columns.map(([column]) => column)].join(', ')})
       values (${['$1', ...columns.map((_, i) => `$${i + 2}`)].join(', ')})`,
      [id, ...columns.map(([, value]) => value)],
    );
  }
}

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
  const stored = await db.query<{ kind: BodyKind; told: Record<string, unknown> }>(
    `select kind, told from entry cross join lateral (${everyBody}) body where entry.id = $1`,
    [there?.id],
  );
  // A line about a weld finds the cells welded when it comes again.
  const asStored = stored.rows
    .filter(({ kind }) => kind !== 'weld')
    .map(({ kind, told: columns }) => plain(kind, columns));
  const asGiven = bodies
    .filter(({ kind }) => kind !== 'weld')
    .map((body) => plain(body.kind, Object.fromEntries(columnsOf(body))));
  const isThere = (given: unknown) => asStored.some((one) => isDeepStrictEqual(one, given));
  if (asGiven.length !== asStored.length || !asGiven.every(isThere)) throw new EntryTaken();
}

/** The same for what was given and what is stored: what is not given is left out, the only position is the first. */
const plain = (kind: BodyKind, columns: Record<string, unknown>) => ({
  position: 1,
  ...Object.fromEntries(Object.entries(columns).filter(([, value]) => value !== null)),
  kind,
});

/** Whether anything was filed under that id: then it is sent again, since its answer was lost. */
export async function isFiled(db: Queryable, entry: string): Promise<boolean> {
  return (await db.query('select from entry where uid = $1', [entry])).rowCount === 1;
}

/**
 * Voids an entry; false where it was void already. What it filed stays. Cells that a mend moved go back to where they
 * were. Run it in a transaction.
 *
 * @throws NotMended where they cannot
 */
export async function voidEntry(db: Queryable, entry: string, reason: string): Promise<boolean> {
  const { rows } = await db.query<{ id: number }>(
    'update entry set voided_at = now(), void_reason = $2 where uid = $1 and voided_at is null returning id',
    [entry, reason],
  );
  if (!rows[0]) return false;
  await undoMends(db, rows[0].id);
  return true;
}

/**
 * Files a voided entry once more, as a new one that replaces it; false where there is none, or it was filed again
 * already. Facts are not unvoided. Run it in a transaction.
 */
export async function refileEntry(db: Queryable, entry: string, newEntry: string): Promise<boolean> {
  const kept =
    'occasion_id, confirmed, taken_at, instrument_id, channel, terminal_instrument_id, instrument_noted, state, ' +
    'temperature_c, current_a';
  // Of the entries that replaced each other only one may be valid: a second refiling at the same time waits here.
  await db.query(
    `with recursive line as (
       select id, replaces_id from entry where uid = $1
       union
       select before.id, before.replaces_id from entry before join line on before.id = line.replaces_id)
     select from entry where id in (select id from line) order by id for no key update`,
    [entry],
  );
  const { rows } = await db.query<{ id: number; oldId: number }>(
    `with recursive line as (
       select id, replaces_id, voided_at from entry where uid = $1
       union
       select other.id, other.replaces_id, other.voided_at
       from entry other join line on other.id = line.replaces_id or other.replaces_id = line.id)
     insert into entry (uid, replaces_id, ${kept})
     select $2, id, ${kept} from entry
     where uid = $1 and not exists (select from line where voided_at is null)
     on conflict (uid) do nothing
     returning id, replaces_id as "oldId"`,
    [entry, newEntry],
  );
  if (!rows[0]) return false;
  const { id, oldId } = rows[0];
  await db.query(
    'insert into entry_subject (entry_id, subject_id) select $1, subject_id from entry_subject where entry_id = $2',
    [id, oldId],
  );
  for (const table of Object.values(tables))
    await db.query(
      `insert into ${table}
       select again.*
       from ${table} old,
         jsonb_populate_record(null::${table}, to_jsonb(old) || jsonb_build_object('entry_id', $1::int)) again
       where old.entry_id = $2`,
      [id, oldId],
    );
  return true;
}

/** One fact of an entry about a subject. */
export interface Filed {
  entry: string;
  takenAt: Date;
  confirmed: boolean;
  voidReason: string | null;
  /** Those that were read as one, the subject among them. */
  codes: string[];
  roundId: number | null;
  temperatureC: number | null;
  body: Body;
}

/** Everything ever filed of a subject, newest first, voided ones included. */
export async function filedOf(db: Queryable, subjectId: number): Promise<Filed[]> {
  const { rows } = await db.query<Omit<Filed, 'body'> & { kind: BodyKind; told: Record<string, unknown> }>(
    `select uid as entry, taken_at as "takenAt", confirmed, void_reason as "voidReason", round.id as "roundId",
       entry.temperature_c as "temperatureC", kind, told,
       array(select code from entry_subject every join subject on subject.id = subject_id
         where every.entry_id = entry.id order by code) as codes
     from entry_subject own join entry on entry.id = own.entry_id
     left join round using (occasion_id)
     cross join lateral (${everyBody}) body
     where subject_id = $1
     order by entry.id desc, place`,
    [subjectId],
  );
  return rows.map(({ kind, told: columns, ...entry }) => ({
    ...entry,
    // A row of the table of that kind.
    body: { kind, ...factsBy(columns) } as Body,
  }));
}
