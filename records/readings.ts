import type { InspectionFinding } from '@/core/grading/intake';
import type { Queryable } from './database';

export type NewReading =
  | { kind: 'voltage'; voltageV: number; step: number }
  | { kind: 'mass'; massKg: number; step: number }
  | { kind: 'inspection'; findings: InspectionFinding[] }
  | { kind: 'load-step'; roundId: number; openV: number; loadedV: number; afterV: number | null; currentA: number | null; step: number; currentStep: number | null };

export interface Entry {
  /** Made by whoever typed it, so that sending it twice files it once. */
  entry: string;
  cellId: number;
  confirmed: boolean;
  readings: NewReading[];
  takenAt?: Date;
}

/** Files all readings of one entry; does nothing for an entry already filed. Run it in a transaction. */
export async function fileEntry(db: Queryable, { entry, cellId, confirmed, readings, takenAt = new Date() }: Entry): Promise<void> {
  for (const reading of readings) {
    const step = reading.kind === 'load-step' ? reading : null;
    await db.query(
      `insert into reading (entry, cell_id, kind, round_id, voltage_v, mass_kg, findings, open_v, loaded_v, after_v, current_a, step, current_step, confirmed, taken_at)
       values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15)
       on conflict (entry, kind) do nothing`,
      [
        entry, cellId, reading.kind, step?.roundId ?? null,
        reading.kind === 'voltage' ? reading.voltageV : null,
        reading.kind === 'mass' ? reading.massKg : null,
        reading.kind === 'inspection' ? reading.findings : null,
        step?.openV ?? null, step?.loadedV ?? null, step?.afterV ?? null, step?.currentA ?? null,
        reading.kind === 'inspection' ? null : reading.step,
        step?.currentStep ?? null, confirmed, takenAt,
      ],
    );
  }
}

/** Voids every reading of an entry. Returns how many there were. */
export async function voidEntry(db: Queryable, entry: string, reason: string): Promise<number> {
  const { rowCount } = await db.query('update reading set voided_at = now(), void_reason = $2 where entry = $1 and voided_at is null', [entry, reason]);
  return rowCount ?? 0;
}

export interface StoredReading {
  id: number;
  entry: string;
  kind: NewReading['kind'];
  roundId: number | null;
  voltageV: number | null;
  massKg: number | null;
  findings: InspectionFinding[] | null;
  openV: number | null;
  loadedV: number | null;
  afterV: number | null;
  currentA: number | null;
  step: number | null;
  currentStep: number | null;
  confirmed: boolean;
  takenAt: Date;
  voidReason: string | null;
}

const columns = `reading.id, entry, kind, round_id as "roundId", voltage_v as "voltageV", mass_kg as "massKg", findings, open_v as "openV",
  loaded_v as "loadedV", after_v as "afterV", current_a as "currentA", step, current_step as "currentStep", confirmed,
  taken_at as "takenAt", void_reason as "voidReason"`;

/** Everything ever read of one cell, newest first, voided ones included. */
export async function readingsOfCell(db: Queryable, cellId: number): Promise<StoredReading[]> {
  const { rows } = await db.query<StoredReading>(`select ${columns} from reading where cell_id = $1 order by id desc`, [cellId]);
  return rows;
}

/** The readings of a round that stand, newest first. */
export async function readingsOfRound(db: Queryable, roundId: number): Promise<(StoredReading & { code: string })[]> {
  const { rows } = await db.query<StoredReading & { code: string }>(
    `select ${columns}, cell.code from reading join cell on cell.id = reading.cell_id
     where round_id = $1 and voided_at is null order by reading.id desc`,
    [roundId],
  );
  return rows;
}
