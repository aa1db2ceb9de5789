import type { NewPack, NewPackRound, Pack, PackRound } from '@/core/judging/facts';
import type { Queryable } from './database';
import type { Entry } from './ledger';

const selectPack = `
  select id, code, name, chemistry, series, parallel, rated_capacity_ah as "ratedCapacityAh", board
  from subject`;

const selectRound = `
  select entry.id, entry.uid as entry, subject_id as "packId", series, state,
    array(select voltage_v from voltage where entry_id = entry.id and position > 0 order by position)
      as "groupVoltagesV",
    array(select step from voltage where entry_id = entry.id and position > 0 order by position) as "groupStepsV",
    terminal.voltage_v as "terminalV", terminal.step as "terminalStepV",
    instrument_id as "instrumentId", terminal_instrument_id as "terminalInstrumentId",
    coalesce(instrument.code, instrument_noted, '') as instrument,
    confirmed, taken_at as "takenAt", void_reason as "voidReason"
  from subject
  join entry_subject on subject_id = subject.id
  join entry on entry.id = entry_id
  left join voltage terminal on terminal.entry_id = entry.id and position = 0
  left join instrument on instrument.id = instrument_id
  where subject.kind = 'pack' and exists (select from voltage where voltage.entry_id = entry.id)`;

export async function addPack(db: Queryable, pack: NewPack): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into subject (kind, code, name, chemistry, series, parallel, rated_capacity_ah, board)
      values ('pack', $1, $2, $3, $4, $5, $6, $7)
      returning id`,
    [pack.code, pack.name, pack.chemistry, pack.series, pack.parallel, pack.ratedCapacityAh, pack.board],
  );
  return rows[0]?.id as number;
}

export async function packByCode(db: Queryable, code: string): Promise<Pack | null> {
  const { rows } = await db.query<Pack>(`${selectPack} where kind = 'pack' and code = $1`, [code]);
  return rows[0] ?? null;
}

/** One round of voltages of a pack, as an entry. */
export const packRoundEntry = (round: NewPackRound): Entry => ({
  entry: round.entry,
  subjectIds: [round.packId],
  confirmed: round.confirmed,
  state: round.state,
  ...(round.takenAt ? { takenAt: round.takenAt } : {}),
  takenWith: round.instrumentId === null ? null : { instrumentId: round.instrumentId, channel: null },
  terminalInstrumentId: round.terminalInstrumentId,
  bodies: [
    ...round.groupVoltagesV.map((voltageV, i) => ({
      kind: 'voltage' as const,
      position: i + 1,
      voltageV,
      step: round.groupStepsV[i] ?? NaN,
    })),
    ...(round.terminalV === null || round.terminalStepV === null
      ? []
      : [{ kind: 'voltage' as const, position: 0, voltageV: round.terminalV, step: round.terminalStepV }]),
  ],
});

/** Every round of a pack, newest first, voided ones included. */
export async function roundsOfPack(db: Queryable, packId: number): Promise<PackRound[]> {
  const { rows } = await db.query<PackRound>(
    `${selectRound} and subject.id = $1 order by taken_at desc, entry.id desc`,
    [packId],
  );
  return rows;
}

/** Every pack with its newest standing round. */
export async function listPacks(db: Queryable): Promise<(Pack & { latest: PackRound | null })[]> {
  const [packs, rounds] = await Promise.all([
    db.query<Pack>(`${selectPack} where kind = 'pack' order by code`),
    db.query<PackRound>(
      `select distinct on ("packId") *
        from (${selectRound} and voided_at is null) standing
        order by "packId", "takenAt" desc, id desc`,
    ),
  ]);
  const latest = new Map(rounds.rows.map((round) => [round.packId, round]));
  return packs.rows.map((pack) => ({ ...pack, latest: latest.get(pack.id) ?? null }));
}
