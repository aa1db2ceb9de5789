import type { Queryable } from './database';

export interface NewBuild {
  name: string;
  series: number;
  parallel: number;
  /** Cell ids of each group, position 1 first. */
  groups: number[][];
}

/**
 * Saves a build with its cells. A cell that another build holds is refused by the database. Run it in a transaction.
 */
export async function addBuild(db: Queryable, { name, series, parallel, groups }: NewBuild): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    'insert into build (name, series, parallel) values ($1, $2, $3) returning id',
    [name, series, parallel],
  );
  const id = rows[0]?.id as number;
  await db.query(
    `insert into build_cell (build_id, cell_id, position)
      select $1, cell_id, position
      from unnest($2::int[], $3::int[]) as given (cell_id, position)`,
    [id, groups.flat(), groups.flatMap((group, i) => group.map(() => i + 1))],
  );
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

/** With its present cells, by group and from the negative end. */
export interface BuildWithCells extends Build {
  cells: { cellId: number; position: number; placedAt: Date | null }[];
}

const columns = 'id, name, series, parallel, saved_at as "savedAt", void_reason as "voidReason"';

/** The newest builds, void ones included. */
export async function listBuilds(db: Queryable, limit: number, offset = 0): Promise<Build[]> {
  const { rows } = await db.query<Build>(`select ${columns} from build order by id desc limit $1 offset $2`, [
    limit,
    offset,
  ]);
  return rows;
}

/** All there ever were, and those not voided. */
export async function countBuilds(db: Queryable): Promise<{ all: number; standing: number }> {
  const { rows } = await db.query<{ all: number; standing: number }>(
    'select count(*) as all, count(*) filter (where voided_at is null) as standing from build',
  );
  return rows[0] ?? { all: 0, standing: 0 };
}

export async function buildById(db: Queryable, id: number): Promise<BuildWithCells | null> {
  const { rows } = await db.query<Build>(`select ${columns} from build where id = $1`, [id]);
  const { rows: cells } = await db.query<BuildWithCells['cells'][number]>(
    `select cell_id as "cellId", position, placed_at as "placedAt"
      from build_cell
      where build_id = $1 and swapped_for is null
      order by position, cell_id`,
    [id],
  );
  return rows[0] ? { ...rows[0], cells } : null;
}

/**
 * Puts another cell in the place of one; the one taken out is free again. Returns false where it is not in the build. A
 * cell that another build holds is refused by the database. Run it in a transaction.
 */
export async function swapBuildCell(db: Queryable, id: number, outId: number, inId: number): Promise<boolean> {
  await holdUnwelded(db, id);
  const { rows } = await db.query<{ position: number }>(
    `update build_cell
      set released = true, swapped_for = $3, placed_at = null
      where build_id = $1 and cell_id = $2 and not released
      returning position`,
    [id, outId, inId],
  );
  if (!rows[0]) return false;
  await db.query(
    `insert into build_cell (build_id, cell_id, position) values ($1, $2, $3)
     on conflict (build_id, cell_id) do update set position = excluded.position, released = false, swapped_for = null`,
    [id, inId, rows[0].position],
  );
  return true;
}

/** Ticks a cell of a build off as placed, or takes that back. Returns false where it is not in the build. */
export async function placeBuildCell(db: Queryable, id: number, cellId: number, isPlaced: boolean): Promise<boolean> {
  const { rowCount } = await db.query(
    `update build_cell set placed_at = case when $3 then coalesce(placed_at, now()) end
      where build_id = $1 and cell_id = $2 and not released`,
    [id, cellId, isPlaced],
  );
  return rowCount === 1;
}

/** A pack is none that can be mended any more, or its cells are not where they were when a person looked. */
export class NotMended extends Error {}

/**
 * Puts cells into a group of a pack in the place of others, which are free again; those of a pack that was not built
 * here are not known, and leave no trace. A cell that another build holds is refused by the database. Run it in a
 * transaction, with its entry.
 *
 * @throws NotMended where it was taken apart meanwhile, a cell that is to leave is not in that group, or one that is to
 *   come is in it already
 */
