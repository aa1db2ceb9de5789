import { mkdir, mkdtemp, readdir, rm, stat } from 'node:fs/promises';
import { tmpdir, userInfo } from 'node:os';
import { join } from 'node:path';

/** Where files lie on their way into the database: a folder of the workshop's own. */
const folder = (): string => process.env.BOLD_EMBER_TEMPORARY || join(tmpdir(), `bold-ember-${userInfo().uid}`);
/** Each process has its own part of it. */
const own = (): string => join(folder(), String(process.pid));

/** A new folder for one piece of work; its maker removes it. */
export async function temporaryFolder(): Promise<string> {
  await mkdir(own(), { recursive: true, mode: 0o700 });
  return mkdtemp(join(own(), 'work-'));
}

/**
 * Takes away what processes left that were ended in the middle. Another server on the same folder keeps its own.
 *
 * @throws Error when the folder belongs to another user or others may look into it
 */
export async function clearTemporary(): Promise<void> {
  await mkdir(folder(), { recursive: true, mode: 0o700 });
  const { uid, mode } = await stat(folder());
  if (uid !== userInfo().uid || (mode & 0o077) !== 0)
    throw new Error(
      `${folder()} belongs to another user or is open to others. Set BOLD_EMBER_TEMPORARY to a folder of your own.`,
    );
  for (const name of await readdir(folder())) {
    if (name === String(process.pid) || !isAlive(Number(name)))
      await rm(join(folder(), name), { recursive: true, force: true });
  }
}

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
}
