import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import type { PoolClient } from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { copyEnd, copySignature } from './binaryCopy';
import type { Queryable } from './database';

const portionBytes = 1 << 18;

/** Rows of run_id, seq and packed in the binary form of COPY. */
async function* rowsOf(runId: number, file: string): AsyncGenerator<Buffer> {
  yield copySignature;
  let seq = 0;
  for await (const packed of createReadStream(file, { highWaterMark: portionBytes })) {
    const head = Buffer.alloc(2 + 8 + 8 + 4);
    let at = head.writeInt16BE(3);
    for (const value of [4, runId, 4, seq++, (packed as Buffer).length]) at = head.writeInt32BE(value, at);
    yield head;
    yield packed as Buffer;
  }
  yield copyEnd;
}

/** Keeps the gzipped file that a run came from. Its run must be there already. */
export async function keepRunFile(connection: PoolClient, runId: number, gzipped: string): Promise<void> {
  await pipeline(
    Readable.from(rowsOf(runId, gzipped), { objectMode: false }),
    connection.query(copyFrom('copy run_file (run_id, seq, packed) from stdin (format binary)')),
  );
}

async function* portionsOf(db: Queryable, runId: number): AsyncGenerator<Buffer> {
  for (let seq = 0; ; seq++) {
    const { rows } = await db.query<{ packed: Buffer }>('select packed from run_file where run_id = $1 and seq = $2', [
      runId,
      seq,
    ]);
    if (!rows[0]) return;
    yield rows[0].packed;
  }
}

/** The file that a run came from, byte for byte as it arrived; null where none was kept. */
export async function runFile(db: Queryable, runId: number): Promise<Readable | null> {
  const { rows } = await db.query<{ isKept: boolean }>(
    'select exists (select from run_file where run_id = $1) as "isKept"',
    [runId],
  );
  if (!rows[0]?.isKept) return null;
  const portions = Readable.from(portionsOf(db, runId), { objectMode: false });
  const unpacked = createGunzip();
  portions.on('error', (error) => unpacked.destroy(error));
  unpacked.on('close', () => portions.destroy());
  return portions.pipe(unpacked);
}
