import type { Queryable } from './database';

export interface Weld {
  entry: string;
  notedAt: Date;
  codes: string[];
  voidReason: string | null;
}

/** Every weld that was noted of a cell, newest first. */
export async function weldsOfCell(db: Queryable, cellId: number): Promise<Weld[]> {
  const { rows } = await db.query<Weld>(
    `select uid as entry, recorded_at as "notedAt", void_reason as "voidReason",
       array(select code from entry_subject other join subject on subject.id = subject_id
         where other.entry_id = entry.id order by code) as codes
     from entry_subject own join entry on entry.id = own.entry_id join weld using (entry_id)
     where own.subject_id = $1
     order by entry.id desc`,
    [cellId],
  );
  return rows;
}
