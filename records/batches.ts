import type { Chemistry } from '@/core/chemistry/chemistries';
import type { Queryable } from './database';

export interface Batch {
  id: number;
  code: string;
  origin: string;
  receivedAt: Date;
  cells: number;
}

const selectBatch = `
    select batch.id, batch.code, batch.origin, batch.received_at as "receivedAt", (select count(*) from cell where cell.batch_id = batch.id) as cells
    from batch`;

/** The newest batches. */
export async function listBatches(db: Queryable, limit: number, offset = 0): Promise<Batch[]> {
  const { rows } = await db.query<Batch>(`${selectBatch} order by batch.id desc limit $1 offset $2`, [limit, offset]);
  return rows;
}

export async function countBatches(db: Queryable): Promise<number> {
  const { rows } = await db.query<{ count: number }>('select count(*) as count from batch');
  return rows[0]?.count ?? 0;
}

export interface CellModel {
  id: number;
  maker: string;
  name: string;
  chemistry: Chemistry;
  ratedCapacityAh: number;
  massKg: number | null;
  /** Each cell has a protection board of its own. */
  board: boolean;
  /** Ten-second resistance of a new one, Ω, where it is known. */
  asNewOhm: number | null;
}

export type NewCellModel = Omit<CellModel, 'id'>;

const modelColumns = 'id, maker, name, chemistry, rated_capacity_ah as "ratedCapacityAh", mass_kg as "massKg", board, as_new_ohm as "asNewOhm"';

export async function listModels(db: Queryable): Promise<CellModel[]> {
  const { rows } = await db.query<CellModel>(`select ${modelColumns} from cell_model order by maker, name`);
  return rows;
}

/** The model of that maker and name; made if it is new. The figures of a known model are left as they are. */
export async function modelNamed(db: Queryable, model: NewCellModel): Promise<CellModel> {
  await db.query(
    `insert into cell_model (maker, name, chemistry, rated_capacity_ah, mass_kg, board, as_new_ohm)
     values ($1, $2, $3, $4, $5, $6, $7)
     on conflict (maker, name) do nothing`,
    [model.maker, model.name, model.chemistry, model.ratedCapacityAh, model.massKg, model.board, model.asNewOhm],
  );
  const { rows } = await db.query<CellModel>(`select ${modelColumns} from cell_model where maker = $1 and name = $2`, [model.maker, model.name]);
  return rows[0] as CellModel;
}

export interface NewBatch {
  code: string;
  origin: string;
  modelId: number;
  count: number;
  /** Cells welded together, by place: [[1, 2], [3, 4]]. */
  bondedPlaces?: number[][];
  receivedAt?: Date;
}

/** A batch of `count` cells with running codes `CODE-001` on. Returns its id. */
export async function addBatch(db: Queryable, batch: NewBatch): Promise<number> {
  const { rows } = await db.query<{ id: number }>('insert into batch (code, origin, received_at) values ($1, $2, $3) returning id', [
    batch.code,
    batch.origin,
    batch.receivedAt ?? new Date(),
  ]);
  const id = rows[0]?.id as number;
  const bondOf = new Map((batch.bondedPlaces ?? []).flatMap((places, i) => places.map((place) => [place, `${batch.code}/w${i + 1}`] as const)));
  const places = Array.from({ length: batch.count }, (_, i) => i + 1);
  await db.query(
    `insert into cell (code, batch_id, model_id, place, bond)
     select $1::text || '-' || lpad(place::text, 3, '0'), $2, $3, place, nullif(bond, '')
     from unnest($4::int[], $5::text[]) as given (place, bond)`,
    [batch.code, id, batch.modelId, places, places.map((place) => bondOf.get(place) ?? '')],
  );
  return id;
}

export async function batchByCode(db: Queryable, code: string): Promise<Batch | null> {
  const { rows } = await db.query<Batch>(`${selectBatch} where batch.code = $1`, [code]);
  return rows[0] ?? null;
}
