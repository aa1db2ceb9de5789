import { z } from 'zod';

/** A line that waited longer is a year old, s. */
export const mostWaitedS = 366 * 86_400;
/** A script files what was measured up to fifty years ago, s. */
const oldestS = 50 * 366 * 86_400;

/** One line entered into a reading bar, with all it takes to file it, now or later, once. */
export const entryLine = z.object({
  /** Made where it was typed: an id is filed once only. */
  entry: z.uuid(),
  text: z.string().max(2000),
  /** A question about it was answered with yes. */
  confirmed: z.boolean(),
  /** The cell or pack that was shown when it was typed. */
  current: z.string().nullable(),
  /** What was chosen beside the bar when it was typed, such as the meter read with. */
  circumstances: z.record(z.string(), z.string()),
  /** The entry that it corrects: that one stays stored, void. */
  replaces: z.uuid().nullable().default(null),
  /** How many readings of it the screen knew of, waiting ones among them; null where it does not count. */
  seen: z.int().nullable().default(null),
  /** How long ago it was typed, by the clock of that browser, s: it was measured then, whatever day it arrives. */
  waitedS: z.number().min(0).max(oldestS).default(0),
});
export type EntryLine = z.infer<typeof entryLine>;

/** A question about a line that a second Enter answers with yes; `suggests` is the line as it was probably meant. */
export interface LineQuestion {
  text: string;
  suggests: string | null;
}

/**
 * `why`: the handbook page that explains it. `asks`: a second Enter files it as read. `suggests`: the line as
 * it was probably meant. `away`: nothing was wrong with it, it could not be stored.
 */
export type Filed =
  | { ok: true; said: string; odd?: boolean; why?: string }
  | { ok: false; said: string; asks?: boolean; suggests?: string | null; away?: boolean };

/** What a call that got no answer comes to: it is not known whether it was filed; sent again it is filed once. */
export const lost: Filed = { ok: false, away: true, said: 'The server did not answer.' };

/** What a call came to that was answered, but not by the one it was meant for. */
export const turnedAway: Filed = {
  ok: false,
  away: true,
  said: 'The server turned it away, as it does once you are signed out',
};

/** What a call came to that threw: only where the network failed was there no answer. */
export function unanswered(error: unknown): Filed {
  if (error instanceof Error && 'digest' in error)
    return { ok: false, said: 'A fault of the server: look at what it printed. The line is kept here.' };
  return error instanceof TypeError ? lost : turnedAway;
}
