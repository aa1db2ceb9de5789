import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Pool } from 'pg';
import { database, inTransaction, type Queryable, refusedBy } from './database';

const folder = () => join(process.cwd(), 'records', 'migrations');
/** Any number, the same in every process of this application. */
const migrationLock = 7_140_231;

/** The numbered SQL files that this version knows, in order. */
export const migrationNames = async (): Promise<string[]> =>
  (await readdir(folder())).filter((name) => /^\d{4}-.+\.sql$/.test(name)).sort();

/** The tables of this version cannot hold a row of the workshop, which is named; nothing was changed. */
export class MigrationStopped extends Error {
  constructor(name: string, cause: Error & { detail?: string; table?: string }) {
    super(
      `This workshop cannot be brought to ${name}: ${cause.message}${cause.table ? ` (${cause.table})` : ''} ` +
        `${cause.detail ?? ''}\nNothing was changed; the version before this one opens it as it did.`,
    );
  }
}

/** Whether a database has the tables of this version. @throws Error when it is away, or holds no workshop yet */
export async function isUpToDate(db: Queryable): Promise<boolean> {
  const { rows } = await db.query<{ name: string }>('select name from migration');
  const there = new Set(rows.map(({ name }) => name));
  return (await migrationNames()).every((name) => there.has(name));
}

/**
 * Runs the numbered SQL files that this database has not seen, in order, in one transaction under an advisory lock, so
 * that several processes may start at once. Returns the names of those that were run.
 *
 * @throws MigrationStopped where a row breaks a rule of the new tables
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
      await connection.query(await readFile(join(folder(), name), 'utf8')).catch((error: unknown) => {
        throw error instanceof Error && refusedBy(error) ? new MigrationStopped(name, error) : error;
      });
      await connection.query('insert into migration (name) values ($1)', [name]);
    }
    return pending;
  }, pool);
}
