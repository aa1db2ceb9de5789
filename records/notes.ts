import type { Queryable } from './database';
import { isNewEntry } from './entries';

export type NotedOf = { cellId: number } | { packId: number };

export interface Note {
  entry: string;
  text: string;
  notedAt: Date;
  voidReason: string | null;
}

const idsOf = (of: NotedOf) => ({
  cellId: 'cellId' in of ? of.cellId : null,
  packId: 'packId' in of ? of.packId : null,
});

/**
 * Keeps a line about a cell or a pack. Returns false for an entry that was filed already.
 *
 * @throws EntryTaken when something else was filed under that id
 */
export async function addNote(db: Queryable, entry: string, of: NotedOf, text: string): Promise<boolean> {
  const { cellId, packId } = idsOf(of);
  const { rowCount } = await db.query(
    'insert into note (entry, cell_id, pack_id, text) values ($1, $2, $3, $4) on conflict (entry) do nothing',
    [entry, cellId, packId, text],
  );
  const { rows } = await db.query<{ entry: string; cellId: number | null; packId: number | null; text: string }>(
    'select entry, cell_id as "cellId", pack_id as "packId", text from note where entry = $1',
    [entry],
  );
  return isNewEntry([{ entry, cellId, packId, text }], rows, ['entry'], rowCount ?? 0);
}

export async function voidNote(db: Queryable, entry: string, reason: string): Promise<boolean> {
  const { rowCount } = await db.query(
    'update note set voided_at = now(), void_reason = $2 where entry = $1 and voided_at is null',
    [entry, reason],
  );
  return rowCount === 1;
}

/** The notes of a cell or a pack, newest first, void ones included. */
export async function notesOf(db: Queryable, of: NotedOf): Promise<Note[]> {
  const { cellId, packId } = idsOf(of);
  const { rows } = await db.query<Note>(
    `select entry, text, noted_at as "notedAt", void_reason as "voidReason"
      from note
      where cell_id = $1 or pack_id = $2
      order by id desc`,
    [cellId, packId],
  );
  return rows;
}

/** The ids of cells and packs with a standing note that holds this text, in any case. */
export async function notedWith(db: Queryable, text: string): Promise<{ cellIds: number[]; packIds: number[] }> {
  const { rows } = await db.query<{ cellId: number | null; packId: number | null }>(
    `select cell_id as "cellId", pack_id as "packId"
      from note
      where voided_at is null and position(lower($1) in lower(text)) > 0`,
    [text],
  );
  return { cellIds: rows.flatMap((row) => row.cellId ?? []), packIds: rows.flatMap((row) => row.packId ?? []) };
}
