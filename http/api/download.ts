import 'server-only';
import { Readable } from 'node:stream';

/** A reader that takes nothing for this long is gone, though its connection may still be open. */
const longestStallMs = 60_000;

/**
 * The same bytes for one reader. When the reader leaves, or takes nothing for `stallMs`, `from` is destroyed: what
 * feeds it (a connection, a file) is free again.
 */
export function forReader(from: Readable, stallMs = longestStallMs): Readable {
  async function* watched(): AsyncGenerator<Buffer> {
    for await (const part of from) {
      const stall = setTimeout(() => out.destroy(new Error('The reader of a download stopped reading.')), stallMs);
      try {
        // Goes on when the reader wants more.
        yield part as Buffer;
      } finally {
        clearTimeout(stall);
      }
    }
  }
  const out = Readable.from(watched(), { objectMode: false });
  return out;
}

/** A file for the person who asked. */
export const asFile = (content: Readable, type: string, name: string): Response =>
  new Response(Readable.toWeb(forReader(content)) as ReadableStream<Uint8Array>, {
    headers: {
      'content-type': type,
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
      'cache-control': 'no-store',
    },
  });
