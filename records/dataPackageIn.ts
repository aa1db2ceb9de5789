import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { type Readable, Transform, Writable } from 'node:stream';
import { text } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';
import { promisify } from 'node:util';
import { createGunzip } from 'node:zlib';
import type { Pool, PoolClient } from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { type Entry, open, type Options, type ZipFile } from 'yauzl';
import { z } from 'zod';
import { BackupRefused } from './archive';
import { descriptionName } from './dataPackage';
import { migrate, migrationNames } from './migrate';
import { type PackageTable, packageTables, readBack } from './packageTables';
import { keepRunFile } from './runFiles';

const described = z.object({
  schemaVersion: z.string(),
  resources: z
    .array(
      z.object({
        name: z.string(),
        path: z.string(),
        bytes: z.number().int().min(0),
        hash: z.string().regex(/^sha256:[0-9a-f]{64}$/),
        rows: z.number().int().min(0).optional(),
      }),
    )
    .max(100_000),
});
type Described = z.infer<typeof described>;
const mostDescriptionBytes = 1 << 26;

/** Takes everything and keeps nothing. */
const nowhere = (): Writable => new Writable({ write: (_part, _encoding, next) => next() });

/** Whether a gzipped file unpacks to its end. */
const unpacks = (packed: Readable): Promise<boolean> =>
  pipeline(packed, createGunzip(), nowhere()).then(
    () => true,
    (error: unknown) => {
      if (error instanceof BackupRefused) throw error;
      return false;
    },
  );

/** The files of a zip archive by their paths. */
async function entriesOf(zip: ZipFile): Promise<Map<string, Entry>> {
  const entries = new Map<string, Entry>();
  zip.on('entry', (entry: Entry) => {
    entries.set(entry.fileName, entry);
    zip.readEntry();
  });
  zip.readEntry();
  await once(zip, 'end');
  return entries;
}

const openZip = (file: string): Promise<ZipFile> =>
  promisify<string, Options, ZipFile>(open)(file, { lazyEntries: true, autoClose: false }).catch((error: Error) => {
    throw 'code' in error ? error : new BackupRefused(`${file} is no zip archive, or is cut short: ${error.message}.`);
  });

const streamOf = (zip: ZipFile, entry: Entry): Promise<Readable> =>
  promisify<Entry, Readable>(zip.openReadStream.bind(zip))(entry);

async function descriptionOf(zip: ZipFile, entries: ReadonlyMap<string, Entry>): Promise<Described> {
  const entry = entries.get(descriptionName);
  if (!entry) throw new BackupRefused(`This is no package of a workshop: it holds no ${descriptionName}.`);
  if (entry.uncompressedSize > mostDescriptionBytes)
    throw new BackupRefused(`${descriptionName} is larger than any workshop's.`);
  const read = described.safeParse(jsonIn(await text(await streamOf(zip, entry))));
  if (!read.success) throw new BackupRefused(`${descriptionName} does not describe a workshop.`);
  return read.data;
}

function jsonIn(written: string): unknown {
  try {
    return JSON.parse(written);
  } catch {
    return null;
  }
}

/** Lets through what a file of the package promises to hold, and nothing else. */
function createCheck({ path, bytes, hash }: Described['resources'][number]): Transform {
  const seen = createHash('sha256');
  let length = 0;
  return new Transform({
    transform(part: Buffer, _, next) {
      length += part.length;
      seen.update(part);
      // More than it says it is would be a bomb.
      if (length > bytes) next(new BackupRefused(`${path} is larger than the package says.`));
      else next(null, part);
    },
    flush(next) {
      const isWhole = length === bytes && `sha256:${seen.digest('hex')}` === hash;
      next(isWhole ? null : new BackupRefused(`${path} is not what the package says: it was changed or damaged.`));
    },
  });
}

/**
 * Reads a package through to its end.
 *
 * @throws BackupRefused where it is not what its description says
 */
export async function checkPackage(file: string): Promise<void> {
  const zip = await openZip(file);
  try {
    const entries = await entriesOf(zip);
    const { resources } = await descriptionOf(zip, entries);
    for (const resource of resources) {
      const entry = entries.get(resource.path);
      if (!entry) throw new BackupRefused(`The package lacks ${resource.path}.`);
      await pipeline(await streamOf(zip, entry), createCheck(resource), nowhere());
    }
  } finally {
    zip.close();
  }
}

/**
 * Reads a package back into an empty workshop: all of it, or nothing. Returns the rows by table.
 *
 * @throws BackupRefused where the workshop is not empty, or the file is no whole package of this version
 */
