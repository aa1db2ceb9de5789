'use server';

import { database } from '@/records/database';
import { endPeriod, noteSeen } from '@/records/periods';
import { type Answer, answering, done, refuse } from '@/stations/answer';
import { entryId } from '@/stations/filing';
import { now } from '@/workshop/clock';
import { revalidatePath } from 'next/cache';

/** A person saw on the watch that a rest is over. */
export async function seenAction(entry: string): Promise<Answer> {
  const answer = await answering(async () => {
    await noteSeen(database(), entryId.parse(entry), now());
    return done(undefined);
  });
  revalidatePath('/', 'layout');
  return answer;
}

/** Ends a rest; refused where another person did meanwhile. */
export async function endRestAction(entry: string): Promise<Answer> {
  const answer = await answering(async () =>
    (await endPeriod(database(), entryId.parse(entry), now()))
      ? done(undefined)
      : refuse('This rest was ended already.'),
  );
  revalidatePath('/', 'layout');
  return answer;
}