export async function mendPack(
  db: Queryable,
  packId: number,
  position: number,
  { outIds, inIds }: { outIds: readonly number[]; inIds: readonly number[] },
): Promise<void> {
  const { rows } = await db.query<{ buildId: number | null; name: string; series: number; parallel: number }>(
    `select build_id as "buildId", name, series, parallel from subject
      where id = $1 and apart_at is null for update`,
    [packId],
  );
  const [pack] = rows;
  if (!pack) throw new NotMended('It has been taken apart.');
  const buildId = pack.buildId ?? (await addBuild(db, { ...pack, groups: [] }));
  if (pack.buildId === null) await db.query('update subject set build_id = $2 where id = $1', [packId, buildId]);
  const { rowCount } = await db.query(
    `update build_cell
      set released = true, swapped_for = given.in_id, placed_at = null
      from unnest($3::int[], $4::int[]) as given (out_id, in_id)
      where build_id = $1 and position = $2 and cell_id = given.out_id and not released`,
    [buildId, position, outIds, outIds.map((_, i) => inIds[i] ?? inIds[0])],
  );
  if (rowCount !== outIds.length) throw new NotMended('Its cells are not where they were: look again.');
  const { rowCount: came } = await db.query(
    `insert into build_cell (build_id, cell_id, position)
      select $1, cell_id, $2 from unnest($3::int[]) as given (cell_id)
      on conflict (build_id, cell_id) do update set position = excluded.position, released = false, swapped_for = null
      where build_cell.released`,
    [buildId, position, inIds],
  );
  if (came !== inIds.length) throw new NotMended('One of these cells is in it already. Choose others.');
}

/**
 * Puts the cells that an entry's mends moved back to where they were. A pack whose cells are none of ours then has no
 * build any more. Run it in a transaction.
 *
 * @throws NotMended where a later mend moved a cell that came, or another build has one that left
 */
export async function undoMends(db: Queryable, entryId: number): Promise<void> {
  const { rows: mends } = await db.query<{ buildId: number; position: number; takenOut: string[]; putIn: string[] }>(
    `select build_id as "buildId", position, taken_out as "takenOut", put_in as "putIn"
      from mended
      join entry_subject using (entry_id)
      join subject on subject.id = subject_id and kind = 'pack'
      where entry_id = $1 and build_id is not null`,
    [entryId],
  );
  for (const { buildId, position, takenOut, putIn } of mends) {
    const { rowCount: gone } = await db.query(
      `update build_cell
        set released = true, placed_at = null
        from subject
        where build_cell.build_id = $1 and position = $2 and cell_id = subject.id and subject.code = any($3)
          and not released`,
      [buildId, position, putIn],
    );
    if (gone !== putIn.length) throw new NotMended('A later mend changed this group again. Void the later mend first.');
    const { rows: held } = await db.query<{ code: string }>(
      `select code from build_cell join subject on subject.id = cell_id
        where not released and code = any($1) limit 1`,
      [takenOut],
    );
    if (held[0]) throw new NotMended(`${held[0].code} is in another build now. Free it there first.`);
    await db.query(
      `update build_cell
        set released = false, swapped_for = null, position = $2
        from subject
        where build_cell.build_id = $1 and cell_id = subject.id and subject.code = any($3)`,
      [buildId, position, takenOut],
    );
    await db.query(
      `with emptied as (
         update build set voided_at = now(), void_reason = 'its mend was voided'
         where id = $1 and voided_at is null
           and not exists (select from build_cell where build_id = $1 and not released)
         returning id)
       update subject set build_id = null from emptied where subject.build_id = emptied.id`,
      [buildId],
    );
  }
}

/** A build that was welded is a pack: its cells stay where they are until that is taken apart. */
export class Welded extends Error {
  constructor(code: string) {
    super(`It is welded as ${code}: take that pack apart instead.`);
  }
}

/**
 * Keeps a build from being changed by others until the transaction ends.
 *
 * @throws Welded where it is a whole pack by now
 */
export async function holdUnwelded(db: Queryable, id: number): Promise<void> {
  await db.query('select from build where id = $1 for update', [id]);
  const { rows } = await db.query<{ code: string }>(
    'select code from subject where build_id = $1 and apart_at is null',
    [id],
  );
  if (rows[0]) throw new Welded(rows[0].code);
}

/** Voids a build and gives its cells back to the shelf. Run it in a transaction. */
export async function voidBuild(db: Queryable, id: number, reason: string): Promise<boolean> {
  await holdUnwelded(db, id);
  const { rowCount } = await db.query(
    'update build set voided_at = now(), void_reason = $2 where id = $1 and voided_at is null',
    [id, reason],
  );
  await db.query('update build_cell set released = true where build_id = $1', [id]);
  return rowCount === 1;
}
