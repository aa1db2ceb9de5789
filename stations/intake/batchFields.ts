import { chemistryKeys } from '@/core/chemistry/chemistries';
import { parseQuantity } from '@/core/quantity/parse';
import type { BatchAccount } from '@/records/batches';
import { optional, typedPositive, typedText } from '@/stations/answer';
import { z } from 'zod';

/**
 * 2.2 and 2.2 Ah are the same, and so are 2200 and 2200 mAh: no cell holds a hundred ampere-hours and no label says 2.2
 * mAh.
 */
const capacity = typedText('Capacity', 20, 'The capacity printed on it, or that of its model, is missing.').transform(
  (text, context) => {
    const read = parseQuantity(text, { dimension: 'charge', factor: 1 });
    const isMilli = /^[\d.,]+$/.test(text) && (read?.value ?? 0) >= 100;
    const charge = read?.dimension === 'charge' ? read.value : NaN;
    const valueAh = isMilli ? charge / 1000 : charge;
    if (valueAh > 0 && valueAh < 1000) return valueAh;
    context.addIssue('Capacity: expected a figure such as 2.2 Ah or 2200 mAh.');
    return z.NEVER;
  },
);

/**
 * What is noted of a batch beside its code: where it comes from, and what its cells are: a model, or what can be
 * seen.
 */
export const account = z
  .object({
    origin: typedText('From', 200, 'Where did these cells come from?'),
    notes: typedText('Notes', 500).default(''),
    known: z.enum(['yes', 'no']),
    maker: typedText('Maker', 60).default(''),
    model: typedText('Model', 60).default(''),
    size: typedText('Size', 20).default(''),
    chemistry: z.enum(chemistryKeys),
    ratedAh: capacity,
    massG: optional(
      typedPositive('Weight').refine(
        (value) => value < 100_000,
        'Weight of one cell in g: this is more than anybody lifts.',
      ),
    ),
    board: z.enum(['none', 'own']),
    asNewMilliohm: optional(typedPositive('Resistance when new')),
    labelChargeA: optional(typedPositive('Charge current')),
    labelDischargeA: optional(typedPositive('Discharge current')),
  })
  .refine(({ known, model }) => known === 'no' || model !== '', {
    path: ['model'],
    error: 'Enter the model, or choose above that it is not known.',
  })
  .refine(({ known, maker }) => known === 'no' || maker !== '', {
    path: ['maker'],
    error: 'Enter the maker, or choose above that it is not known.',
  })
  .refine(({ known, size }) => known === 'yes' || size !== '', {
    path: ['size'],
    error: 'Size is missing: 18650, AA, or what it looks like.',
  })
  .transform(
    ({ origin, notes, known, maker, model, size, chemistry, ratedAh, massG, board, ...rest }): BatchAccount => ({
      origin,
      notes,
      model: {
        ...(known === 'yes' ? { maker, name: model, size: null } : { maker: null, name: null, size }),
        chemistry,
        ratedCapacityAh: ratedAh,
        massKg: massG === null ? null : massG / 1000,
        board: board === 'own',
        asNewOhm: rest.asNewMilliohm === null ? null : rest.asNewMilliohm / 1000,
        chargeA: rest.labelChargeA,
        dischargeA: rest.labelDischargeA,
      },
    }),
  );

/** A batch's own code. */
export const batchCode = z
  .string()
  .trim()
  .toUpperCase()
  .regex(/^[A-Z][A-Z0-9]{0,5}$/, 'Code: a letter, then up to five letters or digits, such as S2.');

/** What both say of the same fields; all errors are shown at once. */
export function bothOf<A, B>(one: z.ZodType<A>, other: z.ZodType<B>, given: unknown): A & B {
  const [a, b] = [one.safeParse(given), other.safeParse(given)];
  if (!a.success || !b.success) throw new z.ZodError([...(a.error?.issues ?? []), ...(b.error?.issues ?? [])]);
  return { ...a.data, ...b.data };
}
