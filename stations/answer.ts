import { impossibleText } from '@/words/impossible';
import { ImpossibleInput } from '@/core/impossibleInput';
import { isDatabaseAway, refusedBy, wasNothingStored } from '@/records/database';
import { countIn, numberIn } from '@/core/quantity/strict';
import type { LineQuestion } from '@/ui/entryLine';
import { z } from 'zod';

/** The answer of an action to the screen: done, or which field is wrong and what was expected. */
export type Answer<T = undefined> = { ok: true; value: T } | Refused;

/** `asks`: confirming it helps. `away`: nothing is wrong with it, it could not be stored now. */
export interface Refused {
  ok: false;
  said: string;
  fields: Record<string, string>;
  asks?: boolean;
  /** The line as it was probably meant. */
  suggests?: string | null;
  away?: boolean;
}

export const done = <T>(value: T): Answer<T> => ({ ok: true, value });
export const refuse = (said: string, fields: Record<string, string> = {}): Refused => ({ ok: false, said, fields });
/** A question that filing it once more, confirmed, answers with yes. */
export const ask = ({ text, suggests }: LineQuestion): Refused => ({
  ok: false,
  said: text,
  fields: {},
  asks: true,
  suggests,
});

const awayText = 'The database cannot be reached, so nothing was stored. Start it with bin/db start, then try again.';
const lostText =
  'The connection to the database was lost while storing. Check whether this was stored before ' +
  'you enter it again.';
const gaveWayText = 'Others were storing the same things at that moment. Nothing was stored. Try again.';

/** What a refusal of the database says where no code was foreseen. */
function refusalText({ code }: { code: string }): string {
  if (code.startsWith('40')) return gaveWayText;
  return 'The records cannot keep this. Nothing was stored. Check each figure and text.';
}

/** Turns what a person can mend into an answer; anything else is thrown on. */
export async function answering<T>(
  work: () => Promise<Answer<T>>,
  refusals: Record<string, string> = {},
): Promise<Answer<T>> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof z.ZodError) {
      // The first thing wrong with a field is the one to mend.
      const fields = Object.fromEntries(
        [...error.issues].reverse().map((issue) => [issue.path.join('.'), issue.message]),
      );
      return refuse(error.issues[0]?.message ?? 'Something is missing.', fields);
    }
    if (error instanceof ImpossibleInput)
      return refuse(impossibleText(error), { [error.field]: impossibleText(error) });
    if (isDatabaseAway(error)) return { ...refuse(wasNothingStored(error) ? awayText : lostText), away: true };
    const refused = refusedBy(error);
    if (refused) return refuse(refusals[refused.constraint] ?? refusalText(refused));
    throw error;
  }
}

/** The fields of a form by name; of anything else that was sent in its place, none. */
export const fieldsOf = (form: unknown): Record<string, unknown> =>
  form instanceof FormData ? Object.fromEntries(form) : {};

/**
 * For acts without an answer of their own: a request that makes no sense does nothing, since no screen sends one.
 *
 * @throws Error when the database is away: the screen says so then
 */
export async function acting(work: () => Promise<unknown>): Promise<void> {
  const answer = await answering(async () => done(await work()));
  if (!answer.ok && answer.away) throw new Error(answer.said);
}

/** Beyond it nothing is measured here, and computing with it overflows. */
const largestFigure = 1e9;

/** A number as people type it into a form: a decimal point or comma; empty is missing. */
export const typedNumber = (what: string) =>
  z
    .string({ error: `${what} is missing.` })
    .trim()
    .min(1, `${what} is missing.`)
    .transform((text) => numberIn(text) ?? NaN)
    .refine((value) => Math.abs(value) <= largestFigure, `${what}: expected a number.`);

/** Nothing printed has them, and the records cannot keep the first of them. */
const unprintable = /[\u0000-\u0008\u000b-\u001f\u007f]/;

/** A text of a line or a few; `missing` is what is said of an empty one, which will do where it is left out. */
export const typedText = (what: string, most: number, missing?: string) =>
  z
    .string({ error: missing ?? `${what} is missing.` })
    .trim()
    .min(missing === undefined ? 0 : 1, missing)
    .max(most, `${what}: at most ${most} characters.`)
    .refine((text) => !unprintable.test(text), `${what}: it holds characters that cannot be printed. Type it again.`);

/** A figure that may be left out. */
export const optional = (field: z.ZodType<number, string>) => z.union([z.literal('').transform(() => null), field]);

/** Codes as people type several: each once, in capitals; `missing` is what is said of none. */
export const typedCodes = (missing: string, most: number) =>
  z
    .string()
    .max(10_000)
    .toUpperCase()
    .transform((text) => [...new Set(text.split(/[\s,;]+/).filter(Boolean))])
    .refine((codes) => codes.length > 0, missing)
    .refine((codes) => codes.length <= most, `At most ${most} at once.`);

/** Who makes a correction, kept with it. */
export const changedBy = typedText('Changed by', 60, 'Enter your name. It is kept with the change.');

/** The number of something stored. */
export const serial = z
  .int()
  .min(1)
  .max(2 ** 31 - 1);

/** Why something is void or withdrawn. */
export const reasonText = z
  .string()
  .transform((text) => text.replace(new RegExp(unprintable, 'g'), '').trim())
  .pipe(z.string().min(1).max(200));

export const typedPositive = (what: string) =>
  typedNumber(what).refine((value) => value > 0, `${what}: expected a number above zero.`);

/** A whole number, without a separator: 1,000 may be one or a thousand. */
export const typedWhole = (what: string, least: number, most: number) =>
  z
    .string({ error: `${what} is missing.` })
    .trim()
    .min(1, `${what} is missing.`)
    .refine((text) => numberIn(text) !== null, `${what}: expected a number.`)
    .refine((text) => !/\d[.,]\d{3}$/.test(text), `${what}: write the number without a separator.`)
    .transform((text) => countIn(text) ?? NaN)
    .refine((value) => value >= least && value <= most, `${what}: expected a whole number from ${least} to ${most}.`);

export const typedCount = (what: string, most: number) => typedWhole(what, 1, most);
