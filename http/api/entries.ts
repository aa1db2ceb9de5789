import { randomUUID } from 'node:crypto';
import type { z } from 'zod';
import { mostReadingBytes, readJson } from './jsonBody';
import { lineOf } from './readingLine';
import { Refusal } from './respond';
import { entryRequest, type entryResponse } from './schemas';

/** A line to be filed, with an id: that of whoever sent it, so that sending it twice files it once. */
export async function entryOf(request: Request) {
  const given = entryRequest.parse(await readJson(request, mostReadingBytes));
  const { entry = randomUUID(), text, reading, ...beside } = given;
  return { entry, text: reading ? lineOf(reading) : (text ?? ''), ...beside };
}

/** What a line came to where it was understood. */
type Outcome =
  { ok: true; said: string } | { ok: false; said: string; asks?: boolean; suggests?: string | null; away?: boolean };

/**
 * @throws Refusal with 409 where the line is asked about (`confirmed` files it as it is), with 503 while the database
 * is away, with 400 where it cannot be filed
 */
export function filedOrRefused(entry: string, outcome: Outcome): z.infer<typeof entryResponse> {
  if (outcome.ok) return { entry, said: outcome.said };
  const { said, asks, suggests, away } = outcome;
  if (away) throw new Refusal(503, 'database-away', said);
  const [status, code] = asks ? ([409, 'asked'] as const) : ([400, 'not-filed'] as const);
  throw new Refusal(status, code, said, suggests ? [{ path: 'text', message: suggests }] : []);
}
