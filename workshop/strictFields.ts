import { countIn, numberIn } from '@/core/quantity/strict';
import { z } from 'zod';

/** Text that `read` turns into a number; the API describes it as that number. */
const textOf = (read: (text: string) => number | null, number: z.ZodNumber, expected: string) =>
  z
    .string({ error: expected })
    .transform((text, context) => {
      const value = read(text);
      if (value !== null) return value;
      context.addIssue(expected);
      return z.NEVER;
    })
    .pipe(number)
    .meta(z.toJSONSchema(number, { override: ({ jsonSchema }) => void delete jsonSchema.$schema }));

/** Text that holds a number, such as a parameter or a hidden field; `number` says which. */
export const numberText = (number: z.ZodNumber = z.number(), expected = 'Expected a number.') =>
  textOf(numberIn, number, expected);

/** Text that holds a whole number without separators. */
export const countText = (number: z.ZodNumber, expected = 'Expected a whole number.') =>
  textOf(countIn, number.int(), expected);

const [firstMs, lastMs] = [Date.UTC(1970, 0, 1), Date.UTC(2200, 0, 1)];

/** Whether a time lies where cells are measured: from 1970 to 2200. Others are slips, such as the year 0. */
export const isInOurTime = (at: Date): boolean => at.getTime() >= firstMs && at.getTime() <= lastMs;

const outOfTime = 'The date must be between 1970 and 2200.';
const isUsual = (text: string): boolean => isInOurTime(new Date(text));

/** A day as text, such as 2026-03-31. */
export const dayText = (expected?: string) => z.iso.date(expected).refine(isUsual, outOfTime);

/** A day and a time with its zone, ISO 8601. */
export const momentText = (expected?: string) =>
  z.iso.datetime({ offset: true, ...(expected !== undefined && { error: expected }) }).refine(isUsual, outOfTime);
