'use server';

import { cellByCode } from '@/records/cells';
import { database } from '@/records/database';
import { addNote } from '@/records/notes';
import { packByCode } from '@/records/packs';
import { type Answer, answering, done, fieldsOf, refuse, typedText } from '@/stations/answer';
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
    const [cell, pack] = await Promise.all([cellByCode(db, code), packByCode(db, code)]);
    if (!cell && !pack) return refuse(`There is no cell or pack ${code}.`);
    const entry = randomUUID();
    if (cell) await addNote(db, entry, { cellId: cell.id }, text);
    else if (pack) await addNote(db, entry, { packId: pack.id }, text);
    return done(entry);
  });
  revalidatePath('/', 'layout');
  return answer;
}
