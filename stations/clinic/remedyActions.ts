'use server';

import { idsTogether } from '@/core/judging/shelf';
import { remedyKinds } from '@/core/packs/remedies';
import { isPack } from '@/core/judging/subject';
import { numberIn } from '@/core/quantity/strict';
import { permission } from '@/core/state/permissions';
import { inTransaction } from '@/records/database';
import { holdSubjects } from '@/records/locks';
import { beginPeriod, endPeriod, newestRemedy } from '@/records/periods';
import { type Answer, answering, done, fieldsOf, refuse } from '@/stations/answer';
import { entryId } from '@/stations/filing';
import { now } from '@/workshop/clock';
import { sheetRefusalText } from '@/words/chargerSheets';
import { subjectNamed } from '@/workshop/judged';
import { stateNow } from '@/workshop/states';
import { numberText } from '@/workshop/strictFields';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';

const current = numberText(z.number().positive().max(1000));
/** Numbers as a hidden field carries them. */
const listOf = (one: z.ZodType<number, number>) =>
  z
    .string()
    .max(4000)
    .transform((text) => (text === '' ? [] : text.split(' ').map((word) => numberIn(word) ?? NaN)))
    .pipe(z.array(one).max(100));
const begun = z.object({
  way: z.enum(remedyKinds),
  hours: numberText(z.number().positive().max(1000), 'This takes too long to start.'),
  spreadV: numberText(z.number().min(0).max(10)),
  chargeA: current,
  bleedA: numberText(z.number().min(0).max(1000)),
  timerS: z.union([z.literal('').transform(() => null), numberText(z.number().positive().max(1e7))]),
  topUpA: current,
  drainA: current,
  movePositions: listOf(z.int().min(1).max(100)),
  moveAh: listOf(z.number().min(-1e4).max(1e4)),
  moveStopV: listOf(z.number().min(-10).max(1000)),
  packV: numberText(z.number().min(0).max(10_000)),
  connector: z.enum(['balance', 'taps', 'none']),
});

/** What each way does. */
const remedyActs = {
  bleed: 'balance',
  'top-up': 'top-up',
  drain: 'drain',
  'charge-drain': 'charge',
  replace: 'charge',
} as const;

/** A pack is balanced from now on: the watch counts, and the prediction is kept. */
export async function beginRemedyAction(code: string, _: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const remedy = begun.parse(fieldsOf(form));
    const { subject, workshop } = await subjectNamed(code);
    if (!subject || !isPack(subject)) return refuse('There is no such pack.');
    const allowed = permission(stateNow(subject, workshop), remedyActs[remedy.way], workshop.rules.limits);
    const [barrier] = allowed.allowed ? [] : allowed.because;
    if (barrier) return refuse(sheetRefusalText(barrier));
    const isStarted = await inTransaction(async (db) => {
      const subjectIds = idsTogether(subject, workshop);
      await holdSubjects(db, subjectIds);
      const before = await newestRemedy(db, subject.id);
      if (before && before.endedAt === null) return false;
      await beginPeriod(db, {
        kind: remedy.way === 'drain' ? 'discharge' : 'charge',
        subjectIds,
        beganAt: now(),
        plannedS: remedy.hours * 3600,
        bodies: [{ kind: 'remedy', ...remedy }],
      });
      return true;
    });
    return isStarted ? done(undefined) : refuse(`${code} is being balanced already.`);
  });
  revalidatePath('/', 'layout');
  return answer;
}

/** It is even, or a person stopped it: from now on it rests, an hour by the house rules. */
export async function endRemedyAction(code: string, entry: string): Promise<Answer> {
  const answer = await answering(async () => {
    const { subject, workshop } = await subjectNamed(code);
    if (!subject) return refuse('There is no such pack.');
    const at = now();
    const isEnded = await inTransaction(async (db) => {
      if (!(await endPeriod(db, entryId.parse(entry), at))) return false;
      await beginPeriod(db, {
        kind: 'rest',
        restFrom: 'charge',
        subjectIds: idsTogether(subject, workshop),
        beganAt: at,
        plannedS: workshop.rules.limits.restAfterChargeH * 3600,
      });
      return true;
    });
    return isEnded ? done(undefined) : refuse('It was ended already.');
  });
  revalidatePath('/', 'layout');
  return answer;
}
