import { mkdir, open, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Client } from 'pg';
import { type Archive, dump, readArchive } from './archive';
import type { Queryable } from './database';

/**
 * Saves the database into a file that only its owner may read. It is written beside, read through, and then takes the
 * file's name at once: a backup that fails leaves the one before as it was.
 *
 * @throws BackupRefused when it cannot be written or does not read back
 */
export async function backUp(url: string, file: string): Promise<Archive> {
  const archive = await replacing(file, async (beside) => {
    await dump(url, beside);
    return readArchive(beside);
  });
  await note(url, file);
  return archive;
}

/** Writes a file for its owner alone under another name, and gives it its own once `write` is through. */
export async function replacing<T>(file: string, write: (beside: string) => Promise<T>): Promise<T> {
  const beside = `${file}.${process.pid}.part`;
  try {
    await (await open(beside, 'w', 0o600)).close();
    const written = await write(beside);
    const handle = await open(beside, 'r+');
    await handle.sync();
    await handle.close();
    await rename(beside, file);
    return written;
  } finally {
    await rm(beside, { force: true });
  }
}

/** Tells the workshop when it was last saved. */
async function note(url: string, file: string): Promise<void> {
  const client = new Client({ connectionString: url });
  await client.connect();
  await client
    .query('insert into backup (file, bytes) values ($1, $2)', [file, (await stat(file)).size])
    .finally(() => client.end());
}

/** Numbered, since a clock may be set back; earlier versions had only the time. */
const ofTimer = /^workshop-(?:(\d{6})-)?\d{8}T\d{6}Z\.backup$/;
const numberOf = (name: string): number => Number(ofTimer.exec(name)?.[1] ?? 0);

/** Those that the timer made in a folder, the newest last. */
const madeByTimer = async (folder: string): Promise<string[]> =>
  (await readdir(folder))
    .filter((name) => ofTimer.test(name))
    .sort()
    .sort((a, b) => numberOf(a) - numberOf(b));

/** For a timer: a new backup in a folder, of which the newest `keep` stay. Returns its path and what was taken away. */
export async function backUpInto(
  url: string,
  folder: string,
  keep: number,
): Promise<{ file: string; archive: Archive; gone: string[] }> {
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const number = numberOf((await madeByTimer(folder)).at(-1) ?? '') + 1;
  const time = new Date().toISOString().replace(/[-:]|\.\d+/g, '');
  const file = join(folder, `workshop-${String(number).padStart(6, '0')}-${time}.backup`);
  const archive = await backUp(url, file);
  const all = await madeByTimer(folder);
  const gone = all.slice(0, Math.max(0, all.length - keep));
  for (const name of gone) await rm(join(folder, name));
  return { file, archive, gone };
}

/** When the last backup was made; null where none ever was. */
export async function lastBackupAt(db: Queryable): Promise<Date | null> {
  const { rows } = await db.query<{ madeAt: Date }>('select made_at as "madeAt" from backup order by id desc limit 1');
  return rows[0]?.madeAt ?? null;
}
