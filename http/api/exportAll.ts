import 'server-only';
import { exportDatabase, mostExports } from '@/records/database';
import { writePackage } from '@/records/dataPackage';
import { now } from '@/workshop/clock';
import { PassThrough } from 'node:stream';
import { asFile } from './download';
import { Refusal } from './respond';

const again = 30;

/**
 * The whole workshop as a Data Package, streamed as it is read.
 *
 * @throws Refusal while other exports use every connection that exports have
 */
export function exportAll(): Response {
  const pool = exportDatabase();
  if (pool.totalCount - pool.idleCount + pool.waitingCount >= mostExports)
    throw new Refusal(429, 'busy', `${mostExports} exports are running. Try again in ${again} s.`, [], again);
  const out = new PassThrough();
  // A reader that left, or a database that went away, ends the stream: what arrived is not a whole archive then.
  writePackage(pool, out).catch((error: Error) => {
    console.error(error.message);
    out.destroy(error);
  });
  const day = now().toISOString().slice(0, 10);
  return asFile(out, 'application/zip', `workshop-${day}.zip`);
}