export async function readPackage(pool: Pool, file: string): Promise<Map<string, number>> {
  await migrate(pool);
  const zip = await openZip(file);
  const connection = await pool.connect();
  try {
    const entries = await entriesOf(zip);
    const description = await descriptionOf(zip, entries);
    const newest = (await migrationNames()).at(-1);
    if (description.schemaVersion !== newest)
      throw new BackupRefused(
        `The package was written by version ${description.schemaVersion}, this workshop is ${newest}: ` +
          'bring both up to date, and write it again.',
      );
    await connection.query('begin');
    const rows = await fillFrom(connection, zip, entries, description);
    // Rows may point at rows that came later; that is looked at now.
    await connection.query('set constraints all immediate').catch((error: unknown) => {
      throw refusedRows((error as { table?: string }).table ?? 'some', error);
    });
    await connection.query('commit');
    await connection.query('analyze');
    return rows;
  } catch (error) {
    await connection.query('rollback');
    throw error;
  } finally {
    connection.release();
    zip.close();
  }
}

async function fillFrom(
  connection: PoolClient,
  zip: ZipFile,
  entries: ReadonlyMap<string, Entry>,
  { resources }: Described,
): Promise<Map<string, number>> {
  const tables = await packageTables(connection);
  await isEmpty(connection, tables);
  /** What the package holds under a path, as it promises it. */
  const held = async (path: string): Promise<Readable> => {
    const [resource, entry] = [resources.find((one) => one.path === path), entries.get(path)];
    if (!resource || !entry) throw new BackupRefused(`The package lacks ${path}.`);
    const [from, check] = [await streamOf(zip, entry), createCheck(resource)];
    from.on('error', (error) => check.destroy(new BackupRefused(`${path} is damaged: ${error.message}.`)));
    return from.pipe(check);
  };
  await connection.query(`truncate ${tables.map(({ name }) => name).join(', ')}, run_result, change cascade`);
  const rows = new Map<string, number>();
  for (const table of tables) {
    const path = `data/${table.name}.csv`;
    const count = await fillTable(connection, table, () => held(path));
    const promised = resources.find((one) => one.path === path)?.rows;
    if (promised !== undefined && promised !== count)
      throw new BackupRefused(`The package says ${promised} rows of ${table.name}, ${count} arrived.`);
    rows.set(table.name, count);
  }
  for (const { path } of resources) {
    const runId = Number(/^files\/(\d+)\.gz$/.exec(path)?.[1] ?? NaN);
    if (!Number.isInteger(runId)) continue;
    if (!(await unpacks(await held(path)))) throw new BackupRefused(`${path} is no whole gzip file.`);
    await keepRunFile(connection, runId, await held(path)).catch((error: unknown) => {
      throw refusedRows('run', error);
    });
  }
  return rows;
}

/** What a new workshop holds already: the protocols that the tables came with, as they were then. */
const isNew =
  `recorded_at = (select run_at from migration where name = '0003-instruments.sql') ` + 'and archived_at is null';

/**
 * Facts that are here are not mixed with facts from elsewhere. From here on nothing can be filed until the import has
 * ended.
 */
async function isEmpty(connection: PoolClient, tables: readonly PackageTable[]): Promise<void> {
  await connection.query(`lock table ${tables.map(({ name }) => name).join(', ')} in exclusive mode`);
  const filled: string[] = [];
  for (const { name } of tables) {
    const own = name === 'protocol' ? `where not (${isNew})` : '';
    const { rowCount } = await connection.query(`select from ${name} ${own} limit 1`);
    if (rowCount) filled.push(name.replaceAll('_', ' '));
  }
  if (filled.length > 0)
    throw new BackupRefused(
      `This workshop is not empty: it holds ${filled.slice(0, 3).join(', ')}${filled.length > 3 ? ' and more' : ''}. ` +
        'Read the package into a new workshop: BOLD_EMBER_WORKSHOP=name bin/db import …',
    );
}

/** What the database says against the rows of a table, for the person who brought them; any other error as it is. */
function refusedRows(table: string, error: unknown): unknown {
  const { code = '', message, detail = '' } = error as { code?: string; message: string; detail?: string };
  return /^(22|23|42)/.test(code)
    ? new BackupRefused(`data/${table}.csv does not fit: ${message}. ${detail}`.trim())
    : error;
}

async function fillTable(
  connection: PoolClient,
  { name, columns }: PackageTable,
  csv: () => Promise<Readable>,
): Promise<number> {
  await connection.query(`create temporary table arriving (${columns.map((one) => `${one.name} text`).join(', ')})`);
  // Its heading has to name these columns in this order.
  await pipeline(await csv(), connection.query(copyFrom('copy arriving from stdin (format csv, header match)'))).catch(
    (error: unknown) => {
      throw refusedRows(name, error);
    },
  );
  const { rowCount } = await connection
    .query(
      `insert into ${name} (${columns.map((one) => one.name).join(', ')}) overriding system value
       select ${columns.map(readBack).join(', ')} from arriving`,
    )
    .catch((error: unknown) => {
      throw refusedRows(name, error);
    });
  await connection.query('drop table arriving');
  // What is counted up goes on behind what came.
  for (const column of columns.filter(({ type }) => type === 'integer' || type === 'bigint'))
    await connection.query(
      `select setval(pg_get_serial_sequence($1, $2), (select coalesce(max(${column.name}), 1) from ${name}))
       where pg_get_serial_sequence($1, $2) is not null`,
      [name, column.name],
    );
  return rowCount ?? 0;
}
