import type { Queryable } from './database';

export interface NewRound {
  batchId: number;
  method: 'resistor' | 'ammeter';
  loadResistanceOhm: number | null;
  /** Relative tolerance of the resistor as printed on it. */
  loadTolerance: number | null;
  loadRatingW: number | null;
  holdS: number;
  chargeState: 'full' | 'storage' | 'any';
  temperatureC: number | null;
}

export interface Round extends NewRound {
  id: number;
  batchCode: string;
  batchOrigin: string;
  openedAt: Date;
  /** Cells read so far. */
  read: number;
}

export async function openRound(db: Queryable, round: NewRound): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into round (batch_id, method, load_resistance_ohm, load_tolerance, load_rating_w, hold_s, charge_state, temperature_c)
     values ($1, $2, $3, $4, $5, $6, $7, $8) returning id`,
    [round.batchId, round.method, round.loadResistanceOhm, round.loadTolerance, round.loadRatingW, round.holdS, round.chargeState, round.temperatureC],
  );
  return rows[0]?.id as number;
}

export async function listRounds(db: Queryable): Promise<Round[]> {
  const { rows } = await db.query<Round>(`
    select round.id, round.batch_id as "batchId", method, load_resistance_ohm as "loadResistanceOhm", load_tolerance as "loadTolerance",
      load_rating_w as "loadRatingW", hold_s as "holdS", charge_state as "chargeState", temperature_c as "temperatureC",
      opened_at as "openedAt", batch.code as "batchCode", batch.origin as "batchOrigin",
      (select count(distinct cell_id) from reading where round_id = round.id and voided_at is null) as read
    from round join batch on batch.id = round.batch_id
    order by round.id desc`);
  return rows;
}

export async function roundById(db: Queryable, id: number): Promise<Round | null> {
  return (await listRounds(db)).find((round) => round.id === id) ?? null;
}
