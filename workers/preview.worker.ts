import { impossibleText } from '@/words/impossible';
import { createByteLog, encodingOf, headBytes, logText } from '@/core/capacity/logBytes';
import { momentOf } from '@/core/capacity/loggedMoment';
import type { LogColumn, Logged } from '@/core/capacity/logColumns';
import { type LogHead, type LogMapping, mappingOf, shapeOf } from '@/core/capacity/logMapping';
import { ImpossibleInput } from '@/core/impossibleInput';
import type { Warning } from '@/core/warning';
import { expose } from 'comlink';

interface Understood {
  columns: LogColumn[];
  warnings: Warning[];
  samples: number;
  whole: boolean;
  /** By its own dates; null where it has none, `told` where they are only read once it is sent. */
  endedAt: Date | 'told' | null;
}

/** What the beginning of a log shows. */
export interface LogPreview {
  head: LogHead;
  /** The sheets of a workbook; null where it is none. */
  sheets: string[] | null;
  /** What files of this kind have in common. */
  shape: string;
  /** How it was read, to be changed. */
  mapping: LogMapping;
  /** Or why it cannot be read so. */
  understood: Understood | { said: string };
}

/** This much of a log shows how it is laid out. */
const glanceBytes = 1 << 18;
/** And this much of the end of a plain one holds its last row. */
const tailBytes = 1 << 14;

/** A file portion by portion; not every browser goes through a stream by itself. */
async function* portionsOf(source: File | string): AsyncGenerator<Uint8Array> {
  const reader = (await streamOf(source)).getReader();
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

/** A file that was chosen, or one that the workshop keeps. */
async function streamOf(source: File | string): Promise<ReadableStream<Uint8Array>> {
  if (source instanceof File) return source.stream();
  const answer = await fetch(source);
  if (!answer.ok || !answer.body) throw new Error(`${source} answered ${answer.status}`);
  return answer.body;
}

const lineEnd = '\n'.charCodeAt(0);

/** When a log ended whose beginning has dates, by its last rows; `told` where they cannot be read alone. */
async function endOf(source: File | string, logged: Logged, beginning: Uint8Array): Promise<Date | 'told' | null> {
  if (typeof source === 'string') return 'told';
  const [mark] = new Uint8Array(await source.slice(0, 1).arrayBuffer());
  const isPacked = mark !== beginning[0];
  const isWide = beginning.subarray(0, 256).includes(0);
  if (isPacked || isWide) return 'told';
  const tail = new Uint8Array(await source.slice(-tailBytes).arrayBuffer());
  const log = createByteLog(() => undefined, logged);
  log.push(beginning.subarray(0, beginning.lastIndexOf(lineEnd) + 1));
  log.push(tail.subarray(tail.indexOf(lineEnd) + 1));
  const { endedAt } = log.finish();
  return endedAt && momentOf(endedAt);
}

/** A table as text, or why it cannot be read. */
export type TableText =
  | {
      text: string;
      /** The sheets of a workbook; null where it is none. */
      sheets: string[] | null;
    }
  | { said: string };

const previewer = {
  /** The text of a table: a sheet of a workbook as CSV, or whatever text it is; no more than this much of it. */
  async table(file: File, mostChars: number, sheet?: string): Promise<TableText> {
    try {
      const { bytes, sheets } = await logText(() => portionsOf(file), sheet);
      let text = '';
      let decoder: TextDecoder | null = null;
      for await (const part of bytes) {
        decoder ??= new TextDecoder(encodingOf(part.subarray(0, headBytes)));
        text += decoder.decode(part, { stream: true });
        if (text.length > mostChars) break;
      }
      return { text: text + (decoder?.decode() ?? ''), sheets };
    } catch (error) {
      if (error instanceof ImpossibleInput) return { said: impossibleText(error) };
      throw error;
    }
  },

  /** What the beginning of a log is understood as, before anything is sent. */
  async preview(source: File | string, logged: Logged, sheet = logged.mapping?.sheet): Promise<LogPreview> {
    let samples = 0;
    let sheets: string[] | null = null;
    const log = createByteLog(() => samples++, logged);
    const understand = async (): Promise<Understood> => {
      let seen = 0;
      const parts: Uint8Array[] = [];
      const text = await logText(() => portionsOf(source), sheet);
      sheets = text.sheets;
      for await (const bytes of text.bytes) {
        parts.push(bytes);
        log.push(bytes);
        seen += bytes.length;
        if (seen > glanceBytes) break;
      }
      const whole = seen <= glanceBytes;
      const { columns, warnings, endedAt } = log.finish(!whole);
      const beginning = new Uint8Array(await new Blob(parts as BlobPart[]).arrayBuffer());
      const endsSeen = endedAt && momentOf(endedAt);
      return {
        columns,
        warnings,
        samples,
        whole,
        endedAt: whole || !endsSeen ? endsSeen : await endOf(source, logged, beginning),
      };
    };
    const understood = await understand().catch((error: unknown) => {
      if (error instanceof ImpossibleInput) return { said: impossibleText(error) };
      throw error;
    });
    const head = log.head();
    const [columns, warnings] = 'said' in understood ? [[], []] : [understood.columns, understood.warnings];
    const areTaps = warnings.some(({ code }) => code === 'groups-as-taps');
    return {
      head,
      sheets,
      shape: shapeOf(head),
      mapping: logged.mapping ?? { ...mappingOf(head, columns, areTaps), ...(sheet !== undefined && { sheet }) },
      understood,
    };
  },
};

export type Previewer = typeof previewer;
expose(previewer);
