import type { ResistanceBody } from '@/core/judging/bodies';
import type { Round, RoundReadingRow, StoredResistance } from '@/core/judging/facts';
import type { ResistanceFacts } from '@/core/resistance/judgeReading';
import type { LoadEdge } from '@/core/resistance/pulses';
import { prepared, type Queryable } from './database';
import { bodiesOf, factsBy } from './ledger';

/**
 * How often a cell or pack was read in a round beside this entry and the one it replaces; none where the entry is
 * stored already. Others that file for the subject wait until this transaction has ended.
 */
export async function readByOthers(
  db: Queryable,
  occasionId: number,
  subjectId: number,
  { entry, replaces }: { entry: string; replaces: string | null },
): Promise<number> {
  await prepared(db, 'select from subject where id = $1 for no key update', [subjectId]);
  const { rows } = await prepared<{ count: number }>(
    db,
    `select count(*) as count
     from entry join entry_subject on entry_id = entry.id
     where occasion_id = $1 and subject_id = $2 and voided_at is null and uid is distinct from $4
       and not exists (select from entry own where own.uid = $3)`,
    [occasionId, subjectId, entry, replaces],
  );
  return rows[0]?.count ?? 0;
}

/** The code of the cell of a batch that was measured, weighed or looked at last; null where none was. */
export async function cellReadLast(db: Queryable, batchCode: string): Promise<string | null> {
  const { rows } = await db.query<{ code: string }>(
    `select subject.code
     from batch join subject on subject.batch_id = batch.id
     cross join lateral (
       select entry.id
       from entry_subject join entry on entry.id = entry_id
       where subject_id = subject.id and voided_at is null and (
         exists (select from voltage where voltage.entry_id = entry.id)
         or exists (select from mass where mass.entry_id = entry.id)
         or exists (select from inspection where inspection.entry_id = entry.id))
       order by entry.id desc limit 1) last
     where batch.code = $1 order by last.id desc limit 1`,
    [batchCode],
  );
  return rows[0]?.code ?? null;
}

/**
 * An arithmetic that reads a log otherwise may see a step one sample earlier or later: no two steps are nearer than
 * this.
 */
const sameStepS = 2.5;

interface ResistanceRow extends Omit<RoundReadingRow, 'resistance'>, Omit<StoredResistance, 'facts'> {
  kind: ResistanceBody['kind'];
  /** The fields of its body, and what judging needs of its round. */
  told: Record<string, unknown>;
  ofRound: Pick<Round, 'loadResistanceOhm' | 'loadTolerance' | 'loadRatingW' | 'zeroTaken' | 'afterS'>;
  edge: LoadEdge | null;
}

function readingOf({
  id,
  subjectId,
  entry,
  code,
  confirmed,
  kind,
  told,
  ofRound,
  edge,
  ...stored
}: ResistanceRow): RoundReadingRow {
  return {
    id,
    subjectId,
    entry,
    code,
    confirmed,
    resistance: { ...stored, facts: factsOf(kind, factsBy(told), ofRound, edge) },
  };
}

function factsOf(
  kind: ResistanceRow['kind'],
  told: Record<string, unknown>,
  { zeroTaken, ...load }: ResistanceRow['ofRound'],
  edge: LoadEdge | null,
): ResistanceFacts {
  const beside = {
    'load-step': load,
    resistance: { zeroTaken },
    'two-current': { currentStep: told.currentStep ?? told.step },
    pulse: { edge },
  }[kind];
  // A row of the table of that kind.
  return { kind, ...told, ...beside } as ResistanceFacts;
}

/** The entries of some subjects: looked up first, since they are few among all in rounds. */
const entriesOfSome = '(select * from entry_subject where subject_id = any($1) offset 0)';

