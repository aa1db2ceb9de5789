import type { Chemistry } from '@/core/chemistry/chemistries';
import type { Queryable } from './database';
import { noteCorrection } from './corrections';
import { fileEntry } from './ledger';
import { randomUUID } from 'node:crypto';

export interface Batch {
  id: number;
  code: string;
  origin: string;
  notes: string;
  receivedAt: Date;
  /** Null unless it was put away with its cells. */
  archivedAt: Date | null;
  cells: number;
}

const selectBatch = `
    select batch.id, batch.code, batch.origin, batch.notes, batch.received_at as "receivedAt",
      batch.archived_at as "archivedAt", (select count(*) from subject where batch_id = batch.id) as cells
    from batch`;

/** The newest batches, those put away last. */
export async function listBatches(db: Queryable, limit: number, offset = 0): Promise<Batch[]> {
  const { rows } = await db.query<Batch>(
    `${selectBatch} order by batch.archived_at is not null, batch.id desc limit $1 offset $2`,
    [limit, offset],
  );
  return rows;
}

export async function countBatches(db: Queryable): Promise<number> {
  const { rows } = await db.query<{ count: number }>('select count(*) as count from batch');
  return rows[0]?.count ?? 0;
}

/** Puts a batch away with its cells, or takes it out again; what was read of them stays. */
export async function archiveBatch(db: Queryable, id: number, away: boolean): Promise<boolean> {
  const { rowCount } = await db.query(
    'update batch set archived_at = case when $2 then now() end where id = $1 and (archived_at is null) = $2',
    [id, away],
  );
  return rowCount === 1;
}

export interface CellModel {
  id: number;
  /** Null where maker and name are unknown; then the size is known. */
  maker: string | null;
  name: string | null;
  /** As people call it: 18650, AA. */
  size: string | null;
  chemistry: Chemistry;
  ratedCapacityAh: number;
  massKg: number | null;
  /** Each cell has a protection board of its own. */
  board: boolean;
  /** Ten-second resistance of a new one, Ω, where it is known. */
  asNewOhm: number | null;
  /** The most that its label allows, A. */
  chargeA?: number | null;
  dischargeA?: number | null;
}

export type NewCellModel = Omit<CellModel, 'id' | 'size'> & { size?: string | null };

const modelColumns =
  'id, maker, name, size, chemistry, rated_capacity_ah as "ratedCapacityAh", mass_kg as "massKg", board, ' +
  'as_new_ohm as "asNewOhm", charge_a as "chargeA", discharge_a as "dischargeA"';

/** Models by maker and name; unknown ones are left out. */
export async function listModels(db: Queryable): Promise<CellModel[]> {
  const { rows } = await db.query<CellModel>(
    `select ${modelColumns} from cell_model where name is not null order by maker, name`,
  );
  return rows;
}

/**
 * The model of that maker and name; made if it is new. The figures of a known model are left as they are. A model that
 * is unknown is always a new one: two boxes of unknown cells are not known to be alike.
 */
export async function modelNamed(db: Queryable, model: NewCellModel): Promise<CellModel> {
  const { rows: made } = await db.query<CellModel>(
    `insert into cell_model (maker, name, size, chemistry, rated_capacity_ah, mass_kg, board, as_new_ohm,
       charge_a, discharge_a)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)
     on conflict (maker, name) do nothing returning ${modelColumns}`,
    [
      model.maker,
      model.name,
      model.size ?? null,
      model.chemistry,
      model.ratedCapacityAh,
      model.massKg,
      model.board,
      model.asNewOhm,
      model.chargeA ?? null,
      model.dischargeA ?? null,
    ],
  );
  if (made[0]) return made[0];
  const { rows } = await db.query<CellModel>(`select ${modelColumns} from cell_model where maker = $1 and name = $2`, [
    model.maker,
    model.name,
  ]);
  return rows[0] as CellModel;
}

/** What may be corrected of a batch. */
export interface BatchAccount {
  origin: string;
  notes: string;
  model: NewCellModel;
}

/** The model of a batch, as its first cell has it: a batch is of one. */
export async function modelOfBatch(db: Queryable, batchId: number): Promise<CellModel | null> {
  const { rows } = await db.query<CellModel>(
    `select ${modelColumns}
      from cell_model
      where id = (select model_id from subject where batch_id = $1 order by place limit 1)`,
    [batchId],
  );
  return rows[0] ?? null;
}

/**
 * Corrects what was noted of a batch; who did it is kept with what stood there before. The figures of its model are
 * corrected for every batch of it; another model, where it is known already, keeps its own. Run it in a transaction.
 */
export async function correctBatch(
  db: Queryable,
  batch: Batch,
  { origin, notes, model }: BatchAccount,
  by: string,
): Promise<void> {
  const before = (await modelOfBatch(db, batch.id)) as CellModel;
  if (before.maker === model.maker && before.name === model.name) {
    await db.query(
      `update cell_model
        set size = $2, chemistry = $3, rated_capacity_ah = $4, mass_kg = $5, board = $6, as_new_ohm = $7,
          charge_a = $8, discharge_a = $9
        where id = $1`,
      [
        before.id,
        model.size ?? null,
        model.chemistry,
        model.ratedCapacityAh,
        model.massKg,
        model.board,
        model.asNewOhm,
        model.chargeA ?? null,
        model.dischargeA ?? null,
      ],
    );
  } else {
    await db.query('update subject set model_id = $2 where batch_id = $1', [
      batch.id,
      (await modelNamed(db, model)).id,
    ]);
  }
  await db.query('update batch set origin = $2, notes = $3 where id = $1', [batch.id, origin, notes]);
  const after = (await modelOfBatch(db, batch.id)) as CellModel;
  await noteCorrection(
    db,
    { batchId: batch.id },
    { ...before, id: null, origin: batch.origin, notes: batch.notes },
    { ...after, id: null, origin, notes },
    by,
  );
}

export interface NewBatch {
  code: string;
  origin: string;
  notes?: string;
  modelId: number;
  count: number;
  /** Cells welded together, by place: [[1, 2], [3, 4]]. */
  bondedPlaces?: number[][];
  receivedAt?: Date;
}

/** A batch of `count` cells with running codes `CODE-001` on. Returns its id. */
export async function addBatch(db: Queryable, batch: NewBatch): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    'insert into batch (code, origin, notes, received_at) values ($1, $2, $3, coalesce($4, now())) returning id',
    [batch.code, batch.origin, batch.notes ?? '', batch.receivedAt ?? null],
  );
  const id = rows[0]?.id as number;
  const places = Array.from({ length: batch.count }, (_, i) => i + 1);
  await db.query(
    `insert into subject (code, batch_id, model_id, place)
     select $1::text || '-' || lpad(place::text, greatest(3, length(place::text)), '0'), $2, $3, place
     from unnest($4::int[]) place`,
    [batch.code, id, batch.modelId, places],
  );
  for (const together of batch.bondedPlaces ?? []) {
    const { rows: cells } = await db.query<{ id: number }>(
      'select id from subject where batch_id = $1 and place = any($2)',
      [id, together],
    );
    await fileEntry(db, {
      entry: randomUUID(),
      subjectIds: cells.map((cell) => cell.id),
      bodies: [{ kind: 'weld' }],
    });
  }
  return id;
}

export async function batchByCode(db: Queryable, code: string): Promise<Batch | null> {
  const { rows } = await db.query<Batch>(`${selectBatch} where batch.code = $1`, [code]);
  return rows[0] ?? null;
}
