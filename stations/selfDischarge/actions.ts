'use server';

import { voltDigitOf } from '@/core/judging/instrumentBook';
import { database } from '@/records/database';
import { endPeriod } from '@/records/periods';
import {
  acting,
  type Answer,
  answering,
  ask,
  done,
  fieldsOf,
  refuse,
  serial,
  typedCodes,
  typedPositive,
} from '@/stations/answer';
import { entryId, filing } from '@/stations/filing';
import type { EntryLine, Filed } from '@/ui/entryLine';
import { selfDischargeById } from '@/workshop/selfDischarges';
import { judgedWorkshop } from '@/workshop/judged';
import { now } from '@/workshop/clock';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { z } from 'zod';
import { beginSelfDischargeOf, mostHeld } from './beginSelfDischargeOf';
import { parseSelfDischargeLine } from './selfDischargeLine';
import { testSubjects, namedBy } from './testSubjects';

const newSelfDischarge = z.object({
  codes: typedCodes('Which? A batch such as S1, cells such as S1-014, packs such as PF1.', mostHeld),
  days: typedPositive('Days').refine((days) => days >= 1 && days <= 60, 'Days: from 1 to 60; a week is usual.'),
});

/** Puts cells and packs to rest for a self-discharge test, and opens it. */
export async function beginSelfDischargeAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const { codes, days } = newSelfDischarge.parse(fieldsOf(form));
    return beginSelfDischargeOf(codes, days);
  });
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(`/self-discharge/${answer.value}`);
}

/** Ends a self-discharge test; what was read stays, and what it says of each. */
export async function endSelfDischargeAction(entry: string): Promise<void> {
  await acting(() => endPeriod(database(), entryId.parse(entry), now()));
  revalidatePath('/', 'layout');
}

/** Files one line of the bar of a self-discharge test. */
export async function fileSelfDischarge(holdId: number, typed: EntryLine): Promise<Filed> {
  return filing(typed, async ({ text, confirmed, current, circumstances }) => {
    const workshop = await judgedWorkshop();
    const selfDischarge = await selfDischargeById(workshop, serial.parse(holdId));
    if (!selfDischarge) return refuse('There is no such self-discharge test.');
    if (selfDischarge.endedAt) return refuse('This self-discharge test has ended. Start another one.');
    const subjects = testSubjects(selfDischarge, workshop);
    const subjectOf = (code: string | null) => subjects.find((one) => one.code === code) ?? null;
    const meter = workshop.instruments.all.find((one) => one.code === circumstances.meter && one.archivedAt === null);
    const line = parseSelfDischargeLine(text, subjectOf(current), subjectOf, voltDigitOf(meter ?? null));
    if (line.kind !== 'reading') return refuse(line.kind === 'wrong' ? line.said : 'Nothing to file.');
    if (line.asks && !confirmed) return ask(line.asks);
    const subjectIds = [...(await namedBy(line.codes, workshop)).values()].flat().map(({ id }) => id);
    return done({
      said: line.said,
      files: {
        subjectIds,
        occasionId: selfDischarge.occasionId,
        state: 'rest',
        takenWith: meter ? { instrumentId: meter.id, channel: null } : null,
        bodies: line.bodies,
      },
    });
  });
}
