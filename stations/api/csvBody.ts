import { largestLogBytes, tooLargeText } from './logSize';
import { Refusal } from './respond';

/**
 * The body of a request that carries a log.
 *
 * @throws Refusal at once when it announces more than the largest log
 */
export function logBody(request: Request): ReadableStream<Uint8Array> | null {
  const announced = Number(request.headers.get('content-length') ?? 0);
  if (announced > largestLogBytes) throw new Refusal(413, 'too-large', tooLargeText(announced));
  return request.body;
}

/**
 * The text of a request's body, portion by portion. `look` sees the bytes as they pass.
 *
 * @throws Refusal when there is no body or more than the largest log
 */
export async function* csvTextOf(body: ReadableStream<Uint8Array> | null, look?: (bytes: Uint8Array) => void): AsyncGenerator<string> {
  if (!body) throw new Refusal(400, 'empty', 'The request has no body; send the log as text/csv.');
  const decoder = new TextDecoder();
  const reader = body.getReader();
  let total = 0;
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) break;
      total += value.byteLength;
      if (total > largestLogBytes) throw new Refusal(413, 'too-large', tooLargeText(total));
      look?.(value);
      yield decoder.decode(value, { stream: true });
    }
    yield decoder.decode();
  } finally {
    await reader.cancel().catch(() => undefined);
  }
}
