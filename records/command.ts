import { writeFile } from 'node:fs/promises';
import { createWriteStream } from 'node:fs';
import { basename, isAbsolute, resolve } from 'node:path';
import { Pool } from 'pg';
import { BackupRefused, inWords } from './archive';
import { backUp, backUpInto, replacing } from './backup';
import { type PackageDescription, writePackage } from './dataPackage';
import { checkPackage, readPackage } from './dataPackageIn';
import { isDatabaseAway } from './database';
import { migrate, MigrationStopped } from './migrate';
import { exclusively, forgetRestores, restore, undoRestore } from './restore';
import { schemaText } from './schemaText';
import { scratchDatabase } from './scratchDatabase';

/**
 * What `bin/db backup`, `bin/db restore` and `bin/db schema` do, on the database of DATABASE_URL.
 *
 * @param here the person's working folder: their paths begin there
 */
async function command(here: string, [what, ...given]: string[]): Promise<string> {
  const url = process.env.DATABASE_URL;
  if (!url) throw new BackupRefused('DATABASE_URL is not set.');
  const pathOf = (path: string): string => (isAbsolute(path) ? path : resolve(here, path));
  if (what === 'backup' && given[0] === '--keep') {
    const keep = Number(given[1]);
    if (!Number.isInteger(keep) || keep < 1 || !given[2])
      throw new BackupRefused('Say how many and where to: bin/db backup --keep 14 DIR');
    const { file, archive, gone } = await backUpInto(url, pathOf(given[2]), keep);
    return `Saved ${inWords(archive.rows)} to ${file}.${gone.length > 0 ? ` Taken away: ${gone.join(', ')}.` : ''}`;
  }
  if (what === 'backup' && given[0]) {
    const { rows } = await backUp(url, pathOf(given[0]));
    return `Saved ${inWords(rows)} to ${pathOf(given[0])}.`;
  }
  if (what === 'restore' && given[0] === '--undo') {
    const { broughtBack, keptAs } = await undoRestore(url);
    return (
      `Brought back ${broughtBack}. What was here is put aside as ${keptAs}; bin/db restore --undo exchanges them ` +
      'again.'
    );
  }
  if (what === 'restore' && given[0] === '--forget') {
    const gone = await forgetRestores(url);
    return gone.length === 0 ? 'Nothing was put aside.' : `Let go of ${gone.join(', ')}.`;
  }
  if (what === 'restore' && given[0]) {
    const { archive, before, keptAs } = await restore(url, pathOf(given[0]));
    return [
      `In the file: ${inWords(archive.rows)}, saved ${archive.madeAt}.`,
      `Here until now: ${inWords(before)}.`,
      `Exchanged: the workshop now holds what was in the file. What was here is put aside as ${keptAs};`,
      'bin/db restore --undo brings it back, bin/db restore --forget lets it go. Keys that were withdrawn stay',
      'withdrawn; everyone has to sign in again.',
    ].join('\n');
  }
  if (what === 'export' && given[0]) {
    const file = pathOf(given[0]);
    const { resources } = await withPool(url, (pool) => exportTo(pool, file));
    const rows = new Map(resources.map(({ path, rows: count }) => [basename(path, '.csv'), count ?? 0]));
    return `Written ${inWords(rows)} to ${file}, a Data Package; the passphrase and keys are not in it.`;
  }
  if (what === 'import' && given[0]) {
    const file = pathOf(given[0]);
    const rows = await exclusively(url, () => withPool(url, (pool) => readPackage(pool, file)));
    return `Read ${inWords(rows)} into this workshop.`;
  }
  if (what === 'schema') return writeSchema('docs/schema.md');
  throw new BackupRefused(
    'bin/db backup FILE | backup --keep 14 DIR | restore FILE | restore --undo | restore --forget | ' +
      'export FILE.zip | import FILE.zip',
  );
}

async function withPool<T>(url: string, work: (pool: Pool) => Promise<T>): Promise<T> {
  const pool = new Pool({ connectionString: url, max: 2 });
  return work(pool).finally(() => pool.end());
}

/** Written beside, read through, and only then under its name: an export that fails leaves the one before as it was. */
async function exportTo(pool: Pool, file: string): Promise<PackageDescription> {
  await migrate(pool);
  return replacing(file, async (beside) => {
    const description = await writePackage(pool, createWriteStream(beside, { mode: 0o600 }));
    await checkPackage(beside);
    return description;
  });
}

/** Writes down the tables that the migrations make, from a database of their own. */
async function writeSchema(file: string): Promise<string> {
  const scratch = await scratchDatabase();
  try {
    await migrate(scratch.pool);
    await writeFile(file, await schemaText(scratch.pool));
    return `Written: ${file}.`;
  } finally {
    await scratch.drop();
  }
}

/** What the system says of a file or the database, in words. */
const inPlainWords: Record<string, string> = {
  ENOENT: 'There is no such file or folder',
  EACCES: 'You may not read or write this',
  EPERM: 'You may not read or write this',
  EISDIR: 'This is a folder, not a file',
  ENOTDIR: 'A part of this path is a file, not a folder',
  EROFS: 'This disk is read-only',
  ENOSPC: 'The disk is full',
  EDQUOT: 'Your share of the disk is full',
  EFBIG: 'The file grew larger than the disk allows',
  ECONNREFUSED: 'The database does not answer; bin/db start starts it',
};

/** For a person; null for a fault of this program. */
function whyFailed(error: unknown): string | null {
  if (error instanceof BackupRefused || error instanceof MigrationStopped) return error.message;
  const { code = '', path } = error as { code?: string; path?: string };
  const said = inPlainWords[code];
  if (said !== undefined) return `${said}${path ? `: ${path}` : ''}.`;
  return error instanceof Error && isDatabaseAway(error) ? 'The database went away.' : null;
}

const [here = process.cwd(), ...given] = process.argv.slice(2);
command(here, given).then(
  (said) => console.error(said),
  (error: unknown) => {
    const said = whyFailed(error);
    console.error(said === null ? error : `${said}\nNothing was changed.`);
    process.exitCode = 1;
  },
);
