import type { NewPack, NewPackRound, Pack, PackRound } from '@/core/judging/facts';
import type { Queryable } from './database';
import { isNewEntry } from './entries';

const selectPack = `
  select id, code, name, chemistry, series, parallel, rated_capacity_ah as "ratedCapacityAh", board from pack`;

/** Rounds of the first days have one last digit for all their figures. */
const stepsOf =
  'coalesce(group_steps_v, array_fill(step_v, array[series])) as "groupStepsV", coalesce(terminal_step_v, case ' +
  'when terminal_v is not null then step_v end) as "terminalStepV"';

const selectRound = `
  select pack_round.id, entry, pack_id as "packId", series, state, group_voltages_v as "groupVoltagesV",
    terminal_v as "terminalV",
    ${stepsOf},
    instrument_id as "instrumentId", terminal_instrument_id as "terminalInstrumentId",
      coalesce(instrument.code, pack_round.instrument) as instrument,
    confirmed, taken_at as "takenAt", void_reason as "voidReason"
  from pack_round left join instrument on instrument.id = pack_round.instrument_id`;

export async function addPack(db: Queryable, pack: NewPack): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into pack (code, name, chemistry, series, parallel, rated_capacity_ah, board)
      values ($1, $2, $3, $4, $5, $6, $7)
      returning id`,
    [pack.code, pack.name, pack.chemistry, pack.series, pack.parallel, pack.ratedCapacityAh, pack.board],
  );
  return rows[0]?.id as number;
}

export async function packByCode(db: Queryable, code: string): Promise<Pack | null> {
  const { rows } = await db.query<Pack>(`${selectPack} where code = $1`, [code]);
  return rows[0] ?? null;
}

/**
 * Files one round of group voltages. Returns false for an entry that was filed already. Run it in a transaction.
 *
 * @throws EntryTaken when something else was filed under that id
 */
export async function filePackRound(db: Queryable, round: NewPackRound): Promise<boolean> {
  const { rowCount } = await db.query(
    `insert into pack_round (entry, pack_id, series, state, group_voltages_v, terminal_v, step_v,
        group_steps_v, terminal_step_v, instrument_id, terminal_instrument_id, confirmed, taken_at)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13) on conflict (entry) do nothing`,
    [
      round.entry,
      round.packId,
      round.series,
      round.state,
      round.groupVoltagesV,
      round.terminalV,
      Math.max(...round.groupStepsV),
      round.groupStepsV,
      round.terminalStepV,
      round.instrumentId,
      round.terminalInstrumentId,
      round.confirmed,
      round.takenAt ?? new Date(),
    ],
  );
  const { entry, packId, state, groupVoltagesV, groupStepsV, terminalV, terminalStepV } = round;
  const { rows } = await db.query<
    Pick<NewPackRound, 'entry' | 'packId' | 'state' | 'groupVoltagesV' | 'groupStepsV' | 'terminalV' | 'terminalStepV'>
  >(
    `select entry, pack_id as "packId", state, group_voltages_v as "groupVoltagesV",
        terminal_v as "terminalV", ${stepsOf}
      from pack_round
      where entry = $1`,
    [entry],
  );
  return isNewEntry(
    [{ entry, packId, state, groupVoltagesV, groupStepsV, terminalV, terminalStepV }],
    rows,
    ['entry'],
    rowCount ?? 0,
  );
}

export async function voidPackRound(db: Queryable, entry: string, reason: string): Promise<boolean> {
  const { rowCount } = await db.query(
    'update pack_round set voided_at = now(), void_reason = $2 where entry = $1 and voided_at is null',
    [entry, reason],
  );
  return rowCount === 1;
}

/** Files a voided round once more, as a new entry; the voided one stays as it is. */
export async function refilePackRound(db: Queryable, entry: string, anew: string): Promise<boolean> {
  const kept =
    'pack_id, series, state, group_voltages_v, terminal_v, step_v, group_steps_v, terminal_step_v, instrument, ' +
    'instrument_id, terminal_instrument_id, confirmed, taken_at';
  const { rowCount } = await db.query(
    `insert into pack_round (entry, ${kept})
      select $2, ${kept}
      from pack_round
      where entry = $1 and voided_at is not null
      on conflict (entry) do nothing`,
    [entry, anew],
  );
  return rowCount === 1;
}

/** Every round of a pack, newest first, voided ones included. */
export async function roundsOfPack(db: Queryable, packId: number): Promise<PackRound[]> {
  const { rows } = await db.query<PackRound>(
    `${selectRound} where pack_id = $1 order by taken_at desc, pack_round.id desc`,
    [packId],
  );
  return rows;
}

/** Every pack with its newest standing round. */
export async function listPacks(db: Queryable): Promise<(Pack & { latest: PackRound | null })[]> {
  const [packs, rounds] = await Promise.all([
    db.query<Pack>(`${selectPack} order by code`),
    db.query<PackRound>(
      `select distinct on ("packId") *
        from (${selectRound} where voided_at is null) standing
        order by "packId", "takenAt" desc, id desc`,
    ),
  ]);
  const latest = new Map(rounds.rows.map((round) => [round.packId, round]));
  return packs.rows.map((pack) => ({ ...pack, latest: latest.get(pack.id) ?? null }));
}
