import type { Queryable } from './database';

export interface Note {
  entry: string;
  text: string;
  notedAt: Date;
  voidReason: string | null;
}

/** The notes of a cell or a pack, newest first, void ones included. */
export async function notesOf(db: Queryable, subjectId: number): Promise<Note[]> {
  const { rows } = await db.query<Note>(
    `select uid as entry, text, taken_at as "notedAt", void_reason as "voidReason"
     from entry_subject join entry on entry.id = entry_id join note using (entry_id)
     where subject_id = $1
     order by entry.id desc`,
    [subjectId],
  );
  return rows;
}

/** The ids of cells and packs with a standing note that holds this text, in any case. */
export async function notedWith(db: Queryable, text: string): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    `select subject_id as id
     from note join entry on entry.id = entry_id join entry_subject using (entry_id)
     where voided_at is null and position(lower($1) in lower(text)) > 0`,
    [text],
  );
  return rows.map((row) => row.id);
}
