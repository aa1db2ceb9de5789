import { ImpossibleInput } from '../impossibleInput';
import { joined } from './joinedBytes';
import { createCsvLog, type TextLog } from './csvLog';
import { createJsonLog } from './jsonLog';
import type { Logged } from './logColumns';
import type { LogHead } from './logMapping';
import type { LogEnd, Sample } from './logReader';
import { largestLogBytes } from './logSize';
import { type Reopened, xlsxTable, zipMark } from './xlsxTable';

/** Reads a log as it arrived, in portions of any length, in constant memory. */
export interface ByteLog {
  push(bytes: Uint8Array): void;
  /** @param isCut it was broken off: what follows the last line end is no row */
  finish(isCut?: boolean): LogEnd;
  /** How it begins, once that was read; also where it is no log. */
  head(): LogHead;
}

/** This much of a file shows how its text is written. */
export const headBytes = 4096;
/** Of text in two bytes a letter this many letters of every hundred are from the first 256. */
const zeroFraction = 0.3;

/** The encoding of a text, from its first bytes: its byte order mark, the zeros of two-byte letters, else UTF-8. */
export function encodingOf(head: Uint8Array): 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252' {
  if (head[0] === 0xff && head[1] === 0xfe) return 'utf-16le';
  if (head[0] === 0xfe && head[1] === 0xff) return 'utf-16be';
  const zeros = [0, 0];
  head.forEach((byte, i) => {
    if (byte === 0) zeros[i % 2] = (zeros[i % 2] ?? 0) + 1;
  });
  const [even = 0, odd = 0] = zeros.map((count) => count / (head.length / 2));
  if (odd > zeroFraction && even < zeroFraction / 4) return 'utf-16le';
  if (even > zeroFraction && odd < zeroFraction / 4) return 'utf-16be';
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(head, { stream: true });
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

/**
 * A log as text in UTF-8, UTF-16 or Latin-1, as CSV (or with tabs, semicolons) or as JSON lines. The content decides,
 * not the file name.
 *
 * @param emit called with each sample as soon as it is readable
 * @throws ImpossibleInput as `createLogReader` does
 */
export function createByteLog(emit: (sample: Sample) => void, logged?: Logged): ByteLog {
  let head: Uint8Array[] = [];
  let held = 0;
  let decoder: TextDecoder | null = null;
  let log: TextLog | null = null;

  const readText = (text: string): void => {
    log ??= /^\uFEFF?\s*[[{]/.test(text) ? createJsonLog(emit, logged) : createCsvLog(emit, logged);
    log.push(text);
  };
  const begin = (): void => {
    const bytes = joined(head);
    decoder = new TextDecoder(encodingOf(bytes.subarray(0, headBytes)));
    head = [];
    readText(decoder.decode(bytes, { stream: true }));
  };

  return {
    push(bytes) {
      if (decoder) return readText(decoder.decode(bytes, { stream: true }));
      head.push(bytes);
      held += bytes.length;
      if (held >= headBytes) begin();
    },
    head: () => log?.head() ?? { rows: [], headingRows: null, separator: null },
    finish(isCut = false) {
      if (!decoder) begin();
      const text = isCut ? '' : (decoder?.decode() ?? '');
      if (text !== '') readText(text);
      return (log ?? createCsvLog(emit, logged)).finish(isCut);
    },
  };
}

/** How a gzipped file begins. Source: RFC 1952. */
const gzipMark = [0x1f, 0x8b];

/** A log as bytes of text, whatever it came in. */
export interface LogText {
  bytes: AsyncGenerator<Uint8Array>;
  /** The sheets of a workbook; null where it is none. */
  sheets: string[] | null;
}

/**
 * The text of a log, unpacked where it is gzipped, a sheet of it where it is a workbook.
 *
 * @param open begins to read the file; of a workbook it is called again
 * @param sheet of a workbook; else its first
 * @throws ImpossibleInput where the packing is broken, or holds more than a log may
 */
export async function logText(open: Reopened, sheet?: string): Promise<LogText> {
  const [head, whole] = await beginningOf(open(), zipMark.length);
  if (beginsWith(head, zipMark)) {
    await whole.return(undefined);
    return xlsxTable(open, sheet);
  }
  return { bytes: beginsWith(head, gzipMark) ? limited(gunzipped(whole)) : whole, sheets: null };
}

const beginsWith = (bytes: Uint8Array, mark: readonly number[]): boolean => mark.every((byte, i) => bytes[i] === byte);

/** The first bytes, and all from the beginning. */
async function beginningOf(
  parts: AsyncIterable<Uint8Array>,
  length: number,
): Promise<[head: Uint8Array, whole: AsyncGenerator<Uint8Array>]> {
  const source = parts[Symbol.asyncIterator]();
  let head: Uint8Array = new Uint8Array();
  let next = await source.next();
  while (!next.done && head.length < length) {
    head = joined([head, next.value]);
    next = await source.next();
  }
  const whole = async function* (): AsyncGenerator<Uint8Array> {
    try {
      if (head.length > 0) yield head;
      for (; !next.done; next = await source.next()) yield next.value;
    } finally {
      await source.return?.();
    }
  };
  return [head, whole()];
}

async function* limited(parts: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  let total = 0;
  for await (const bytes of parts) {
    total += bytes.length;
    if (total > largestLogBytes) throw new ImpossibleInput('csv', { code: 'unpacks-too-large', bytes: total });
    yield bytes;
  }
}

async function* gunzipped(parts: AsyncGenerator<Uint8Array>): AsyncGenerator<Uint8Array> {
  const packed = new ReadableStream<BufferSource>({
    async pull(controller) {
      const { done, value } = await parts.next();
      if (done) controller.close();
      else controller.enqueue(new Uint8Array(value));
    },
    async cancel() {
      await parts.return(undefined);
    },
  });
  const reader = packed.pipeThrough(new DecompressionStream('gzip')).getReader();
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) return;
      yield value;
    }
  } catch (error) {
    if (error instanceof ImpossibleInput) throw error;
    throw new ImpossibleInput('csv', { code: 'packing-broken' });
  } finally {
    await reader.cancel().catch(() => undefined);
  }
}
