import { randomUUID } from 'node:crypto';
import { now } from '@/workshop/clock';
import type { z } from 'zod';
import { mostReadingBytes, readJson } from './jsonBody';
import { lineOf } from './readingLine';
import { Refusal } from './respond';
import { entryRequest, type entryResponse } from './schemas';

/** A line to be filed, with an id from its sender, so that sending it twice files it once. */
export async function entryOf(request: Request) {
  const given = entryRequest.parse(await readJson(request, mostReadingBytes));
  const { entry = randomUUID(), text, reading, at, ...beside } = given;
  return { entry, text: reading ? lineOf(reading) : (text ?? ''), waitedS: secondsSince(at), ...beside };
}

/** Clocks of two machines differ by this much, s. */
const clocksDifferS = 60;

/** How long ago that was, s; 0 for now. */
function secondsSince(at: string | undefined): number {
  const agoS = at === undefined ? 0 : (now().getTime() - new Date(at).getTime()) / 1000;
  if (agoS < -clocksDifferS)
    throw new Refusal(400, 'invalid', 'at: The date must be in the past.', [
      { path: 'at', message: 'The date must be in the past.' },
    ]);
  return Math.max(0, agoS);
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
