import type { NewRound, Round } from '@/core/judging/facts';
import type { Queryable } from './database';
import { openOccasion } from './occasions';

export async function openRound(db: Queryable, round: NewRound): Promise<{ id: number; occasionId: number }> {
  const occasionId = await openOccasion(db, 'round');
  const { rows } = await db.query<{ id: number }>(
    `insert into round (batch_id, protocol_id, method, instrument_id, ammeter_id,
        load_resistance_ohm, load_tolerance, load_rating_w, zero_taken, after_s, temperature_c, occasion_id, lead_ohm)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13) returning id`,
    [
      round.batchId,
      round.protocolId,
      round.method,
      round.instrumentId,
      round.ammeterId,
      round.loadResistanceOhm,
      round.loadTolerance,
      round.loadRatingW,
      round.zeroTaken ?? null,
      round.afterS ?? null,
      round.temperatureC,
      occasionId,
      round.leadOhm ?? null,
    ],
  );
  return { id: rows[0]?.id as number, occasionId };
}

const selectRound = `
  select round.id, occasion_id as "occasionId", round.batch_id as "batchId", protocol_id as "protocolId", method,
    instrument_id as "instrumentId", ammeter_id as "ammeterId",
    load_resistance_ohm as "loadResistanceOhm", load_tolerance as "loadTolerance",
      load_rating_w as "loadRatingW", zero_taken as "zeroTaken", after_s as "afterS", lead_ohm as "leadOhm",
    temperature_c as "temperatureC", opened_at as "openedAt", batch.code as "batchCode",
    (select count(distinct subject_id) from entry join entry_subject on entry_id = entry.id
      where entry.occasion_id = round.occasion_id and voided_at is null) as read
  from round join occasion on occasion.id = occasion_id left join batch on batch.id = round.batch_id`;

/** The newest rounds. */
export async function listRounds(db: Queryable, limit: number, offset = 0): Promise<Round[]> {
  const { rows } = await db.query<Round>(`${selectRound} order by round.id desc limit $1 offset $2`, [limit, offset]);
  return rows;
}

export async function countRounds(db: Queryable): Promise<number> {
  const { rows } = await db.query<{ count: number }>('select count(*) as count from round');
  return rows[0]?.count ?? 0;
}

/** The newest round of a batch, or over packs, under a protocol; null where there is none. */
export async function newestRoundOf(db: Queryable, batchId: number | null, protocolId: number): Promise<Round | null> {
  const { rows } = await db.query<Round>(
    `${selectRound} where round.batch_id is not distinct from $1 and protocol_id = $2 order by round.id desc limit 1`,
    [batchId, protocolId],
  );
  return rows[0] ?? null;
}

/** The newest round over packs that is typed into; null where there is none. */
export async function newestRoundOverPacks(db: Queryable): Promise<number | null> {
  const { rows } = await db.query<{ id: number }>(
    "select id from round where batch_id is null and method <> 'pulse' order by id desc limit 1",
  );
  return rows[0]?.id ?? null;
}

export async function roundById(db: Queryable, id: number): Promise<Round | null> {
  const { rows } = await db.query<Round>(`${selectRound} where round.id = $1`, [id]);
  return rows[0] ?? null;
}
