'use server';

import { idsTogether } from '@/core/judging/shelf';
import {
  judgeRescue,
  longBelowV,
  mostRescueA,
  refusalsOf,
  rescuedOf,
  type RescueWhy,
  withOwnLimits,
} from '@/core/judging/rescue';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { type InspectionFinding, inspectionKeys } from '@/core/grading/intake';
import { database, inTransaction, type Queryable } from '@/records/database';
import { fileEntry } from '@/records/ledger';
import { holdSubjects } from '@/records/locks';
import { beginPeriod, endPeriod } from '@/records/periods';
import { rescueFacts } from '@/records/rescues';
import { type Answer, answering, done, fieldsOf, refuse, typedPositive } from '@/stations/answer';
import { filing, readAt } from '@/stations/filing';
import type { EntryLine, Filed } from '@/ui/entryLine';
import { rescueChecklist, rescueRefusalText } from '@/words/rescue';
import { now } from '@/workshop/clock';
import { subjectNamed, type Workshop } from '@/workshop/judged';
import { stateNow } from '@/workshop/states';
import { dayText } from '@/workshop/strictFields';
import { randomUUID } from 'node:crypto';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';
import { ownLimitsOf } from './ownLimits';
import { understandRescue } from './rescueLine';

const begun = z.object({
  reading: z.string().max(500),
  currentA: typedPositive('Current'),
  belowSince: z.union([z.literal('').transform(() => null), dayText('The day, such as 2026-03-31.')]),
});

const openRescue = async (subject: JudgedSubject, { rules }: Workshop, db: Queryable = database()) => {
  const rescue = (await rescueFacts(db, { subjectId: subject.id })).find(({ endedAt }) => endedAt === null);
  return rescue ? judgeRescue(rescue, rules.limits, now()) : null;
};

/** Current is on from now on: every gate is looked at once more with what was answered. */
export async function beginRescueAction(code: string, _: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const { reading, currentA, belowSince } = begun.parse(fieldsOf(form));
    const { subject, workshop } = await subjectNamed(code);
    if (!subject) return refuse('There is no such cell or pack.');
    if (await openRescue(subject, workshop)) return refuse(`${code} is being rescued already.`);
    if (subject.intake.unsafe) return refuse(`${code} is scrapped after its inspection. Never charge it again.`);
    const own = ownLimitsOf(fieldsOf(form), workshop.rules.limits);
    if (!own.ok) return own;
    const limits = withOwnLimits(workshop.rules.limits, own.value);
    const rescued = rescuedOf(stateNow(subject, workshop));
    const line = understandRescue(reading, code, rescued.series);
    if (line.kind !== 'reading')
      return refuse(line.kind === 'wrong' ? line.said : 'Measure every group now.', {
        reading: 'Measure every group now.',
      });
    const findings = inspectionKeys.filter((finding) => form.get(`found ${finding}`) !== null);
    if (findings.length > 0) await fileFindings(subject, workshop, findings);
    const refusals = refusalsOf(rescued, limits, {
      findings,
      voltagesV: line.body.voltagesV,
      belowSince: belowSince === null ? null : new Date(`${belowSince}T12:00:00Z`),
      currentA,
    });
    const [refusal] = refusals;
    if (refusal)
      return refuse(rescueRefusalText(refusal), {
        ...(refusal.code === 'too-much-current' && {
          currentA: `At most ${mostRescueA(rescued, limits).toFixed(2)} A.`,
        }),
        ...(refusal.code === 'unknown-time' && { belowSince: `Enter since when it has been below ${longBelowV} V.` }),
      });
    const missing = rescueChecklist.filter((_text, i) => form.get(`check ${i}`) === null);
    if (form.get('looked') === null) return refuse('Look at it, feel it and smell it, and say that you did.');
    if (missing.length > 0) return refuse(`Not yet: ${missing.join('; ')}.`);
    const isBegun = await inTransaction(async (db) => {
      // Of two browsers that start it at once one does: it counts once.
      const subjectIds = idsTogether(subject, workshop);
      await holdSubjects(db, subjectIds);
      if (await openRescue(subject, workshop, db)) return false;
      await beginPeriod(db, {
        kind: 'rescue',
        subjectIds,
        beganAt: now(),
        plannedS: limits.rescueLimitH * 3600,
        // It was looked at just now, and nothing was found.
        bodies: [
          {
            kind: 'rescue',
            currentA,
            belowSince,
            ownLimits: own.value?.limits ?? null,
            ownReason: own.value?.reason ?? null,
          },
          line.body,
          { kind: 'inspection', findings: [] },
        ],
      });
      return true;
    });
    return isBegun ? done(undefined) : refuse(`${code} is being rescued already.`);
  });
  revalidatePath('/', 'layout');
  return answer;
}

