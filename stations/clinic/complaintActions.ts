'use server';

import { blamedBy, type ComplaintAnswer, complaints } from '@/core/packs/complaints';
import { isPack } from '@/core/judging/subject';
import { inTransaction } from '@/records/database';
import { fileEntry } from '@/records/ledger';
import { type Answer, answering, done, refuse } from '@/stations/answer';
import { now } from '@/workshop/clock';
import { subjectNamed } from '@/workshop/judged';
import { randomUUID } from 'node:crypto';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';

const known = z.enum(complaints);

/** Notes a complaint of a pack with what its test showed. */
export async function noteComplaintAction(code: string, asked: string, answer: string): Promise<Answer> {
  const noted = await answering(async () => {
    const said = known.parse(asked);
    if (!blamedBy(said, answer)) return refuse('That is no answer to this complaint.');
    const { subject } = await subjectNamed(code);
    if (!subject || !isPack(subject)) return refuse('There is no such pack.');
    await inTransaction((db) =>
      fileEntry(db, {
        entry: randomUUID(),
        subjectIds: [subject.id],
        takenAt: now(),
        bodies: [{ kind: 'complaint', said, answer: answer as ComplaintAnswer }],
      }),
    );
    return done(undefined);
  });
  revalidatePath('/', 'layout');
  return noted;
}
