'use server';

import { idsTogether } from '@/core/judging/shelf';
import { inTransaction } from '@/records/database';
import { holdSubjects } from '@/records/locks';
import { beginPeriod, isUnderWay } from '@/records/periods';
import { type Answer, answering, done, fieldsOf, refuse } from '@/stations/answer';
import { now } from '@/workshop/clock';
import { subjectNamed } from '@/workshop/judged';
import { numberText } from '@/workshop/strictFields';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { z } from 'zod';

const begun = z.object({
  alarmS: numberText(
    z
      .number()
      .min(60, 'It would be empty within a minute. Take a larger resistor.')
      .max(60 * 86_400, 'This takes longer than two months. Take a smaller resistor.'),
    'Choose a resistor first.',
  ),
});

/** The resistor is on: from now on the watch calls in time. */
export async function beginResistorAction(code: string, _: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const { alarmS } = begun.parse(fieldsOf(form));
    const { subject, workshop } = await subjectNamed(code);
    if (!subject) return refuse('There is no such cell or pack.');
    if (subject.intake.class === 'out') return refuse(`${code} is scrapped. Do not use it any more.`);
    const subjectIds = idsTogether(subject, workshop);
    const isStarted = await inTransaction(async (db) => {
      await holdSubjects(db, subjectIds);
      if (await isUnderWay(db, 'discharge', subjectIds)) return false;
      await beginPeriod(db, { kind: 'discharge', subjectIds, beganAt: now(), plannedS: alarmS });
      return true;
    });
    return isStarted ? done(undefined) : refuse(`A discharge of ${code} is already running. End it first.`);
  });
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(`/capacity?subject=${code}`);
}
