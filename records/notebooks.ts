import type { Queryable } from './database';

/** A table as a person pasted it. */
export interface NewNotebook {
  /** Made by the sender, so that sending it twice files it once. */
  uid: string;
  name: string;
  pasted: string;
  /** What each column was taken for. */
  columns: readonly object[];
  /** The batch that was made of it; null where its cells and packs were here. */
  batchId: number | null;
}

export interface BroughtNotebook {
  id: number;
  name: string;
  broughtAt: Date;
  batchCode: string | null;
  /** Entries that came of it, and how many of them are not void. */
  entries: number;
  standing: number;
}

/** Keeps a table; returns its number, or null where it was brought before. */
export async function addNotebook(db: Queryable, notebook: NewNotebook): Promise<number | null> {
  const { rows } = await db.query<{ id: number }>(
    `insert into notebook (uid, name, pasted, columns, batch_id) values ($1, $2, $3, $4, $5)
     on conflict (uid) do nothing
     returning id`,
    [notebook.uid, notebook.name, notebook.pasted, JSON.stringify(notebook.columns), notebook.batchId],
  );
  return rows[0]?.id ?? null;
}

/** These entries came of a table. */
export async function addNotebookEntries(db: Queryable, notebookId: number, entries: readonly string[]): Promise<void> {
  await db.query('insert into notebook_entry select $1, id from entry where uid = any($2::uuid[])', [
    notebookId,
    entries,
  ]);
}

/** Every table that was brought, the newest first. */
export async function listNotebooks(db: Queryable): Promise<BroughtNotebook[]> {
  const { rows } = await db.query<BroughtNotebook>(
    `select notebook.id, name, brought_at as "broughtAt", batch.code as "batchCode", count(entry.id) as entries,
       count(entry.id) filter (where voided_at is null) as standing
     from notebook
     left join batch on batch.id = batch_id
     left join notebook_entry on notebook_id = notebook.id
     left join entry on entry.id = entry_id
     group by notebook.id, batch.code
     order by notebook.id desc`,
  );
  return rows;
}

/** Voids everything that came of a table, and puts the batch that was made of it away. Run it in a transaction. */
export async function voidNotebook(db: Queryable, id: number, reason: string): Promise<void> {
  await db.query(
    `update entry set voided_at = now(), void_reason = $2
     from notebook_entry
     where notebook_id = $1 and entry_id = entry.id and voided_at is null`,
    [id, reason],
  );
  await db.query(
    `update batch set archived_at = now()
     from notebook
     where notebook.id = $1 and batch.id = batch_id and archived_at is null`,
    [id],
  );
}
