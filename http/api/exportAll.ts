import 'server-only';
import { database } from '@/records/database';
import { writePackage } from '@/records/dataPackage';
import { PassThrough, Readable } from 'node:stream';
import { now } from '@/workshop/clock';

/** The whole workshop as a Data Package, streamed as it is read. */
export function exportAll(): Response {
  const out = new PassThrough();
  // A reader that went away, or a database, ends the stream: what arrived is no whole archive then.
  writePackage(database(), out).catch((error: Error) => out.destroy(error));
  out.on('error', (error) => console.error(error));
  const day = now().toISOString().slice(0, 10);
  return new Response(Readable.toWeb(out) as ReadableStream, {
    headers: {
      'Content-Type': 'application/zip',
      'Content-Disposition': `attachment; filename="workshop-${day}.zip"`,
    },
  });
}
