import type { NewInstrument, StoredInstrument } from '@/core/judging/facts';
import type { MeasuredQuantity, NotedRange } from '@/core/instruments/instrument';
import { noteCorrection } from './corrections';
import type { Queryable } from './database';

export async function addInstrument(db: Queryable, instrument: NewInstrument): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into instrument (code, name, kind, channels, wires, lead_gauge, lead_length_m, certified)
      values ($1, $2, $3, $4, $5, $6, $7, $8)
      returning id`,
    [
      instrument.code,
      instrument.name,
      instrument.kind,
      instrument.channels,
      instrument.wires,
      instrument.leads?.gauge ?? null,
      instrument.leads?.lengthM ?? null,
      instrument.certified,
    ],
  );
  const id = rows[0]?.id as number;
  await addRanges(db, id, instrument.ranges);
  await addCharging(db, id, instrument);
  return id;
}

async function addCharging(db: Queryable, id: number, { charging }: NewInstrument): Promise<void> {
  if (!charging) return;
  const { maxA, maxW, dischargeMaxW, stepA, bleedA, plugA = null, outputs, modes = null } = charging;
  const { lowestPackV = null, balanceChannels = null } = charging;
  await db.query(
    `insert into charger (instrument_id, max_a, max_w, discharge_max_w, step_a, bleed_a, plug_a, outputs, modes,
        lowest_pack_v, balance_channels)
      values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)`,
    [id, maxA, maxW, dischargeMaxW, stepA, bleedA, plugA, outputs, modes, lowestPackV, balanceChannels],
  );
}

async function addRanges(db: Queryable, id: number, ranges: NewInstrument['ranges']): Promise<void> {
  const all = Object.entries(ranges).flatMap(([quantity, { coarser = [], ...finest }]) =>
    [finest, ...coarser].map((range) => ({ quantity, ...range })),
  );
  for (const { quantity, ...range } of all) {
    await db.query(
      `insert into instrument_range (instrument_id, quantity, resolution, accuracy_share, accuracy_counts)
        values ($1, $2, $3, $4, $5)`,
      [id, quantity, range.resolution, range.accuracyShare, range.accuracyCounts],
    );
  }
}

/**
 * Corrects what was noted of an instrument; who did it is kept with what stood there before. Everything that was read
 * with it is judged by it at once. Run it in a transaction.
 */
export async function correctInstrument(
  db: Queryable,
  before: StoredInstrument,
  instrument: NewInstrument,
  by: string,
): Promise<void> {
  const { id } = before;
  await db.query(
    `update instrument
      set code = $2, name = $3, kind = $4, channels = $5, wires = $6, lead_gauge = $7, lead_length_m = $8,
        certified = $9
      where id = $1`,
    [
      id,
      instrument.code,
      instrument.name,
      instrument.kind,
      instrument.channels,
      instrument.wires,
      instrument.leads?.gauge ?? null,
      instrument.leads?.lengthM ?? null,
      instrument.certified,
    ],
  );
  await db.query('delete from instrument_range where instrument_id = $1', [id]);
  await addRanges(db, id, instrument.ranges);
  await db.query('delete from charger where instrument_id = $1', [id]);
  await addCharging(db, id, instrument);
  // Computed from what its maker promises, and made again.
  await db.query(
    `delete from run_result
     where layout_id in (
       select run_layout.id
       from run_layout join run on run.id = run_id join entry on entry.id = entry_id
       where instrument_id = $1)`,
    [id],
  );
  const account = (
    { code, name, kind, channels, wires, leads, certified, charging }: Omit<NewInstrument, 'ranges'>,
    ranges: NewInstrument['ranges'],
  ) => ({
    code,
    name,
    kind,
    channels,
    wires,
    leads,
    certified,
    voltage: ranges.voltage ?? null,
    current: ranges.current ?? null,
    resistance: ranges.resistance ?? null,
    charging: charging ?? null,
  });
  await noteCorrection(
    db,
    { instrumentId: id },
    account(before, before.noted),
    account(instrument, instrument.ranges),
    by,
  );
}

interface InstrumentRow extends Omit<StoredInstrument, 'leads' | 'noted'> {
  leadGauge: number | null;
  leadLengthM: number | null;
  /** The ranges of each quantity, the finest first. */
  noted: Partial<Record<MeasuredQuantity, [NotedRange, ...NotedRange[]]>> | null;
}

const withCoarser = ([finest, ...coarser]: [NotedRange, ...NotedRange[]]): NotedRange =>
  coarser.length > 0 ? { ...finest, coarser } : finest;

/** Every instrument there ever was, those put away last. */
export async function listInstruments(db: Queryable): Promise<StoredInstrument[]> {
  const { rows } = await db.query<InstrumentRow>(`
    select id, code, name, kind, channels, wires, lead_gauge as "leadGauge",
      lead_length_m as "leadLengthM", certified, archived_at as "archivedAt",
      (select jsonb_object_agg(quantity, ranges)
       from (
         select quantity, jsonb_agg(jsonb_build_object('resolution', resolution, 'accuracyShare', accuracy_share,
           'accuracyCounts', accuracy_counts) order by resolution) as ranges
         from instrument_range where instrument_id = instrument.id group by quantity) as of_quantity) as noted,
      (select jsonb_build_object('maxA', max_a, 'maxW', max_w, 'dischargeMaxW', discharge_max_w, 'stepA', step_a,
         'bleedA', bleed_a, 'plugA', plug_a, 'outputs', outputs, 'modes', to_jsonb(modes),
         'lowestPackV', lowest_pack_v, 'balanceChannels', balance_channels)
       from charger where instrument_id = instrument.id) as charging
    from instrument order by archived_at is not null, code`);
  return rows.map(({ leadGauge, leadLengthM, noted, ...row }) => ({
    ...row,
    noted: Object.fromEntries(Object.entries(noted ?? {}).map(([quantity, ranges]) => [quantity, withCoarser(ranges)])),
    leads: leadGauge === null || leadLengthM === null ? null : { gauge: leadGauge, lengthM: leadLengthM },
  }));
}

/** Puts an instrument away or takes it out again; what it read stays. */
export async function archiveInstrument(db: Queryable, id: number, away: boolean): Promise<boolean> {
  const { rowCount } = await db.query(
    'update instrument set archived_at = case when $2 then now() end where id = $1 and (archived_at is null) = $2',
    [id, away],
  );
  return rowCount === 1;
}
