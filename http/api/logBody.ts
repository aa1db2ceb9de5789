import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { createWriteStream } from 'node:fs';
import { finished, pipeline } from 'node:stream/promises';
import { createGzip } from 'node:zlib';
import { largestLogBytes, tooLargeText } from '@/core/capacity/logSize';
import { Refusal } from './respond';

/** This much may wait to be written or packed: a wait for each portion would take longer than the writing. */
const mostWaiting = 1 << 22;
/** Packed at once: each portion goes to another thread and back, and waits for this one in between. */
const packedAtOnce = 1 << 19;

/** A log that lies on disk now. */
export interface SpooledLog {
  sha256: Buffer;
  /** Done as it is packed as well; it ends with an error where that was not possible. */
  packed: Promise<void>;
}

/**
 * Puts a log that arrives in a request's body into a file, portion by portion, and packed into another, if that is
 * wanted.
 *
 * @throws Refusal when there is no body, or more than the largest log: as soon as that is known
 */
export async function spoolBody(
  body: ReadableStream<Uint8Array> | null,
  file: string,
  packedFile?: string,
): Promise<SpooledLog> {
  if (!body) throw new Refusal(400, 'empty', 'The request has no body; send the log as text/csv.');
  const hash = createHash('sha256');
  const out = createWriteStream(file, { mode: 0o600, highWaterMark: mostWaiting });
  // A full disk ends the writing at any time; the next wait reports it.
  out.on('error', () => undefined);
  const packing = packedFile === undefined ? null : packInto(packedFile);
  const reader = body.getReader();
  let total = 0;
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) break;
      total += value.byteLength;
      if (total > largestLogBytes) throw new Refusal(413, 'too-large', tooLargeText(total));
      hash.update(value);
      if (out.errored) throw out.errored;
      if (!out.write(value)) await once(out, 'drain');
      await packing?.push(value);
    }
  } finally {
    await reader.cancel().catch(() => undefined);
    out.end();
    packing?.end();
    await finished(out);
  }
  return { sha256: hash.digest(), packed: packing?.packed ?? Promise.resolve() };
}

function packInto(file: string) {
  const gzip = createGzip({ level: 1 }).on('error', () => undefined);
  const packed = pipeline(gzip, createWriteStream(file, { mode: 0o600 }));
  // A log that is refused meanwhile needs no answer.
  packed.catch(() => undefined);
  // Each is filled again once it is packed: new ones would have to be tidied up.
  const free: Buffer[] = [];
  const portionOf = (): Buffer => free.pop() ?? Buffer.allocUnsafe(packedAtOnce);
  let portion = portionOf();
  let filled = 0;
  const send = (): void => {
    const full = portion;
    gzip.write(full.subarray(0, filled), () => free.push(full));
    [portion, filled] = [portionOf(), 0];
  };
  return {
    packed,
    async push(bytes: Uint8Array): Promise<void> {
      for (let at = 0; at < bytes.length; at += packedAtOnce) {
        const part = bytes.subarray(at, at + packedAtOnce);
        if (filled + part.length > packedAtOnce) send();
        portion.set(part, filled);
        filled += part.length;
      }
      if (gzip.writableLength > mostWaiting) await Promise.race([once(gzip, 'drain'), packed]);
    },
    end(): void {
      send();
      gzip.end();
    },
  };
}
