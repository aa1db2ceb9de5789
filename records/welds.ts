import type { Queryable } from './database';
import { isNewEntry } from './entries';

/**
 * Notes that cells are welded together, in parallel. Returns false for an entry that was filed already.
 *
 * @throws EntryTaken when something else was filed under that id
 */
export async function noteWeld(db: Queryable, entry: string, cellIds: readonly number[]): Promise<boolean> {
  const { rowCount } = await db.query(
    'insert into weld (entry, cell_ids) values ($1, $2) on conflict (entry) do nothing',
    [entry, cellIds],
  );
  const { rows } = await db.query<{ entry: string; cellIds: number[] }>(
    'select entry, cell_ids as "cellIds" from weld where entry = $1',
    [entry],
  );
  return isNewEntry([{ entry, cellIds: [...cellIds] }], rows, ['entry'], rowCount ?? 0);
}

export async function voidWeld(db: Queryable, entry: string, reason: string): Promise<boolean> {
  const { rowCount } = await db.query(
    'update weld set voided_at = now(), void_reason = $2 where entry = $1 and voided_at is null',
    [entry, reason],
  );
  return rowCount === 1;
}

/** Notes a voided weld once more, as a new entry. */
export async function renewWeld(db: Queryable, entry: string, anew: string): Promise<boolean> {
  const { rowCount } = await db.query(
    `insert into weld (entry, cell_ids)
      select $2, cell_ids
      from weld
      where entry = $1 and voided_at is not null
      on conflict (entry) do nothing`,
    [entry, anew],
  );
  return rowCount === 1;
}

export interface Weld {
  entry: string;
  notedAt: Date;
  codes: string[];
  voidReason: string | null;
}

/** Every weld that was noted of a cell, newest first. */
export async function weldsOfCell(db: Queryable, cellId: number): Promise<Weld[]> {
  const { rows } = await db.query<Weld>(
    `select entry, noted_at as "notedAt", void_reason as "voidReason", array(select code from cell
        where id = any(weld.cell_ids) order by code) as codes
     from weld where cell_ids @> array[$1::int] order by id desc`,
    [cellId],
  );
  return rows;
}
