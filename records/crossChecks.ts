import type { CrossCheck, CrossCheckReading } from '@/core/judging/facts';
import type { Queryable } from './database';
import { isNewEntry } from './entries';

export async function openCrossCheck(db: Queryable, name: string, batteries: readonly string[]): Promise<number> {
  const { rows } = await db.query<{ id: number }>('insert into cross_check (name) values ($1) returning id', [name]);
  const id = rows[0]?.id as number;
  await db.query(
    `insert into cross_check_battery (cross_check_id, position, label)
      select $1, place, label
      from unnest($2::text[]) with ordinality as given (label, place)`,
    [id, batteries],
  );
  return id;
}

/**
 * Adds a battery behind the others and returns its position; null where the sheet has its most already. Run it in a
 * transaction.
 */
export async function addBattery(
  db: Queryable,
  crossCheckId: number,
  label: string,
  most: number,
): Promise<number | null> {
  // Two that are added at once stand one behind the other.
  await db.query('select id from cross_check where id = $1 for update', [crossCheckId]);
  const { rows } = await db.query<{ position: number }>(
    `insert into cross_check_battery (cross_check_id, position, label)
     select id, count + 1, $2
     from cross_check
     cross join lateral (select count(*)::int from cross_check_battery
       where cross_check_id = cross_check.id) counted (count)
     where id = $1 and count < $3 returning position`,
    [crossCheckId, label, most],
  );
  return rows[0]?.position ?? null;
}

export async function listCrossChecks(db: Queryable): Promise<CrossCheck[]> {
  const { rows } = await db.query<CrossCheck>(`
    select id, name, opened_at as "openedAt",
      array(select label from cross_check_battery where cross_check_id = cross_check.id order by position) as batteries,
      (select count(*) from cross_check_reading where cross_check_id = cross_check.id and voided_at is null) as readings
    from cross_check order by id desc`);
  return rows;
}

export interface CrossCheckEntry {
  entry: string;
  crossCheckId: number;
  position: number;
  instrumentId: number;
  confirmed: boolean;
  /** By channel, from `channel` on. */
  readings: { channel: number; voltageV: number; step: number }[];
}

/**
 * Files the readings of one line. Returns false for an entry that was filed already. Run it in a transaction.
 *
 * @throws EntryTaken when something else was filed under that id
 */
export async function fileCrossCheck(
  db: Queryable,
  { entry, crossCheckId, position, instrumentId, confirmed, readings }: CrossCheckEntry,
): Promise<boolean> {
  let inserted = 0;
  for (const { channel, voltageV, step } of readings) {
    const { rowCount } = await db.query(
      `insert into cross_check_reading (entry, cross_check_id, position, instrument_id, channel, voltage_v,
          step, confirmed)
        values ($1, $2, $3, $4, $5, $6, $7, $8)
       on conflict (entry, channel) do nothing`,
      [entry, crossCheckId, position, instrumentId, channel, voltageV, step, confirmed],
    );
    inserted += rowCount ?? 0;
  }
  const { rows } = await db.query<
    CrossCheckEntry['readings'][number] & { crossCheckId: number; position: number; instrumentId: number }
  >(
    `select channel, voltage_v as "voltageV", step, cross_check_id as "crossCheckId", position,
        instrument_id as "instrumentId"
      from cross_check_reading
      where entry = $1`,
    [entry],
  );
  return isNewEntry(
    readings.map((reading) => ({ ...reading, crossCheckId, position, instrumentId })),
    rows,
    ['channel'],
    inserted,
  );
}

/** The standing readings of every sheet: of each channel on each battery the newest. */
export async function crossCheckReadings(db: Queryable): Promise<CrossCheckReading[]> {
  const { rows } = await db.query<CrossCheckReading>(
    `select distinct on (cross_check_id, position, instrument_id, channel) id,
        cross_check_id as "crossCheckId", position, instrument_id as "instrumentId", channel,
        voltage_v as "voltageV", step, taken_at as "takenAt"
     from cross_check_reading where voided_at is null
     order by cross_check_id, position, instrument_id, channel, id desc`,
  );
  return rows;
}

export async function voidCrossCheckEntry(db: Queryable, entry: string, reason: string): Promise<number> {
  const { rowCount } = await db.query(
    'update cross_check_reading set voided_at = now(), void_reason = $2 where entry = $1 and voided_at is null',
    [entry, reason],
  );
  return rowCount ?? 0;
}

/** Files the voided readings of an entry once more, as a new entry; the voided ones stay as they are. */
export async function refileCrossCheckEntry(db: Queryable, entry: string, anew: string): Promise<number> {
  const kept = 'cross_check_id, position, instrument_id, channel, voltage_v, step, confirmed, taken_at';
  const { rowCount } = await db.query(
    `insert into cross_check_reading (entry, ${kept})
      select $2, ${kept}
      from cross_check_reading
      where entry = $1 and voided_at is not null
      on conflict (entry, channel) do nothing`,
    [entry, anew],
  );
  return rowCount ?? 0;
}
