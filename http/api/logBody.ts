import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { createWriteStream } from 'node:fs';
import { finished, pipeline } from 'node:stream/promises';
import { createGzip } from 'node:zlib';
import { largestLogBytes, tooLargeText } from '@/core/capacity/logSize';
import { Refusal } from './respond';

/**
 * Puts a log that arrives in a request's body into a file, portion by portion, and packed into another, if that is
 * wanted. Returns the SHA-256 of what arrived.
 *
 * @throws Refusal when there is no body, or more than the largest log: as soon as that is known
 */
export async function spoolBody(
  body: ReadableStream<Uint8Array> | null,
  file: string,
  packed?: string,
): Promise<Buffer> {
  if (!body) throw new Refusal(400, 'empty', 'The request has no body; send the log as text/csv.');
  const hash = createHash('sha256');
  const out = createWriteStream(file, { mode: 0o600 });
  const packing = packed === undefined ? null : createGzip({ level: 1 });
  const hasPacked = packing && pipeline(packing, createWriteStream(packed ?? '', { mode: 0o600 }));
  // What becomes of it is asked at the end.
  hasPacked?.catch(() => undefined);
  const reader = body.getReader();
  let total = 0;
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) break;
      total += value.byteLength;
      if (total > largestLogBytes) throw new Refusal(413, 'too-large', tooLargeText(total));
      hash.update(value);
      const isFull = [out.write(value), packing?.write(value)].includes(false);
      if (isFull) await Promise.all([out, packing].map((one) => one?.writableNeedDrain && once(one, 'drain')));
    }
  } finally {
    await reader.cancel().catch(() => undefined);
    out.end();
    packing?.end();
    await Promise.all([finished(out), hasPacked]);
  }
  return hash.digest();
}
