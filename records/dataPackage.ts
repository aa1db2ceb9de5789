import { createHash } from 'node:crypto';
import { Readable, Transform, type Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Pool, PoolClient } from 'pg';
import { to as copyTo } from 'pg-copy-streams';
import { ZipFile } from 'yazl';
import type { Queryable } from './database';
import { type PackageTable, packageTables, schemaType, written } from './packageTables';
import { filesOfRuns, packedFile } from './runFiles';

/** One file of a package, by its description. */
export interface PackageResource {
  name: string;
  path: string;
  bytes: number;
  /** `sha256:…` of it. */
  hash: string;
  /** Of a table. */
  rows?: number;
  /** Of a file that a run came from: as it arrived, gzipped. */
  fileName?: string;
}

export interface PackageDescription {
  profile: 'data-package';
  name: string;
  title: string;
  created: string;
  /** The newest migration of the workshop that wrote it. */
  schemaVersion: string;
  resources: PackageResource[];
}

export const descriptionName = 'datapackage.json';
export const filePath = (runId: number): string => `files/${runId}.gz`;

/** Lets everything through, and gives its size and hash afterwards. */
function createSeal() {
  const hash = createHash('sha256');
  let bytes = 0;
  const through = new Transform({
    transform(part: Buffer, _, next) {
      bytes += part.length;
      hash.update(part);
      next(null, part);
    },
  });
  return { through, sealed: () => ({ bytes, hash: `sha256:${hash.digest('hex')}` }) };
}

type Zipped = { resource: Omit<PackageResource, 'bytes' | 'hash'>; open(): Readable; isPacked: boolean };

/** Writes files into a zip archive one after the other, no faster than it is taken; the description of them last. */
async function zipInto(
  out: Writable,
  files: readonly Zipped[],
  describe: (resources: PackageResource[]) => Promise<PackageDescription>,
): Promise<PackageDescription> {
  const zip = new ZipFile();
  const seals = files.map(createSeal);
  files.forEach(({ resource, open, isPacked }, i) => {
    zip.addReadStreamLazy(resource.path, { compress: !isPacked }, (give) => {
      const { through } = seals[i] as ReturnType<typeof createSeal>;
      const from = open();
      // The archive does not listen to what it is given.
      from.on('error', (error) => zip.emit('error', error));
      give(null, from.pipe(through));
    });
  });
  let description: PackageDescription | null = null;
  // It is asked for once everything before it is through.
  zip.addReadStreamLazy(descriptionName, (give) => {
    describe(files.map(({ resource }, i) => ({ ...resource, ...(seals[i] as ReturnType<typeof createSeal>).sealed() })))
      .then((described) => {
        description = described;
        give(null, Readable.from([Buffer.from(JSON.stringify(described, null, 2))]));
      })
      .catch((error: unknown) => give(error, Readable.from([])));
  });
  zip.end();
  await new Promise<void>((resolve, reject) => {
    zip.on('error', reject);
    pipeline(zip.outputStream as Readable, out).then(resolve, reject);
  });
  if (!description) throw new Error('The package was not described.');
  return description;
}

/**
 * Writes the whole workshop as a Data Package: a CSV with its schema for each table of facts, the files that runs came
 * from as they arrived, and `datapackage.json` last. All of one moment, whatever is filed meanwhile. Who may come in is
 * not in it. Source: Data Package (v1), RFC 4180.
 */
export async function writePackage(pool: Pool, out: Writable): Promise<PackageDescription> {
  const connection = await pool.connect();
  try {
    await connection.query('begin isolation level repeatable read read only');
    const tables = await packageTables(connection);
    const files: Zipped[] = [];
    for (const table of tables) files.push(await zippedTable(connection, table));
    for (const { runId, fileName } of await filesOfRuns(connection))
      files.push({
        resource: { name: `run-${runId}-file`, path: filePath(runId), fileName },
        open: () => Readable.from(packedFile(connection, runId), { objectMode: false }),
        isPacked: true,
      });
    const description = await zipInto(out, files, (resources) => describe(connection, resources));
    await connection.query('rollback');
    connection.release();
    return description;
  } catch (error) {
    // A table may still be on its way to a reader that left; only the end of the connection ends that.
    connection.release(true);
    throw error;
  }
}

async function zippedTable(connection: PoolClient, table: PackageTable): Promise<Zipped> {
  const { name, columns, primaryKey } = table;
  const selected = columns.map((column) => `${written(column)} as ${column.name}`).join(', ');
  const inOrder = `select ${selected} from ${name} order by ${primaryKey.join(', ')}`;
  const resource = {
    name: name.replaceAll('_', '-'),
    path: `data/${name}.csv`,
    rows: await countOf(connection, name),
    profile: 'tabular-data-resource',
    format: 'csv',
    encoding: 'utf-8',
    schema: {
      fields: columns.map((column) => ({
        name: column.name,
        ...schemaType(column),
        ...(column.nullable ? {} : { constraints: { required: true } }),
      })),
      primaryKey,
    },
  };
  return {
    resource,
    open: () => connection.query(copyTo(`copy (${inOrder}) to stdout (format csv, header)`)),
    isPacked: false,
  };
}

async function countOf(db: Queryable, table: string): Promise<number> {
  const { rows } = await db.query<{ count: number }>(`select count(*) as count from ${table}`);
  return Number(rows[0]?.count);
}

async function describe(db: Queryable, resources: PackageResource[]): Promise<PackageDescription> {
  const { rows } = await db.query<{ name: string }>('select name from migration order by name desc limit 1');
  return {
    profile: 'data-package',
    name: 'workshop',
    title: 'A workshop: every cell, pack, reading, log and rule',
    created: new Date().toISOString(),
    schemaVersion: rows[0]?.name ?? '',
    resources,
  };
}
