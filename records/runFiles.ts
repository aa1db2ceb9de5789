import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import type { PoolClient } from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { copyEnd, copySignature } from './binaryCopy';
import type { Queryable } from './database';

const portionBytes = 1 << 18;

/** The same bytes in portions of one size, the last of what is left. */
async function* portioned(bytes: Readable): AsyncGenerator<Buffer> {
  let left = Buffer.alloc(0);
  for await (const part of bytes) {
    left = Buffer.concat([left, part as Buffer]);
    for (; left.length >= portionBytes; left = left.subarray(portionBytes)) yield left.subarray(0, portionBytes);
  }
  if (left.length > 0) yield left;
}

/** Rows of run_id, seq and packed in the binary form of COPY. */
async function* rowsOf(runId: number, gzipped: Readable): AsyncGenerator<Buffer> {
  yield copySignature;
  let seq = 0;
  for await (const packed of portioned(gzipped)) {
    const head = Buffer.alloc(2 + 8 + 8 + 4);
    let at = head.writeInt16BE(3);
    for (const value of [4, runId, 4, seq++, packed.length]) at = head.writeInt32BE(value, at);
    yield head;
    yield packed;
  }
  yield copyEnd;
}

/** Keeps the gzipped file that a run came from. Its run must be there already. */
export async function keepRunFile(connection: PoolClient, runId: number, gzipped: Readable): Promise<void> {
  await pipeline(
    Readable.from(rowsOf(runId, gzipped), { objectMode: false }),
    connection.query(copyFrom('copy run_file (run_id, seq, packed) from stdin (format binary)')),
  );
}

/** The runs whose file is kept. */
export async function filesOfRuns(db: Queryable): Promise<{ runId: number; fileName: string }[]> {
  const { rows } = await db.query<{ runId: number; fileName: string }>(
    `select id as "runId", file_name as "fileName" from run
     where exists (select from run_file where run_id = run.id)
     order by id`,
  );
  return rows;
}

/** The file of a run, gzipped as it is kept. */
export async function* packedFile(db: Queryable, runId: number): AsyncGenerator<Buffer> {
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
  return Readable.from(unpackedFile(db, runId), { objectMode: false });
}

/** Begins when it is read: a file that does not unpack fails where a reader waits for it. */
async function* unpackedFile(db: Queryable, runId: number): AsyncGenerator<Buffer> {
  const unpacked = createGunzip();
  const feeding = pipeline(Readable.from(packedFile(db, runId), { objectMode: false }), unpacked);
  feeding.catch(() => undefined);
  try {
    for await (const part of unpacked) yield part as Buffer;
    await feeding;
  } finally {
    unpacked.destroy();
  }
}
