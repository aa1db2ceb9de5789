import { stat } from 'node:fs/promises';
import { Client, Pool } from 'pg';
import { type Archive, BackupRefused, fillFrom, readArchive } from './archive';
import type { Queryable } from './database';
import { dropPassing, idOf, keptDatabases, newKeptName, passingNames, quoted } from './keptDatabases';
import { migrate, migrationNames, MigrationStopped } from './migrate';

/** What a restore did, for the person to read. */
export interface Restored {
  archive: Archive;
  /** Rows by table of what was here before. */
  before: Map<string, number>;
  /** The database that holds what was here before. */
  keptAs: string;
}

/**
 * Restores a backup into a database beside the workshop's, checks that everything arrived and that it guards its facts
 * as this version does, and only then swaps their names in one act. What was here is kept under another name. A running
 * application goes on with what is there afterwards. Keys that were withdrawn stay withdrawn.
 *
 * @throws BackupRefused for a file that is no whole backup of a workshop; nothing is changed then
 */
export async function restore(url: string, file: string): Promise<Restored> {
  const archive = await readArchive(file);
  const own = nameOf(url);
  const { restoring, reference } = passingNames(own);
  return exclusively(url, async (server) => {
    const ownId = await idOf(server, own);
    await makeEmpty(server, restoring);
    await makeEmpty(server, reference);
    try {
      await restoreInto(addressOf(url, restoring), file, archive);
      await guardsFacts(addressOf(url, restoring), addressOf(url, reference));
      const before = await connected(url, (db) => countedRows(db));
      await carryWithdrawals(url, addressOf(url, restoring));
      const keptAs = await newKeptName(server, own);
      await swap(server, url, [own, ownId], [restoring, await idOf(server, restoring)], keptAs);
      return { archive, before, keptAs };
    } finally {
      await dropPassing(server, own);
    }
  });
}

/** Brings back what the last restore put aside; what is here now is put aside in its place. Returns both names. */
export async function undoRestore(url: string): Promise<{ broughtBack: string; keptAs: string }> {
  const own = nameOf(url);
  return exclusively(url, async (server) => {
    const newest = (await keptDatabases(server, own)).at(-1);
    if (newest === undefined) throw new BackupRefused('No restore can be undone: nothing was put aside.');
    await connected(addressOf(url, newest), (db) => db.query('delete from session'));
    await carryWithdrawals(url, addressOf(url, newest));
    const keptAs = await newKeptName(server, own);
    await swap(server, url, [own, await idOf(server, own)], [newest, await idOf(server, newest)], keptAs);
    return { broughtBack: newest, keptAs };
  });
}

/** Lets go of everything that restores put aside, and of what a restore that was killed left. Returns the names. */
export async function forgetRestores(url: string): Promise<string[]> {
  return exclusively(url, async (server) => {
    const own = nameOf(url);
    const gone = [...(await keptDatabases(server, own)), ...(await dropPassing(server, own))];
    for (const name of gone) await server.query(`drop database if exists ${quoted(name)} with (force)`);
    return gone;
  });
}

/** Takes away what a restore left that was killed; leaves a restore alone that is under way. */
export async function clearKilledRestore(url: string): Promise<void> {
  await exclusively(url, (server) => dropPassing(server, nameOf(url))).catch((error: unknown) => {
    if (!(error instanceof BackupRefused)) throw error;
  });
}

/**
 * Does what exchanges or fills a workshop as a whole, one such thing at a time, over a connection to another database
 * of the same server: a database cannot be renamed over its own connections.
 *
 * @throws BackupRefused while another one is under way
 */
export async function exclusively<T>(url: string, work: (server: Client) => Promise<T>): Promise<T> {
  return maintaining(url, async (server) => {
    const { rows } = await server.query<{ isFree: boolean }>(
      `select pg_try_advisory_lock(hashtext('workshop'), hashtext($1)) as "isFree"`,
      [nameOf(url)],
    );
    if (!rows[0]?.isFree)
      throw new BackupRefused('A restore or an import of this workshop is running. Wait until it has ended.');
    return work(server);
  });
}

/** Keys that are withdrawn in one database are withdrawn in the other. */
async function carryWithdrawals(from: string, to: string): Promise<void> {
  const withdrawn = await connected(from, async (db) => {
    const { rows } = await db.query<{ hash: Buffer }>(
      'select token_hash as hash from api_key where withdrawn_at is not null',
    );
    return rows.map(({ hash }) => hash);
  });
  await connected(to, (db) =>
    db.query('update api_key set withdrawn_at = now() where withdrawn_at is null and token_hash = any($1)', [
      withdrawn,
    ]),
  );
}

const nameOf = (url: string): string => decodeURIComponent(new URL(url).pathname.slice(1));

function addressOf(url: string, database: string): string {
  const address = new URL(url);
  address.pathname = `/${database}`;
  return address.href;
}

/** A connection to another database of the same server: a connection cannot rename its own. */
async function maintaining<T>(url: string, work: (server: Client) => Promise<T>): Promise<T> {
  return connected(addressOf(url, nameOf(url) === 'postgres' ? 'template1' : 'postgres'), work);
}

async function connected<T>(url: string, work: (db: Client) => Promise<T>): Promise<T> {
  const client = new Client({ connectionString: url });
  await client.connect();
  try {
    return await work(client);
  } finally {
    await client.end();
  }
}

