import { impossibleText } from '@/words/impossible';
import { createByteLog, unpacked } from '@/core/capacity/logBytes';
import { momentOf } from '@/core/capacity/loggedMoment';
import type { LogColumn, Logged } from '@/core/capacity/logColumns';
import { ImpossibleInput } from '@/core/impossibleInput';
import type { Warning } from '@/core/warning';
import { expose } from 'comlink';

export type LogPreview =
  | {
      ok: true;
      columns: LogColumn[];
      warnings: Warning[];
      samples: number;
      whole: boolean;
      /** By its own dates; null where it tells none, `told` where they are only read once it is sent. */
      endedAt: Date | 'told' | null;
    }
  | { ok: false; said: string };

/** So much of a log shows how it is laid out. */
const glanceBytes = 1 << 18;
/** And so much of the end of a plain one holds its last row. */
const tailBytes = 1 << 14;

/** A file portion by portion; not every browser goes through a stream by itself. */
async function* portionsOf(file: Blob): AsyncGenerator<Uint8Array> {
  const reader = file.stream().getReader();
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) return;
      yield value;
    }
  } finally {
    await reader.cancel();
  }
}

const lineEnd = '\n'.charCodeAt(0);

/** When a log ended whose beginning tells dates, by its last rows; `told` where they cannot be read alone. */
async function endOf(file: File, logged: Logged, beginning: Uint8Array): Promise<Date | 'told' | null> {
  const [mark] = new Uint8Array(await file.slice(0, 1).arrayBuffer());
  const isPacked = mark !== beginning[0];
  const isWide = beginning.subarray(0, 256).includes(0);
  if (isPacked || isWide) return 'told';
  const tail = new Uint8Array(await file.slice(-tailBytes).arrayBuffer());
  const log = createByteLog(() => undefined, logged);
  log.push(beginning.subarray(0, beginning.lastIndexOf(lineEnd) + 1));
  log.push(tail.subarray(tail.indexOf(lineEnd) + 1));
  const { endedAt } = log.finish();
  return endedAt && momentOf(endedAt);
}

const previewer = {
  /** What the beginning of a log is understood as, before anything is sent. */
  async preview(file: File, logged: Logged): Promise<LogPreview> {
    try {
      let samples = 0;
      let seen = 0;
      const parts: Uint8Array[] = [];
      const log = createByteLog(() => samples++, logged);
      for await (const bytes of unpacked(portionsOf(file))) {
        parts.push(bytes);
        log.push(bytes);
        seen += bytes.length;
        if (seen > glanceBytes) break;
      }
      const whole = seen <= glanceBytes;
      const end = log.finish(!whole);
      const beginning = new Uint8Array(await new Blob(parts as BlobPart[]).arrayBuffer());
      const endsSeen = end.endedAt && momentOf(end.endedAt);
      return {
        ok: true,
        columns: end.columns,
        warnings: end.warnings,
        samples,
        whole,
        endedAt: whole || !endsSeen ? endsSeen : await endOf(file, logged, beginning),
      };
    } catch (error) {
      if (error instanceof ImpossibleInput) return { ok: false, said: impossibleText(error) };
      throw error;
    }
  },
};

export type Previewer = typeof previewer;
expose(previewer);
