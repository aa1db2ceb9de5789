import type { CrossCheck, CrossCheckReading } from '@/core/judging/facts';
import type { Queryable } from './database';
import type { Entry } from './ledger';
import { openOccasion } from './occasions';

export async function openCrossCheck(
  db: Queryable,
  name: string,
  batteries: readonly string[],
  packId: number | null = null,
): Promise<{ id: number; occasionId: number }> {
  const occasionId = await openOccasion(db, 'cross-check');
  const { rows } = await db.query<{ id: number }>(
    'insert into cross_check (name, occasion_id, subject_id) values ($1, $2, $3) returning id',
    [name, occasionId, packId],
  );
  const id = rows[0]?.id as number;
  await db.query(
    `insert into cross_check_battery (cross_check_id, position, label)
      select $1, place, label
      from unnest($2::text[]) with ordinality as given (label, place)`,
    [id, batteries],
  );
  return { id, occasionId };
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
  // Two that are added at once follow each other.
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
    select cross_check.id, occasion_id as "occasionId", name, opened_at as "openedAt",
      (select code from subject where subject.id = subject_id) as pack,
      array(select label from cross_check_battery where cross_check_id = cross_check.id order by position) as batteries,
      (select count(*) from cross_check_voltage join entry on entry.id = entry_id
        where cross_check_id = cross_check.id and voided_at is null) as readings
    from cross_check join occasion on occasion.id = occasion_id order by cross_check.id desc`);
  return rows;
}

/** What an instrument showed on a battery of a sheet. */
export interface CrossCheckLine {
  entry: string;
  crossCheckId: number;
  occasionId: number;
  position: number;
  instrumentId: number;
  confirmed: boolean;
  /** By channel; on a pack each has a position of its own. */
  readings: { position?: number; channel: number; voltageV: number; step: number }[];
}

/** One line of a sheet, as an entry. */
export const crossCheckEntry = (line: CrossCheckLine): Entry => ({
  entry: line.entry,
  subjectIds: [],
  occasionId: line.occasionId,
  confirmed: line.confirmed,
  takenWith: { instrumentId: line.instrumentId, channel: null },
  bodies: line.readings.map((reading) => ({
    kind: 'cross-check',
    crossCheckId: line.crossCheckId,
    position: line.position,
    ...reading,
  })),
});

/** The standing readings of every sheet: of each channel on each battery the newest. */
export async function crossCheckReadings(db: Queryable): Promise<CrossCheckReading[]> {
  const { rows } = await db.query<CrossCheckReading>(
    `select distinct on (cross_check_id, position, instrument_id, reading.channel) entry.id,
        cross_check_id as "crossCheckId", position, instrument_id as "instrumentId", reading.channel,
        voltage_v as "voltageV", step, taken_at as "takenAt"
     from cross_check_voltage reading join entry on entry.id = entry_id
     where voided_at is null
     order by cross_check_id, position, instrument_id, reading.channel, entry.id desc`,
  );
  return rows;
}
