import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { createWriteStream } from 'node:fs';
import { finished } from 'node:stream/promises';
import { largestLogBytes, tooLargeText } from '@/core/capacity/logSize';
import { Refusal } from './respond';

/**
 * Puts a log that arrives in a request's body into a file, portion by portion. Returns the SHA-256 of what arrived.
 *
 * @throws Refusal when there is no body, or more than the largest log: as soon as that is known
 */
export async function spoolBody(body: ReadableStream<Uint8Array> | null, file: string): Promise<Buffer> {
  if (!body) throw new Refusal(400, 'empty', 'The request has no body; send the log as text/csv.');
  const hash = createHash('sha256');
  const out = createWriteStream(file, { mode: 0o600 });
  const reader = body.getReader();
  let total = 0;
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) return hash.digest();
      total += value.byteLength;
      if (total > largestLogBytes) throw new Refusal(413, 'too-large', tooLargeText(total));
      hash.update(value);
      if (!out.write(value)) await once(out, 'drain');
    }
  } finally {
    await reader.cancel().catch(() => undefined);
    out.end();
    await finished(out);
  }
}
