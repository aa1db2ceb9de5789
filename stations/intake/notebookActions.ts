'use server';

import { inTransaction } from '@/records/database';
import { voidNotebook } from '@/records/notebooks';
import { acting, type Answer, answering, fieldsOf, serial, typedText } from '@/stations/answer';
import { entryId } from '@/stations/filing';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { z } from 'zod';
import { account, batchCode, bothOf } from './batchFields';
import { bringNotebook } from './bringNotebook';
import { mostChars, mostColumns, notebookFields } from './notebookTable';

const settled = z.object({
  uid: entryId,
  name: typedText('Name', 100, 'Enter a name for this table.'),
  pasted: z
    .string()
    .min(1, 'Paste a table, or drop its file.')
    .max(mostChars, 'Too long for a notebook: bring a part.'),
  columns: z
    .string()
    .max(10_000)
    .transform((text, context): unknown => {
      try {
        return JSON.parse(text);
      } catch {
        context.addIssue('What each column is taken for could not be read.');
        return z.NEVER;
      }
    })
    .pipe(
      z
        .array(z.object({ field: z.enum(notebookFields), unit: z.string().max(5).nullable() }))
        .min(1)
        .max(mostColumns, `A table has at most ${mostColumns} columns.`),
    ),
  into: z.enum(['here', 'new']),
  protocol: z
    .string()
    .default('')
    .transform((id) => (/^\d{1,9}$/.test(id) ? Number(id) : null)),
});
const newCells = z.object({ code: batchCode });

/** Brings a table in as it was settled: subjects and readings, all or nothing. */
export async function bringNotebookAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(
    async () => {
      const given = fieldsOf(form);
      const { into, protocol, ...notebook } = settled.parse(given);
      const batch = into === 'new' ? bothOf(newCells, account, given) : null;
      return bringNotebook({ ...notebook, batch, protocolId: protocol });
    },
    { batch_code_key: 'There is a batch with this code already; choose another.' },
  );
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(answer.value.href);
}

/** Voids everything that came of a table in one act. */
export async function voidNotebookAction(id: number, reason: string): Promise<void> {
  await acting(async () => {
    const because = typedText('Reason', 200, 'Why?').parse(reason);
    await inTransaction((db) => voidNotebook(db, serial.parse(id), because));
  });
  revalidatePath('/', 'layout');
}
