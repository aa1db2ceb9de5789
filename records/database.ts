import { createHash } from 'node:crypto';
import { types as kinds } from 'node:util';
import { Pool, type PoolClient, type QueryResultRow, types } from 'pg';

// count() and sum() come as 64-bit integers; the workshop stays far below 2^53 of anything.
types.setTypeParser(types.builtins.INT8, Number);

/** Anything SQL can be sent to: the pool or one connection within a transaction. */
export interface Queryable {
  query<Row extends QueryResultRow>(
    text: string,
    values?: unknown[],
  ): Promise<{ rows: Row[]; rowCount: number | null }>;
}

/**
 * For questions that are asked side by side: over a pool they are, over one connection each waits for the one before,
 * since `pg` takes one at a time.
 */
export function inTurn(db: Queryable): <T>(ask: () => Promise<T>) => Promise<T> {
  if (db instanceof Pool) return (ask) => ask();
  let before: Promise<unknown> = Promise.resolve();
  return (ask) => {
    const asked = before.then(ask);
    before = asked.catch(() => undefined);
    return asked;
  };
}

/** The same as `query`, planned once a connection; for statements that are long and run often. */
export const prepared = <Row extends QueryResultRow>(
  db: Queryable,
  text: string,
  values: unknown[],
): Promise<{ rows: Row[]; rowCount: number | null }> =>
  // Of a name of its own PostgreSQL sees the first 63 letters only: two that begin alike would be one.
  // Pools and connections take a configuration as well as a text.
  (
    db as unknown as {
      query(statement: {
        name: string;
        text: string;
        values: unknown[];
      }): Promise<{ rows: Row[]; rowCount: number | null }>;
    }
  ).query({ name: createHash('sha1').update(text).digest('hex'), text, values });

const held = globalThis as typeof globalThis & { workshopPool?: Pool; filingPool?: Pool; exportPool?: Pool };

function poolOf(max: number): Pool {
  const connectionString = process.env.DATABASE_URL;
  if (!connectionString) throw new Error('DATABASE_URL is not set; start the workshop with bin/demo or bin/start.');
  const pool = new Pool({
    connectionString,
    max,
    // A database that is away refuses at once; one on a busy machine, or whose connections all work, only takes longer.
    connectionTimeoutMillis: 15_000,
    idleTimeoutMillis: 600_000,
    // What is asked for lies in memory or on a disk without a head, and no question is worth compiling.
    options: '-c random_page_cost=1.1 -c jit=off',
  });
  // A connection lost while idle is replaced by the pool; without a listener it would end the process.
  pool.on('error', () => undefined);
  const once = pool.query.bind(pool) as (...given: unknown[]) => Promise<unknown>;
  // A question is asked again when the database was just exchanged for a restored one, or is starting.
  pool.query = ((...given: unknown[]) =>
    trying(
      () => once(...given),
      (error) => isRead(given[0]) && isPassing(error),
    )) as Pool['query'];
  return pool;
}

const isRead = (statement: unknown): boolean => {
  const text = typeof statement === 'string' ? statement : (statement as { text?: string } | null)?.text;
  return /^\s*(select|with)\b/i.test(text ?? '');
};

/** An error of any realm: tests run in one of their own. */
const isError = (error: unknown): error is Error => error instanceof Error || kinds.isNativeError(error);

const codeOf = (error: unknown): string => (isError(error) && (error as Error & { code?: string }).code) || '';

/** Gone for a moment: the server ended the connection, is starting, or just renamed the database. */
const isPassing = (error: unknown): boolean => /^(57P0|3D000)/.test(codeOf(error));
/** Two transactions waited for each other, and this one had to give way. */
const gaveWay = (error: unknown): boolean => /^40(P01|001)/.test(codeOf(error));

const pausesMs = [10, 40, 100, 200, 400, 800, 1500];

/** Does it, and does it again after a pause for as long as `again` says that its error passes. */
async function trying<T>(work: () => Promise<T>, again: (error: unknown) => boolean): Promise<T> {
  for (const pause of pausesMs) {
    try {
      return await work();
    } catch (error) {
      if (!again(error)) throw error;
      await new Promise((resolve) => setTimeout(resolve, pause * (0.5 + Math.random())));
    }
  }
  return work();
}

