import 'server-only';
import { follow } from '@/workshop/stream';

/** A dead connection is noticed by sending something now and then. */
const beatMs = 15_000;
/** After this long the page asks again, and is turned away where it was signed out meanwhile. */
const longestMs = 10 * 60_000;

/**
 * What changes in the workshop, as server-sent events: a message now, and one after every change. Source: HTML Living
 * Standard, "Server-sent events".
 */
export function events(signal: AbortSignal): Response {
  const encoder = new TextEncoder();
  let end = (): void => undefined;
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      const send = (text: string): void => controller.enqueue(encoder.encode(text));
      // Nothing holds it back on the way until this much is there.
      send(`retry: 1000\n:${' '.repeat(2048)}\n\n`);
      const unfollow = follow((message) => send(`data: ${message}\n\n`));
      const beat = setInterval(() => send(':\n\n'), beatMs);
      const last = setTimeout(() => end(), longestMs);
      end = () => {
        end = () => undefined;
        unfollow();
        clearInterval(beat);
        clearTimeout(last);
        controller.close();
      };
      signal.addEventListener('abort', () => end(), { once: true });
    },
    cancel: () => end(),
  });
  return new Response(body, {
    headers: {
      'Content-Type': 'text/event-stream; charset=utf-8',
      // A message that were compressed would wait for the next one.
      'Cache-Control': 'no-store, no-transform',
      'X-Accel-Buffering': 'no',
    },
  });
}
