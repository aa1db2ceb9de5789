'use server';

import { addApiKey, endSessions, withdrawApiKey } from '@/records/access';
import { database } from '@/records/database';
import { acting, type Answer, answering, done, fieldsOf, serial, typedText } from '@/stations/answer';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { z } from 'zod';

const newKey = z.object({ name: typedText('Name', 60, 'What will use this key?'), opens: z.enum(['api', 'calendar']) });

/** Makes a key for a gadget, a script or a calendar; it is shown this once. */
export async function addApiKeyAction(_: Answer<string> | null, form: FormData): Promise<Answer<string>> {
  const answer = await answering(async () => {
    const { name, opens } = newKey.parse(fieldsOf(form));
    const key = await addApiKey(database(), name, opens);
    return done(opens === 'calendar' ? `/calendar/${key}.ics` : key);
  });
  if (answer.ok) revalidatePath('/access');
  return answer;
}

/** Withdraws a key: what uses it is turned away from now on. */
export async function withdrawApiKeyAction(id: number): Promise<void> {
  await acting(() => withdrawApiKey(database(), serial.parse(id)));
  revalidatePath('/access');
}

/** Everyone has to sign in again, this browser too. */
export async function endSessionsAction(): Promise<void> {
  await acting(() => endSessions(database()));
  redirect('/login');
}