/** The pool of this process, on DATABASE_URL. */
export const database = (): Pool => (held.workshopPool ??= poolOf(10));

/**
 * A pool of one connection, for what a person at the bench waits for entry after entry. A new connection plans and
 * loads everything again, which takes longer than the filing; this one has done it, whatever the others were used for.
 */
export const filingDatabase = (): Pool => (held.filingPool ??= poolOf(1));

/** Exports that may run at once: each keeps a connection for as long as its reader takes. */
export const mostExports = 2;

/** A pool of its own for exports, so that slow readers hold back nothing else. */
export const exportDatabase = (): Pool => (held.exportPool ??= poolOf(mostExports));

/** An error of a transaction that certainly stored nothing: it came before the end was asked for. */
interface KnownFailure extends Error {
  isNothingStored?: boolean;
}

/** For work that had only looked until then. */
export function noteNothingStored(error: unknown): void {
  if (isError(error)) (error as KnownFailure).isNothingStored = true;
}

/** True where it is certain that nothing was stored; an answer that was lost on the way leaves it open. */
export const wasNothingStored = (error: unknown): boolean =>
  isError(error) &&
  ((error as KnownFailure).isNothingStored === true ||
    refusedBy(error) !== null ||
    /^(ECONNREFUSED|57P03|3D000)/.test(codeOf(error)) ||
    error.message.includes('timeout exceeded when trying to connect'));

/**
 * Runs `work` in one transaction: all of it is kept, or nothing. It runs again from the start where another transaction
 * stood in its way, or the database was exchanged under it.
 */
export async function inTransaction<T>(
  work: (connection: PoolClient) => Promise<T>,
  pool: Pool = database(),
): Promise<T> {
  return trying(
    () => transactionOnce(work, pool),
    (error) => wasNothingStored(error) && (gaveWay(error) || isPassing(error)),
  );
}

async function transactionOnce<T>(work: (connection: PoolClient) => Promise<T>, pool: Pool): Promise<T> {
  const connection = await pool.connect();
  // A server that goes away in the middle breaks the queries under way, which is where the error shows.
  const ignore = () => undefined;
  connection.on('error', ignore);
  let broken: Error | undefined;
  let ending = false;
  try {
    await connection.query('begin');
    const result = await work(connection);
    ending = true;
    await connection.query('commit');
    return result;
  } catch (error) {
    if (!ending) noteNothingStored(error);
    await connection.query('rollback').catch((lost: Error) => {
      broken = lost;
    });
    throw error;
  } finally {
    connection.removeListener('error', ignore);
    connection.release(broken);
  }
}

/** True where no room was left on a disk: for temporary files, or for the database. */
export const isDiskFull = (error: unknown): boolean => /^(ENOSPC|EDQUOT|53100)$/.test(codeOf(error));

/** True for errors that mean "the database cannot be reached", as against a refused statement. */
export function isDatabaseAway(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  return (
    /^(ECONN|EPIPE|57P0|08|3D000)/.test(codeOf(error)) ||
    /Connection terminated|timeout exceeded when trying to connect|Client has encountered a connection error/.test(
      error.message,
    )
  );
}

/**
 * The error's constraint and SQLSTATE, if the database refused a statement: a broken rule, a value beyond its type, a
 * transaction that gave way.
 */
export function refusedBy(error: unknown): { code: string; constraint: string } | null {
  const code = codeOf(error);
  return /^(22|23|40P01|40001)/.test(code)
    ? { code, constraint: (error as Error & { constraint?: string }).constraint ?? '' }
    : null;
}

/** What is visible now, of which database. Two equal answers mean that no transaction changed anything between them. */
export interface Snapshot {
  /** Another one after a backup was restored. */
  databaseOid: number;
  visible: string;
}

export async function snapshotOf(db: Queryable): Promise<Snapshot> {
  const { rows } = await db.query<Snapshot>(
    `select pg_database.oid as "databaseOid", pg_current_snapshot()::text as visible
     from pg_database where datname = current_database()`,
  );
  return rows[0] as Snapshot;
}
