import { ImpossibleInput } from '@/core/impossibleInput';
import { isDatabaseAway, refusedBy } from '@/records/database';
import { z } from 'zod';

/** What an action tells the screen: done, or which field is wrong and what was expected. */
export type Answer<T = undefined> = { ok: true; value: T } | Refused;

/** `asks`: confirming it helps. `away`: nothing is wrong with it, it could not be stored now. */
export interface Refused {
  ok: false;
  said: string;
  fields: Record<string, string>;
  asks?: boolean;
  away?: boolean;
}

export const done = <T>(value: T): Answer<T> => ({ ok: true, value });
export const refuse = (said: string, fields: Record<string, string> = {}): Refused => ({ ok: false, said, fields });
/** A question that filing it once more, confirmed, answers with yes. */
export const ask = (said: string): Refused => ({ ok: false, said, fields: {}, asks: true });

const awayText = 'The database cannot be reached, so nothing was stored. Start it with bin/db start, then try again.';

/** Turns what a person can mend into an answer; anything else is thrown on. */
export async function answering<T>(work: () => Promise<Answer<T>>, refusals: Record<string, string> = {}): Promise<Answer<T>> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof z.ZodError) {
      // The first thing wrong with a field is the one to mend.
      const fields = Object.fromEntries([...error.issues].reverse().map((issue) => [issue.path.join('.'), issue.message]));
      return refuse(error.issues[0]?.message ?? 'Something is missing.', fields);
    }
    if (error instanceof ImpossibleInput) return refuse(error.message, { [error.field]: error.message });
    if (isDatabaseAway(error)) return { ...refuse(awayText), away: true };
    const refused = refusedBy(error);
    const text = refused && (refusals[refused.constraint] ?? null);
    if (text) return refuse(text);
    throw error;
  }
}

/** A number as people type it into a form: a decimal point or comma; empty is missing. */
export const typedNumber = (what: string) =>
  z
    .string({ error: `${what} is missing.` })
    .trim()
    .min(1, `${what} is missing.`)
    .transform((text) => Number(text.replace(',', '.')))
    .refine(Number.isFinite, `${what}: expected a number.`);

export const typedPositive = (what: string) => typedNumber(what).refine((value) => value > 0, `${what}: expected a number above zero.`);

export const typedCount = (what: string, most: number) =>
  typedNumber(what).refine((value) => Number.isInteger(value) && value >= 1 && value <= most, `${what}: expected a whole number from 1 to ${most}.`);
