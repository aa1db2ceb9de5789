import { Refusal } from './respond';

/** What a program may ask at once. */
export const mostJsonBytes = 2 ** 20;
/** What a reading is sent in. */
export const mostReadingBytes = 16 * 1024;

/** Deeper than any request of this API, and than a reader of JSON should be led. */
const deepest = 32;

/**
 * The JSON in a request's body. It is counted as it arrives: what is too long or nested too deep is refused before the
 * rest of it is read, and never given to the parser.
 *
 * @throws Refusal for no body, too long a one, one nested too deep; SyntaxError for what is no JSON
 */
export async function readJson(request: Request, mostBytes: number): Promise<unknown> {
  if (!request.body) throw new Refusal(400, 'empty', 'The request has no body; send JSON.');
  const reader = request.body.getReader();
  const parts: Uint8Array[] = [];
  const depth = createDepth();
  let bytes = 0;
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) break;
      bytes += value.byteLength;
      if (bytes > mostBytes)
        throw new Refusal(
          413,
          'too-large',
          `This is too large: at most ${Math.round(mostBytes / 1024)} kB may be sent here.`,
        );
      if (depth.push(value) > deepest)
        throw new Refusal(400, 'too-deep', `This JSON is nested deeper than ${deepest} levels.`);
      parts.push(value);
    }
  } finally {
    await reader.cancel().catch(() => undefined);
  }
  return JSON.parse(Buffer.concat(parts).toString('utf8'));
}

const [quote, backslash, openBrace, openBracket, closeBrace, closeBracket] = [...'"\\{[}]'].map((sign) =>
  sign.charCodeAt(0),
);

/**
 * Follows the nesting of JSON through its bytes: none of these signs is part of a longer character in UTF-8 (RFC 3629).
 */
function createDepth() {
  let [level, most] = [0, 0];
  let inText = false;
  let escaped = false;
  return {
    /** The deepest level so far. */
    push(bytes: Uint8Array): number {
      for (const byte of bytes) {
        if (escaped) escaped = false;
        else if (inText && byte === backslash) escaped = true;
        else if (byte === quote) inText = !inText;
        else if (!inText && (byte === openBrace || byte === openBracket)) most = Math.max(most, ++level);
        else if (!inText && (byte === closeBrace || byte === closeBracket)) level -= 1;
      }
      return most;
    },
  };
}