/** What was found stays with it: it is out from then on. */
async function fileFindings(subject: JudgedSubject, workshop: Workshop, findings: InspectionFinding[]): Promise<void> {
  await inTransaction((db) =>
    fileEntry(db, {
      entry: randomUUID(),
      subjectIds: idsTogether(subject, workshop),
      takenAt: now(),
      bodies: [{ kind: 'inspection', findings }],
    }),
  );
}

/** Files one reading of every group of a rescue that is under way. */
export async function fileRescueReading(typed: EntryLine): Promise<Filed> {
  return filing(typed, async ({ text, current, waitedS }) => {
    const { subject, workshop } = await subjectNamed(current ?? '');
    if (!subject) return refuse('There is no such cell or pack.');
    const rescue = await openRescue(subject, workshop);
    if (!rescue) return refuse(`${subject.code} is not being rescued any more.`);
    if (readAt({ waitedS }) < rescue.beganAt) return refuse('That reading is from before this rescue.');
    const line = understandRescue(text, subject.code, isPack(subject) ? subject.series : 1);
    if (line.kind !== 'reading') return refuse(line.kind === 'wrong' ? line.said : 'Nothing to file.');
    return done({ said: line.said, files: { subjectIds: idsTogether(subject, workshop), bodies: [line.body] } });
  });
}

const acts = z.enum(['off', 'on', 'end']);

/**
 * Current is off, on again, or off for good. What made it so is distinguished from the readings, not by the
 * browser.
 */
export async function rescueAct(code: string, wanted: 'off' | 'on' | 'end'): Promise<Answer> {
  const answer = await answering(async () => {
    const act = acts.parse(wanted);
    const { subject, workshop } = await subjectNamed(code);
    const isOver = refuse(`The rescue of ${code} has ended.`);
    if (!subject) return isOver;
    return inTransaction(async (db): Promise<Answer> => {
      const subjectIds = idsTogether(subject, workshop);
      await holdSubjects(db, subjectIds);
      const rescue = await openRescue(subject, workshop, db);
      if (!rescue) return isOver;
      if (act === 'off' && rescue.phase !== 'on') return refuse('Current is off already.');
      if (act === 'on' && (rescue.phase !== 'off' || rescue.stays !== null))
        return refuse('The rescue cannot go on now. This page says why.');
      const at = now();
      await fileEntry(db, {
        entry: randomUUID(),
        subjectIds,
        takenAt: at,
        bodies: [{ kind: 'rescue-act', act, why: whyOf(act, rescue) }],
      });
      if (act === 'end') await endPeriod(db, rescue.entry, at);
      return done(undefined);
    });
  });
  revalidatePath('/', 'layout');
  return answer;
}

function whyOf(act: 'off' | 'on' | 'end', { stop, isReached, phase }: ReturnType<typeof judgeRescue>): RescueWhy {
  if (act === 'on') return 'goes-on';
  if (act === 'end') return isReached && phase === 'on' && !stop ? 'reached' : 'given-up';
  return stop?.code ?? 'by-hand';
}
