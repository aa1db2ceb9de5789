import type { Queryable } from './database';

export interface NewBuild {
  name: string;
  series: number;
  parallel: number;
  /** Cell ids of each group, position 1 first. */
  groups: number[][];
}

/** Saves a build with its cells. A cell that another build holds is refused by the database. Run it in a transaction. */
export async function addBuild(db: Queryable, { name, series, parallel, groups }: NewBuild): Promise<number> {
  const { rows } = await db.query<{ id: number }>('insert into build (name, series, parallel) values ($1, $2, $3) returning id', [name, series, parallel]);
  const id = rows[0]?.id as number;
  await db.query('insert into build_cell (build_id, cell_id, position) select $1, cell_id, position from unnest($2::int[], $3::int[]) as given (cell_id, position)', [
    id,
    groups.flat(),
    groups.flatMap((group, i) => group.map(() => i + 1)),
  ]);
  return id;
}

export interface Build {
  id: number;
  name: string;
  series: number;
  parallel: number;
  savedAt: Date;
  voidReason: string | null;
}

const columns = 'id, name, series, parallel, saved_at as "savedAt", void_reason as "voidReason"';

/** The newest builds that stand. */
export async function listBuilds(db: Queryable, limit: number, offset = 0): Promise<Build[]> {
  const { rows } = await db.query<Build>(`select ${columns} from build where voided_at is null order by id desc limit $1 offset $2`, [limit, offset]);
  return rows;
}

export async function countBuilds(db: Queryable): Promise<number> {
  const { rows } = await db.query<{ count: number }>('select count(*) as count from build where voided_at is null');
  return rows[0]?.count ?? 0;
}

export async function buildById(db: Queryable, id: number): Promise<(Build & { cells: { cellId: number; position: number }[] }) | null> {
  const { rows } = await db.query<Build>(`select ${columns} from build where id = $1`, [id]);
  const { rows: cells } = await db.query<{ cellId: number; position: number }>('select cell_id as "cellId", position from build_cell where build_id = $1 order by position, cell_id', [id]);
  return rows[0] ? { ...rows[0], cells } : null;
}

/** Voids a build and gives its cells back to the shelf. Run it in a transaction. */
export async function voidBuild(db: Queryable, id: number, reason: string): Promise<boolean> {
  const { rowCount } = await db.query('update build set voided_at = now(), void_reason = $2 where id = $1 and voided_at is null', [id, reason]);
  await db.query('update build_cell set released = true where build_id = $1', [id]);
  return rowCount === 1;
}
