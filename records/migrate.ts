import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Pool } from 'pg';
import { database, inTransaction } from './database';

const folder = () => join(process.cwd(), 'records', 'migrations');
/** Any number, the same in every process of this application. */
const migrationLock = 7_140_231;

/** The numbered SQL files that this version knows, in order. */
export const migrationNames = async (): Promise<string[]> =>
  (await readdir(folder())).filter((name) => /^\d{4}-.+\.sql$/.test(name)).sort();

/**
 * Runs the numbered SQL files that this database has not seen, in order, in one transaction under an advisory lock, so
 * that several processes may start at once. Returns the names of those that were run.
 */
export async function migrate(pool: Pool = database()): Promise<string[]> {
  const names = await migrationNames();
  return inTransaction(async (connection) => {
    await connection.query('select pg_advisory_xact_lock($1)', [migrationLock]);
    await connection.query(
      'create table if not exists migration (name text primary key, run_at timestamptz not null default now())',
    );
    const { rows } = await connection.query<{ name: string }>('select name from migration');
    const done = new Set(rows.map((row) => row.name));
    const pending = names.filter((name) => !done.has(name));
    for (const name of pending) {
      await connection.query(await readFile(join(folder(), name), 'utf8'));
      await connection.query('insert into migration (name) values ($1)', [name]);
    }
    return pending;
  }, pool);
}