/** Standing readings that show a resistance, newest first. */
async function validResistances(
  db: Queryable,
  condition: string,
  values: unknown[],
  own = 'entry_subject',
): Promise<RoundReadingRow[]> {
  const { rows } = await prepared<ResistanceRow>(
    db,
    `with stood as (
       select entry.id as entry_id, round.id as round_id, own.subject_id
       from entry
       join round using (occasion_id)
       join ${own} own on own.entry_id = entry.id
       where voided_at is null and ${condition}),
     disturbed as (
       select subject_id, array_agg(at) as times
       from (select distinct subject_id from stood) those
       join entry_subject using (subject_id)
       cross join lateral (
         select ended_at as at from run where run.entry_id = entry_subject.entry_id
         union all
         select began_at from period where period.entry_id = entry_subject.entry_id and kind = 'rest') moment
       join entry on entry.id = entry_subject.entry_id and voided_at is null
       group by subject_id)
     select entry.id, entry.uid as entry, confirmed, subject.id as "subjectId", subject.code,
       (select count(*) from entry_subject every where every.entry_id = entry.id) as together,
       round.id as "roundId", protocol_id as "protocolId", method, taken_at as "takenAt",
       entry.instrument_id as "instrumentId", channel, ammeter_id as "ammeterId",
       coalesce(entry.temperature_c, round.temperature_c) as "temperatureC",
       (select max(at) from unnest(disturbed.times) at where at <= entry.taken_at) as "disturbedAt",
       body.kind, told - 'position' as told, coalesce((told ->> 'position')::integer,
         case when body.kind = 'pulse' and series > 1 then 0 else 1 end) as position,
       lead_ohm as "leadOhm",
       jsonb_build_object('loadResistanceOhm', load_resistance_ohm, 'loadTolerance', load_tolerance,
         'loadRatingW', load_rating_w, 'zeroTaken', zero_taken, 'afterS', after_s) as "ofRound",
       case when body.kind = 'pulse' then (
         select edge
         from run_result, jsonb_array_elements(result -> 'edges') edge
         where layout_id = (select max(id) from run_layout where run_id = (told ->> 'run_id')::integer)
           and arithmetic = (select max(arithmetic) from run_result newest
             where newest.layout_id = run_result.layout_id)
           and abs((edge ->> 'atS')::double precision - (told ->> 'at_s')::double precision) < ${sameStepS}
         order by abs((edge ->> 'atS')::double precision - (told ->> 'at_s')::double precision)
         limit 1) end as edge
     from stood
     join entry on entry.id = entry_id
     join round on round.id = round_id
     join subject on subject.id = subject_id
     left join disturbed using (subject_id)
     cross join lateral (${bodiesOf(['load-step', 'two-current', 'resistance', 'pulse'])}) body
     order by taken_at desc, entry.id desc, subject.id desc, position`,
    values,
  );
  return rows.map(readingOf);
}

/** The standing readings of rounds (or `only` those of one entry or of some subjects), newest first. */
export async function readingsOfRounds(
  db: Queryable,
  roundIds: readonly number[],
  only: { entry: string } | { subjectIds: readonly number[] } | null = null,
): Promise<RoundReadingRow[]> {
  const ofRounds = 'round.id = any($1)';
  if (only === null) return validResistances(db, ofRounds, [roundIds]);
  if ('entry' in only) return validResistances(db, `${ofRounds} and entry.uid = $2`, [roundIds, only.entry]);
  return validResistances(db, `${ofRounds} and own.subject_id = any($2)`, [roundIds, only.subjectIds]);
}

/**
 * The standing readings of rounds, typed or logged, of every subject (or `only` of those with these ids), newest first,
 * by its id.
 */
export async function resistancesBySubject(
  db: Queryable,
  only: readonly number[] | null,
): Promise<Map<number, StoredResistance[]>> {
  const rows = only
    ? await validResistances(db, 'true', [only], entriesOfSome)
    : await validResistances(db, 'true', []);
  const bySubject = new Map<number, StoredResistance[]>();
  for (const { subjectId, resistance } of rows) {
    const own = bySubject.get(subjectId);
    if (own) own.push(resistance);
    else bySubject.set(subjectId, [resistance]);
  }
  return bySubject;
}

/** The steps of a run that are filed as readings, seconds from its start. */
export async function pulsesFiled(db: Queryable, runId: number): Promise<number[]> {
  const { rows } = await db.query<{ atS: number }>(
    'select at_s as "atS" from pulse join entry on entry.id = entry_id where run_id = $1 and voided_at is null',
    [runId],
  );
  return rows.map((row) => row.atS);
}

/** A line that a person filed, as other screens hear of it. */
export interface FiledElsewhere {
  id: number;
  entry: string;
  codes: string[];
  /** The round it belongs to; null where it belongs to none. */
  roundId: number | null;
}

/** Of the newest entries those that are not `known`, the oldest of them first. */
export async function newestFiled(db: Queryable, most: number, known: readonly number[]): Promise<FiledElsewhere[]> {
  const { rows } = await db.query<FiledElsewhere>(
    `select entry.id, uid as entry, round.id as "roundId",
       array(select code from entry_subject join subject on subject.id = subject_id
         where entry_id = entry.id order by code limit 20) as codes
     from (select id, uid, occasion_id from entry order by id desc limit $1) entry left join round using (occasion_id)
     where entry.id <> all($2)
     order by entry.id desc`,
    [most, known],
  );
  return rows.reverse();
}
