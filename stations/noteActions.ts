'use server';

import { subjectByCode } from '@/records/cells';
import { database, inTransaction } from '@/records/database';
import { fileEntry } from '@/records/ledger';
import { type Answer, answering, done, fieldsOf, refuse, typedText } from '@/stations/answer';
import { now } from '@/workshop/clock';
import { randomUUID } from 'node:crypto';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';

const newNote = z.object({
  code: z.string().max(20).toUpperCase(),
  text: typedText('Note', 500, 'The note is empty.'),
});

/** Keeps a note on the cell or pack of that code; answers with its entry. */
export async function addNoteAction(_: Answer<string> | null, form: FormData): Promise<Answer<string>> {
  const answer = await answering(async () => {
    const { code, text } = newNote.parse(fieldsOf(form));
    const db = database();
    const subject = await subjectByCode(db, code);
    if (!subject) return refuse(`There is no cell or pack ${code}.`);
    const entry = randomUUID();
    await inTransaction((connection) =>
      fileEntry(connection, { entry, takenAt: now(), subjectIds: [subject.id], bodies: [{ kind: 'note', text }] }),
    );
    return done(entry);
  });
  revalidatePath('/', 'layout');
  return answer;
}
