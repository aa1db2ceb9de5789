'use server';

import { idsTogether } from '@/core/judging/shelf';
import { noLampFor, type RetireAct, retirePhase } from '@/core/judging/retiring';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { mistakenFor } from '@/core/planning/identify';
import { lampFor } from '@/core/planning/runDown';
import { inTransaction, type Queryable } from '@/records/database';
import { fileEntry } from '@/records/ledger';
import { holdSubjects } from '@/records/locks';
import { beginPeriod, endPeriod } from '@/records/periods';
import { retiringOf } from '@/records/retiring';
import { type Answer, answering, done, fieldsOf, refuse, typedNumber, typedText } from '@/stations/answer';
import { sheetRefusalText } from '@/words/chargerSheets';
import { asItIsGates, lampGates, noLampText } from '@/words/retiring';
import { now } from '@/workshop/clock';
import { subjectNamed, type Workshop } from '@/workshop/judged';
import { randomUUID } from 'node:crypto';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';
import { lampSubject } from './lampSubject';

const measured = z.object({ volts: typedNumber('What a meter shows at its terminals') });
const handedOver = z.object({ toWhom: typedText('Where it went', 120, 'Where did it go? Kept with it.') });

interface Stage {
  subject: JudgedSubject;
  workshop: Workshop;
  subjectIds: number[];
  /** Its newest entry that put it on a lamp. */
  entry: string | null;
  /** The transaction that holds it at this stage. */
  db: Queryable;
}

/** One step further, where it is at a stage that the step starts from. Of two steps at once the second is refused. */
async function stepping(
  code: string,
  from: readonly ReturnType<typeof retirePhase>['code'][],
  step: (stage: Stage) => Promise<Answer>,
): Promise<Answer> {
  const answer = await answering(async () => {
    const { subject, workshop } = await subjectNamed(code);
    if (!subject) return refuse('There is no such cell or pack.');
    const subjectIds = idsTogether(subject, workshop);
    return inTransaction(async (db) => {
      await holdSubjects(db, subjectIds);
      const { steps, offAt } = await retiringOf(db, subject.id);
      const { code: phase } = retirePhase(steps, isPack(subject) ? subject.series : 1, offAt);
      const entry = steps.findLast(({ act }) => act === 'run-down')?.entry ?? null;
      return from.includes(phase)
        ? step({ subject, workshop, subjectIds, entry, db })
        : refuse('Another screen took this step already. This page shows the next one.');
    });
  });
  revalidatePath('/', 'layout');
  return answer;
}

async function file(
  { subjectIds, db }: Stage,
  act: RetireAct,
  entered: { voltageV?: number; toWhom?: string } = {},
): Promise<Answer> {
  const body = { kind: 'retiring' as const, act, voltageV: entered.voltageV ?? null, toWhom: entered.toWhom ?? null };
  await fileEntry(db, { entry: randomUUID(), subjectIds, takenAt: now(), bodies: [body] });
  return done(undefined);
}

const missingOf = (gates: readonly string[], form: FormData): string[] =>
  gates.filter((_gate, i) => fieldsOf(form)[`gate ${i}`] === undefined);

/** It is on a lamp from now on: every gate was gone through, and it is what it is taken for. */
export async function putOnLampAction(code: string, _: Answer | null, form: FormData): Promise<Answer> {
  return stepping(code, ['decide', 'not-flat'], async ({ subject, workshop, subjectIds, db }) => {
    const lampInput = lampSubject(subject, workshop);
    const noLamp = noLampFor(lampInput);
    if (noLamp || lampInput.chemistry === 'alkaline')
      return refuse(noLamp ? noLampText(noLamp) : 'Hand over a primary cell undischarged.');
    const { volts } = measured.parse(fieldsOf(form));
    const { chemistry, series, capacityAh, groupsV, curve } = lampInput;
    const entered = { chemistry, series, measuredV: volts, groupsV: null, isCounted: true, isLabelRead: true };
    // A voltage after running down does not show the count.
    const mistaken = volts > chemistryTells * series ? mistakenFor(entered) : null;
    if (mistaken) return refuse(sheetRefusalText(mistaken), { volts: 'Measure it once more, and count its groups.' });
    const missing = missingOf(lampGates, form);
    if (missing.length > 0) return refuse(`Not yet: ${missing.join('; ')}.`);
    const lamp = lampFor(chemistry, series, capacityAh, groupsV && groupsV.map(() => volts / series), curve);
    await beginPeriod(db, {
      kind: 'work',
      subjectIds,
      beganAt: now(),
      plannedS: lamp.hours * 3600,
      bodies: [{ kind: 'retiring', act: 'run-down', voltageV: null, toWhom: null }],
    });
    return done(undefined);
  });
}
/** Below this a group says nothing of its chemistry, V. */
const chemistryTells = 2.5;

/** The lamp is off. */
export async function offLampAction(code: string): Promise<Answer> {
  return stepping(code, ['running-down'], async ({ entry, db }) => {
    if (entry) await endPeriod(db, entry, now());
    return done(undefined);
  });
}

/** Its voltage a day after the lamp. */
export async function readFlatAction(code: string, _: Answer | null, form: FormData): Promise<Answer> {
  return stepping(code, ['resting', 'not-flat'], async (stage) => {
    const { volts } = measured.parse(fieldsOf(form));
    return Math.abs(volts) > 100
      ? refuse('A pack that a lamp empties cannot be at that voltage.', { volts: 'In volts.' })
      : file(stage, 'flat', { voltageV: volts });
  });
}

/** Hand it over undischarged, charged or not. */
export async function asItIsAction(code: string, _: Answer | null, form: FormData): Promise<Answer> {
  return stepping(code, ['decide', 'not-flat'], async (stage) => {
    const missing = missingOf(asItIsGates, form);
    return missing.length > 0 ? refuse(`Not yet: ${missing.join('; ')}.`) : file(stage, 'as-it-is');
  });
}

export async function tapedAction(code: string): Promise<Answer> {
  return stepping(code, ['to-tape'], (stage) => file(stage, 'taped'));
}

/** It left the house: it leaves every list and keeps its history. */
export async function goneAction(code: string, _: Answer | null, form: FormData): Promise<Answer> {
  return stepping(code, ['to-hand-over'], (stage) => file(stage, 'gone', handedOver.parse(fieldsOf(form))));
}