async function makeEmpty(server: Client, name: string): Promise<void> {
  await server.query(`drop database if exists ${quoted(name)} with (force)`);
  await server.query(`create database ${quoted(name)} template template0`).catch((error: Error) => {
    throw new BackupRefused(`A second database could not be made beside the workshop's: ${error.message}.`);
  });
}

async function restoreInto(url: string, file: string, archive: Archive): Promise<void> {
  if (archive.makesSchema) await connected(url, (db) => db.query('drop schema public'));
  await fillFrom(file, url);
  await connected(url, async (db) => {
    const arrived = await countedRows(db);
    for (const [table, count] of archive.rows) {
      const there = arrived.get(table);
      if (there !== count)
        throw new BackupRefused(`The backup holds ${count} rows of ${table}, but ${there ?? 'none'} arrived.`);
    }
    const known = new Set(await migrationNames());
    const { rows } = await db.query<{ name: string }>('select name from migration order by name');
    const unknown = rows.filter((row) => !known.has(row.name));
    if (unknown.length > 0)
      throw new BackupRefused(
        `The backup was made by a newer version of the workshop (${unknown.map((row) => row.name).join(', ')}); ` +
          'bring this one up to date first.',
      );
  });
  const pool = new Pool({ connectionString: url, max: 1 });
  try {
    await migrate(pool).catch((error: unknown) => {
      throw error instanceof MigrationStopped ? new BackupRefused(error.message) : error;
    });
    // Transactions count from the start in another database; everyone has to sign in again.
    await pool.query('update change set changed_by = pg_current_xact_id()');
    await pool.query('delete from session');
    // The file cannot hold that it was made.
    const { mtime, size } = await stat(file);
    await pool.query('insert into backup (made_at, file, bytes) values ($1, $2, $3)', [mtime, file, size]);
    await pool.query('analyze');
  } finally {
    await pool.end();
  }
}

async function countedRows(db: Queryable): Promise<Map<string, number>> {
  const { rows } = await db.query<{ name: string }>(
    "select tablename as name from pg_tables where schemaname = 'public'",
  );
  const counts = new Map<string, number>();
  for (const { name } of rows) {
    const counted = await db.query<{ count: string }>(`select count(*) as count from ${quoted(name)}`);
    counts.set(name, Number(counted.rows[0]?.count));
  }
  return counts;
}

/**
 * Everything that keeps facts as they are: tables, columns, constraints, indexes, triggers that are switched on,
 * functions.
 */
const guards = `
  select 'table ' || table_name || ' column ' || column_name as guard
  from information_schema.columns
  where table_schema = 'public'
  union all
  select 'constraint ' || conname || ' on ' || coalesce(conrelid::regclass::text, contypid::regtype::text)
  from pg_constraint
    where connamespace = 'public'::regnamespace and (conrelid <> 0 or contypid <> 0)
  union all
  select 'index ' || indexname || ' on ' || tablename from pg_indexes where schemaname = 'public'
  union all
  select 'trigger ' || tgname || ' on ' || tgrelid::regclass::text from pg_trigger
    join pg_class on pg_class.oid = tgrelid
    where relnamespace = 'public'::regnamespace and not tgisinternal and tgenabled <> 'D'
  union all
  select 'function ' || proname from pg_proc where pronamespace = 'public'::regnamespace`;

/** Holds the restored database against an empty one that this version made. */
async function guardsFacts(restored: string, reference: string): Promise<void> {
  const pool = new Pool({ connectionString: reference, max: 1 });
  await migrate(pool).finally(() => pool.end());
  const guardsOf = (url: string) =>
    connected(url, async (db) => (await db.query<{ guard: string }>(guards)).rows.map((row) => row.guard));
  const there = new Set(await guardsOf(restored));
  const missing = (await guardsOf(reference)).filter((guard) => !there.has(guard));
  if (missing.length > 0)
    throw new BackupRefused(
      `The backup lacks what guards the facts: ${missing.slice(0, 5).join(', ')}${missing.length > 5 ? ' …' : ''}.`,
    );
}

/**
 * `own` takes the name `keptAs` and `other` takes its place: both or neither, and only if both are still the databases
 * that they were. The renaming holds new connections back from its first moment on, and waits some seconds for the old
 * ones to go; they are ended meanwhile.
 */
async function swap(
  server: Client,
  url: string,
  [own, ownId]: [name: string, id: number],
  [other, otherId]: [name: string, id: number],
  keptAs: string,
): Promise<void> {
  await maintaining(url, async (helper) => {
    let done = false;
    const renaming = (async () => {
      await server.query('begin');
      try {
        await server.query(`alter database ${quoted(own)} rename to ${quoted(keptAs)}`);
        await server.query(`alter database ${quoted(other)} rename to ${quoted(own)}`);
        if ((await idOf(server, keptAs)) !== ownId || (await idOf(server, own)) !== otherId)
          throw new BackupRefused('Another process replaced the workshop.');
        await server.query('commit');
      } catch (error) {
        await server.query('rollback');
        throw error;
      } finally {
        done = true;
      }
    })();
    const ending = (async () => {
      while (!done)
        await helper.query(
          'select pg_terminate_backend(pid), pg_sleep(0.02) from pg_stat_activity where datname = any($1)',
          [[own, other]],
        );
    })();
    await Promise.all([renaming, ending]);
  });
}
