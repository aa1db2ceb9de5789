import { Pool, type PoolClient, type QueryResultRow, types } from 'pg';

// count() and sum() come as 64-bit integers; the workshop stays far below 2^53 of anything.
types.setTypeParser(types.builtins.INT8, Number);

/** Anything SQL can be sent to: the pool or one connection within a transaction. */
export interface Queryable {
  query<Row extends QueryResultRow>(text: string, values?: unknown[]): Promise<{ rows: Row[]; rowCount: number | null }>;
}

/** The same as `query`, planned once a connection under that name; for statements that are long and run often. */
export const prepared = <Row extends QueryResultRow>(db: Queryable, name: string, text: string, values: unknown[]): Promise<{ rows: Row[] }> =>
  // Pools and connections take a configuration as well as a text.
  (db as unknown as { query(statement: { name: string; text: string; values: unknown[] }): Promise<{ rows: Row[] }> }).query({ name, text, values });

const held = globalThis as typeof globalThis & { workshopPool?: Pool; filingPool?: Pool };

function poolOf(max: number): Pool {
  const connectionString = process.env.DATABASE_URL;
  if (!connectionString) throw new Error('DATABASE_URL is not set; start the workshop with bin/demo or bin/start.');
  const pool = new Pool({ connectionString, max, connectionTimeoutMillis: 3000, idleTimeoutMillis: 600_000 });
  // A connection lost while idle is replaced by the pool; without a listener it would end the process.
  pool.on('error', () => undefined);
  return pool;
}

/** The pool of this process, on DATABASE_URL. */
export const database = (): Pool => (held.workshopPool ??= poolOf(10));

/**
 * A pool of one connection, for what somebody at the bench waits for entry after entry. A new connection plans and loads
 * everything anew, which takes longer than the filing; this one has done it, whatever the others were used for.
 */
export const filingDatabase = (): Pool => (held.filingPool ??= poolOf(1));

/** Runs `work` in one transaction: all of it is kept, or nothing. */
export async function inTransaction<T>(work: (connection: PoolClient) => Promise<T>): Promise<T> {
  const connection = await database().connect();
  // A server that goes away in the middle breaks the queries under way, which is where it is told.
  const ignore = () => undefined;
  connection.on('error', ignore);
  let broken: Error | undefined;
  try {
    await connection.query('begin');
    const result = await work(connection);
    await connection.query('commit');
    return result;
  } catch (error) {
    await connection.query('rollback').catch((lost: Error) => {
      broken = lost;
    });
    throw error;
  } finally {
    connection.removeListener('error', ignore);
    connection.release(broken);
  }
}

/** True for errors that mean "the database cannot be reached", as against a refused statement. */
export function isDatabaseAway(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  const code = (error as Error & { code?: string }).code ?? '';
  return /^(ECONN|EPIPE|57P0|08)/.test(code) || /Connection terminated|timeout exceeded when trying to connect|Client has encountered a connection error/.test(error.message);
}

/** The error's constraint or SQLSTATE, if the database refused a statement. */
export function refusedBy(error: unknown): { code: string; constraint: string } | null {
  if (!(error instanceof Error)) return null;
  const { code = '', constraint = '' } = error as Error & { code?: string; constraint?: string };
  return /^23/.test(code) ? { code, constraint } : null;
}

/** What is visible now, of which making of the tables. Two equal answers mean that no transaction changed anything between them. */
export interface Snapshot {
  /** Another one after a backup was restored. */
  tables: number;
  visible: string;
}

export async function snapshotOf(db: Queryable): Promise<Snapshot> {
  const { rows } = await db.query<Snapshot>("select 'cell'::regclass::oid as tables, pg_current_snapshot()::text as visible");
  return rows[0] as Snapshot;
}
