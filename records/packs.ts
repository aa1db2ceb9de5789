import type { NewPack, NewPackRound, Pack, PackFacts, PackRound, PackRun } from '@/core/judging/facts';
import { inTurn, prepared, type Queryable } from './database';
import { selfDischargesBySubject } from './selfDischarges';
import type { Entry } from './ledger';
import { resistancesBySubject } from './readings';

const selectPack = `
  select id, code, name, chemistry, series, parallel, rated_capacity_ah as "ratedCapacityAh", board,
    balance_connector as "balanceConnector", build_id as "buildId",
    case when apart_at is not null then jsonb_build_object('at', apart_at, 'because', apart_because) end as apart
  from subject`;

/** A row as it is asked for: a moment within JSON comes as text. */
const packOf = <T extends Pack>(row: T): T => ({
  ...row,
  apart: row.apart && { ...row.apart, at: new Date(row.apart.at) },
});

const selectRound = `
  select entry.id, entry.uid as entry, subject_id as "packId", series, state, current_a as "currentA",
    temperature_c as "temperatureC",
    array(select voltage_v from generate_series(1, series) place
        left join voltage on voltage.entry_id = entry.id and position = place order by place) as "groupVoltagesV",
    array(select step from generate_series(1, series) place
        left join voltage on voltage.entry_id = entry.id and position = place order by place) as "groupStepsV",
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
    `insert into subject (kind, code, name, chemistry, series, parallel, rated_capacity_ah, board,
        balance_connector, build_id)
      values ('pack', $1, $2, $3, $4, $5, $6, $7, $8, $9)
      returning id`,
    [
      pack.code,
      pack.name,
      pack.chemistry,
      pack.series,
      pack.parallel,
      pack.ratedCapacityAh,
      pack.board,
      pack.balanceConnector ?? null,
      pack.buildId ?? null,
    ],
  );
  return rows[0]?.id as number;
}

/** The code of the pack that a build was welded into; null while it is not. */
export async function packOfBuild(db: Queryable, buildId: number): Promise<string | null> {
  const { rows } = await db.query<{ code: string }>('select code from subject where build_id = $1', [buildId]);
  return rows[0]?.code ?? null;
}

/** Takes a pack apart, once; false where it was already. Its readings stay with it. */
export async function markApart(db: Queryable, packId: number, because: string, at: Date): Promise<boolean> {
  const { rowCount } = await db.query(
    'update subject set apart_at = $2, apart_because = $3 where id = $1 and apart_at is null',
    [packId, at, because],
  );
  return rowCount === 1;
}

export async function packByCode(db: Queryable, code: string): Promise<Pack | null> {
  const { rows } = await db.query<Pack>(`${selectPack} where kind = 'pack' and code = $1`, [code]);
  return rows[0] ? packOf(rows[0]) : null;
}

/** One round of voltages of a pack, as an entry. */
export const packRoundEntry = (round: NewPackRound): Entry => ({
  entry: round.entry,
  subjectIds: [round.packId],
  confirmed: round.confirmed,
  state: round.state,
  currentA: round.currentA ?? null,
  temperatureC: round.temperatureC ?? null,
  ...(round.takenAt ? { takenAt: round.takenAt } : {}),
  takenWith: round.instrumentId === null ? null : { instrumentId: round.instrumentId, channel: null },
  terminalInstrumentId: round.terminalInstrumentId,
  bodies: [
    ...round.groupVoltagesV.flatMap((voltageV, i) =>
      voltageV === null
        ? []
        : { kind: 'voltage' as const, position: i + 1, voltageV, step: round.groupStepsV[i] ?? NaN },
    ),
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

/** The newest round of a pack at rest before that moment; null where there is none. */
export async function restedBefore(db: Queryable, packId: number, at: Date): Promise<PackRound | null> {
  const { rows } = await db.query<PackRound>(
    `${selectRound} and voided_at is null and state = 'rest' and subject.id = $1 and taken_at < $2
     order by taken_at desc, entry.id desc
     limit 1`,
    [packId, at],
  );
  return rows[0] ?? null;
}

export async function listPacks(db: Queryable): Promise<Pack[]> {
  const { rows } = await db.query<Pack>(`${selectPack} where kind = 'pack' order by code`);
  return rows.map(packOf);
}

/**
 * The newest discharge of each pack that ended at the cut-off, else its newest.
 *
 * @param cutoffs cut-off of a group by chemistry, V
 */
async function runsOfPacks(
  db: Queryable,
  cutoffs: Record<string, number>,
  arithmetic: number,
): Promise<Map<number, PackRun>> {
  const { rows } = await prepared<PackRun & { packId: number }>(
    db,
    // The few runs of packs first: results are joined to them, not to all that was ever read of a pack.
    `with of_packs as materialized (
       select subject.id as pack_id, chemistry, run.id, ended_at,
         (select max(id) from run_layout where run_id = run.id) as layout_id
       from run
       join entry on entry.id = entry_id and voided_at is null
       join entry_subject using (entry_id)
       join subject on subject.id = subject_id and kind = 'pack')
     select distinct on (pack_id) pack_id as "packId", of_packs.id, ended_at as "endedAt",
       result.capacity_ah as "capacityAh", result.capacity_u as "capacityU",
       (result.result ->> 'reachedCutoff')::boolean as "reachedCutoff",
       (result.result ->> 'meanCurrentA')::double precision as "meanCurrentA",
       (result.result ->> 'energyWh')::double precision as "energyWh",
       (result.result ->> 'meanVoltageV')::double precision as "meanVoltageV",
       nullif(result.result -> 'groups', 'null') as groups
     from of_packs
     join run_result result using (layout_id)
     where arithmetic = $2 and cutoff_v = ($1::jsonb ->> chemistry)::double precision
     order by pack_id, (result.result ->> 'reachedCutoff')::boolean desc nulls last, ended_at desc, of_packs.id desc`,
    [JSON.stringify(cutoffs), arithmetic],
  );
  return new Map(rows.map(({ packId, ...run }) => [packId, run]));
}

/** Every group as it was measured last in a rescue. */
interface RescueRead {
  entry: string;
  takenAt: string;
  voltagesV: number[];
  step: number;
}

/** What was measured last in a rescue is a round, too; of two the newer. */
function newerOf(round: PackRound | null, { id, series }: Pack, read: RescueRead | null): PackRound | null {
  if (!read || (round && round.takenAt >= new Date(read.takenAt))) return round;
  return {
    id: 0,
    entry: read.entry,
    packId: id,
    series,
    state: 'rest',
    groupVoltagesV: read.voltagesV,
    groupStepsV: read.voltagesV.map(() => read.step),
    terminalV: null,
    terminalStepV: null,
    instrumentId: null,
    terminalInstrumentId: null,
    confirmed: true,
    instrument: '',
    takenAt: new Date(read.takenAt),
    voidReason: null,
  };
}

/** Of which rounds the newest is asked: of any, or of those in a state. */
type NewestRound = 'any' | PackRound['state'];

/**
 * Every pack with the facts behind its verdicts.
 *
 * @param cutoffs cut-off of a group by chemistry, V
 */
export async function packFacts(
  db: Queryable,
  cutoffs: Record<string, number>,
  arithmetic: number,
): Promise<PackFacts[]> {
  const ask = inTurn(db);
  const [runs, facts, rounds] = await Promise.all([
    ask(() => runsOfPacks(db, cutoffs, arithmetic)),
    ask(() =>
      prepared<
        Omit<PackFacts, 'latest' | 'rested' | 'afterUse' | 'resistances' | 'holds' | 'run'> & {
          rescueRead: RescueRead | null;
        }
      >(
        db,
        `with read as not materialized (
         select subject_id, entry.id, taken_at, state
         from subject
         join entry_subject on subject_id = subject.id
         join entry on entry.id = entry_id
         where voided_at is null and kind = 'pack')
       select pack.*,
         rescues + (select count(*)::integer from rescue join entry on entry.id = entry_id and voided_at is null
           join entry_subject using (entry_id)
           where subject_id = pack.id) as rescues,
         (select max(began_at) from rescue join entry on entry.id = entry_id and voided_at is null
           join period using (entry_id) join entry_subject using (entry_id)
           where subject_id = pack.id) as "rescuedAt",
         looked.findings,
         (select jsonb_build_object('entry', uid, 'takenAt', read.taken_at, 'voltagesV', voltages_v, 'step', step)
            from read join rescue_reading on rescue_reading.entry_id = read.id join entry on entry.id = read.id
            where subject_id = pack.id order by read.taken_at desc, read.id desc limit 1) as "rescueRead",
         (select jsonb_build_object('at', taken_at, 'capacityAh', capacity_ah, 'price', price,
              'resistancesOhm', to_jsonb(resistances_ohm))
            from read join as_new on entry_id = read.id
            where subject_id = pack.id order by read.id desc limit 1) as "asNew",
         (select jsonb_build_object(
              'chargeA', (array_agg(charge_a order by taken_at desc, read.id desc)
                filter (where charge_a is not null))[1],
              'dischargeA', (array_agg(discharge_a order by taken_at desc, read.id desc)
                filter (where discharge_a is not null))[1],
              'balanceConnector', (array_agg(balance_connector order by taken_at desc, read.id desc)
                filter (where balance_connector is not null))[1])
            from read join label on entry_id = read.id
            where subject_id = pack.id) as label,
         (select jsonb_build_object('at', taken_at, 'count', count)
            from read join cycles on entry_id = read.id
            where subject_id = pack.id order by taken_at desc, read.id desc limit 1) as "cyclesNoted",
         (select jsonb_build_object('takenAt', taken_at, 'capacityAh', capacity_ah, 'step', step)
            from read join capacity_noted on capacity_noted.entry_id = read.id
            where subject_id = pack.id order by taken_at desc, read.id desc limit 1) as noted,
         (select jsonb_build_object('entry', uid, 'takenAt', read.taken_at, 'startVoltagesV', start_voltages_v,
              'step', step, 'chargeAh', charge_ah, 'chargeLimit', charge_limit, 'endVoltageV', end_voltage_v,
              'instrumentId', instrument_id, 'channel', channel)
            from read join partial_charge on partial_charge.entry_id = read.id join entry on entry.id = read.id
            where subject_id = pack.id order by read.taken_at desc, read.id desc limit 1) as partial,
         (select jsonb_agg(jsonb_build_object('at', taken_at, 'position', position)
              order by taken_at desc, read.id desc)
            from read join mended on mended.entry_id = read.id
            where subject_id = pack.id) as mends,
         (select act from read join retiring on retiring.entry_id = read.id
            where subject_id = pack.id order by taken_at desc, read.id desc limit 1) as retiring,
         (select jsonb_build_object('at', taken_at, 'forWhat', for_what, 'currentA', current_a, 'timerS', timer_s)
            from read join taken_out on taken_out.entry_id = read.id
            where subject_id = pack.id order by taken_at desc, read.id desc limit 1) as "takenOut",
         (select jsonb_agg(jsonb_build_object('at', taken_at, 'usedAh', used_ah, 'durationS', duration_s,
              'lowestV', lowest_v, 'lowestPosition', lowest_position) order by taken_at desc, read.id desc)
            from read
            left join brought_back on brought_back.entry_id = read.id
            left join run_time on run_time.entry_id = read.id
            where subject_id = pack.id and coalesce(brought_back.entry_id, run_time.entry_id) is not null) as uses,
         array(select taken_at from read where subject_id = pack.id and state = 'charge-end') as "chargeEnds",
         array(select distinct twin.code
            from read
            join twins on twins.entry_id = read.id
            join entry_subject beside on beside.entry_id = read.id
            join subject twin on twin.id = beside.subject_id
            where read.subject_id = pack.id and twin.id <> pack.id
            order by twin.code) as twins
       from (${selectPack} where kind = 'pack') pack
       join subject using (id)
       left join lateral (
         select coalesce(array_agg(distinct finding) filter (where finding is not null), '{}') as findings
         from read join inspection on entry_id = read.id left join lateral unnest(findings) finding on true
         where subject_id = pack.id
         having count(*) > 0) looked on true
       order by pack.code`,
        [],
      ),
    ),
    ask(() =>
      prepared<PackRound & { among: NewestRound }>(
        db,
        // Which ones are the newest first: only of those is everything given.
        `with newest as materialized (
         select distinct on (subject_id, among) subject_id, among, entry.id
         from subject
         join entry_subject on subject_id = subject.id
         join entry on entry.id = entry_id
         cross join lateral unnest(array['any', state]) among
         where kind = 'pack' and voided_at is null and exists (select from voltage where voltage.entry_id = entry.id)
         order by subject_id, among, taken_at desc, entry.id desc)
       select each.*, among
       from newest
       join (${selectRound}) each on each.id = newest.id and "packId" = subject_id`,
        [],
      ),
    ),
  ]);
  const newest = (packId: number, among: NewestRound): PackRound | null =>
    rounds.rows.find((round) => round.packId === packId && round.among === among) ?? null;
  const ids = facts.rows.map(({ id }) => id);
  const [resistances, selfDischarges] = await Promise.all([
    ask(() => resistancesBySubject(db, ids)),
    ask(() => selfDischargesBySubject(db, ids)),
  ]);
  return facts.rows.map(({ rescueRead, ...pack }) => ({
    ...packOf(pack),
    balanceConnector: pack.label?.balanceConnector ?? pack.balanceConnector ?? null,
    resistances: resistances.get(pack.id) ?? [],
    holds: selfDischarges.get(pack.id) ?? [],
    run: runs.get(pack.id) ?? null,
    noted: pack.noted && { ...pack.noted, takenAt: new Date(pack.noted.takenAt) },
    partial: pack.partial && { ...pack.partial, takenAt: new Date(pack.partial.takenAt) },
    asNew: pack.asNew && { ...pack.asNew, at: new Date(pack.asNew.at) },
    cyclesNoted: pack.cyclesNoted && { ...pack.cyclesNoted, at: new Date(pack.cyclesNoted.at) },
    takenOut: pack.takenOut && { ...pack.takenOut, at: new Date(pack.takenOut.at) },
    mends: (pack.mends ?? []).map(({ at, position }) => ({ at: new Date(at), position })),
    uses: (pack.uses ?? []).map((use) => ({ ...use, at: new Date(use.at) })),
    latest: newerOf(newest(pack.id, 'any'), pack, rescueRead),
    rested: newerOf(newest(pack.id, 'rest'), pack, rescueRead),
    afterUse: newest(pack.id, 'after-use'),
  }));
}
