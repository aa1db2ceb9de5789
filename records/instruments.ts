import type { InstrumentKind, InstrumentRange, MeasuredQuantity } from '@/core/instruments/instrument';
import type { Queryable } from './database';

export interface NewInstrument {
  code: string;
  name: string;
  kind: InstrumentKind;
  channels: number;
  /** Null for what no resistance is measured with. */
  wires: 2 | 4 | null;
  leads: { gauge: number; lengthM: number } | null;
  certified: boolean;
  ranges: Partial<Record<MeasuredQuantity, InstrumentRange>>;
}

export interface Instrument extends NewInstrument {
  id: number;
  archivedAt: Date | null;
}

export async function addInstrument(db: Queryable, instrument: NewInstrument): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into instrument (code, name, kind, channels, wires, lead_gauge, lead_length_m, certified) values ($1, $2, $3, $4, $5, $6, $7, $8) returning id`,
    [instrument.code, instrument.name, instrument.kind, instrument.channels, instrument.wires, instrument.leads?.gauge ?? null, instrument.leads?.lengthM ?? null, instrument.certified],
  );
  const id = rows[0]?.id as number;
  for (const [quantity, range] of Object.entries(instrument.ranges)) {
    await db.query('insert into instrument_range (instrument_id, quantity, resolution, accuracy_share, accuracy_counts) values ($1, $2, $3, $4, $5)', [id, quantity, range.resolution, range.accuracyShare, range.accuracyCounts]);
  }
  return id;
}

interface InstrumentRow extends Omit<Instrument, 'leads' | 'ranges'> {
  leadGauge: number | null;
  leadLengthM: number | null;
  ranges: Partial<Record<MeasuredQuantity, InstrumentRange>> | null;
}

/** Every instrument there ever was, those put away last. */
export async function listInstruments(db: Queryable): Promise<Instrument[]> {
  const { rows } = await db.query<InstrumentRow>(`
    select id, code, name, kind, channels, wires, lead_gauge as "leadGauge", lead_length_m as "leadLengthM", certified, archived_at as "archivedAt",
      (select jsonb_object_agg(quantity, jsonb_build_object('resolution', resolution, 'accuracyShare', accuracy_share, 'accuracyCounts', accuracy_counts))
       from instrument_range where instrument_id = instrument.id) as ranges
    from instrument order by archived_at is not null, code`);
  return rows.map(({ leadGauge, leadLengthM, ranges, ...row }) => ({ ...row, ranges: ranges ?? {}, leads: leadGauge === null || leadLengthM === null ? null : { gauge: leadGauge, lengthM: leadLengthM } }));
}

/** Puts an instrument away or takes it out again; what it read stays. */
export async function archiveInstrument(db: Queryable, id: number, away: boolean): Promise<boolean> {
  const { rowCount } = await db.query('update instrument set archived_at = case when $2 then now() end where id = $1 and (archived_at is null) = $2', [id, away]);
  return rowCount === 1;
}
