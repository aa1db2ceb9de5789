'use server';

import { type JobProgram, courses, type JobKind } from '@/core/planning/benchPlan';
import { addAttended, type Place, type PlannedJob, plannedJobs, withdrawAttended } from '@/records/benchPlans';
import { database, inTransaction } from '@/records/database';
import { fileEntry, voidEntry } from '@/records/ledger';
import { holdBench } from '@/records/locks';
import { beginPeriod, endPeriod } from '@/records/periods';
import { acting, type Answer, answering, done, fieldsOf, reasonText, refuse, typedCodes } from '@/stations/answer';
import { jobName } from '@/words/schedule';
import { outOfPlan, replan } from '@/workshop/benchPlan';
import { now } from '@/workshop/clock';
import { judgedWorkshop, subjectNamed } from '@/workshop/judged';
import { momentText } from '@/workshop/strictFields';
import { randomUUID } from 'node:crypto';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';
import { namedBy } from '../selfDischarge/testSubjects';

const mostJobs = 200;
const longestMs = 24 * 3_600_000;
const courseKeys = Object.keys(courses) as [JobProgram, ...JobProgram[]];
/** As the browser calculates it from its clock. */
const moment = (what: string) => momentText(`${what}: a day and a time.`);

const hours = z
  .object({ from: moment('From'), to: moment('To') })
  .transform(({ from, to }) => ({ fromAt: new Date(from), toAt: new Date(to) }))
  .refine(({ fromAt, toAt }) => toAt > fromAt, {
    path: ['to'],
    error: 'It ends before it begins. What goes on past midnight is entered as two.',
  })
  .refine(({ fromAt, toAt }) => toAt.getTime() - fromAt.getTime() <= longestMs, {
    path: ['to'],
    error: 'Attended hours are at most one day at a time.',
  });

const wanted = z.object({
  codes: typedCodes('Whose? Packs such as PF1, cells such as S1-014, a batch such as S1.', mostJobs),
  course: z.enum(courseKeys),
  due: z.union([z.literal('').transform(() => null), moment('Wanted by')]),
});

/** The plan is made again, and every screen shows it. */
async function replanned(): Promise<void> {
  await replan();
  revalidatePath('/', 'layout');
}

/** A person is at the bench then. */
export async function addHoursAction(_: Answer | null, form: FormData): Promise<Answer> {
  return answering(
    async () => {
      const given = hours.parse(fieldsOf(form));
      if (given.toAt <= now()) return refuse('That is over already.', { to: 'Hours that are still to come.' });
      await addAttended(database(), { id: randomUUID(), ...given });
      await replanned();
      return done(undefined);
    },
    { attended_hours_lie_apart: 'These hours overlap with others. Remove those first.' },
  );
}

export async function withdrawHoursAction(id: string): Promise<void> {
  await acting(async () => {
    if (await withdrawAttended(database(), z.uuid().parse(id))) await replanned();
  });
}

/** What is wanted with each of them, one thing after the other; behind what is wanted with it already. */
export async function addJobsAction(_: Answer | null, form: FormData): Promise<Answer> {
  return answering(async () => {
    const { codes, course, due } = wanted.parse(fieldsOf(form));
    const workshop = await judgedWorkshop();
    const named = await namedBy(codes, workshop);
    const unknown = [...named].filter(([, subjects]) => subjects.length === 0).map(([code]) => code);
    if (unknown.length > 0)
      return refuse(`Nothing here is called ${unknown.slice(0, 5).join(', ')}.`, { codes: 'Codes that are here.' });
    const subjects = [...new Map([...named.values()].flat().map((subject) => [subject.id, subject])).values()];
    const out = subjects.filter((subject) => outOfPlan(subject, workshop)).map(({ code }) => code);
    if (out.length > 0)
      return refuse(`${out.join(', ')}: scrapped, retired or in a pack, so no job.`, { codes: 'Leave those out.' });
    const steps: readonly JobKind[] = courses[course];
    const isAdded = await inTransaction(async (on) => {
      await holdBench(on);
      const planned = await plannedJobs(on);
      if (planned.length + subjects.length * steps.length > mostJobs) return false;
      for (const { id, code } of subjects) {
        let after = planned.findLast(({ of }) => of === code)?.id ?? null;
        for (const job of steps) {
          const entry = randomUUID();
          const body = { kind: 'job' as const, job, after, dueAt: due };
          await fileEntry(on, { entry, subjectIds: [id], takenAt: now(), bodies: [body] });
          after = entry;
        }
      }
      return true;
    });
    if (!isAdded)
      return refuse(`At most ${mostJobs} jobs fit into a plan. Do some of them first.`, { codes: 'Fewer at once.' });
    await replanned();
    return done(undefined);
  });
}

/** Replanned from now; what runs stays where it is. */
export async function replanAction(): Promise<void> {
  await acting(replan);
  revalidatePath('/', 'layout');
}

/** It is not wanted any more. */
export async function dropJobAction(id: string, why: string): Promise<void> {
  await acting(async () => {
    await voidEntry(database(), z.uuid().parse(id), reasonText.parse(why));
    await replanned();
  });
}

/** What a job is to the records. */
const periodOf: Partial<Record<JobKind, 'charge' | 'discharge'>> = {
  charge: 'charge',
  balance: 'charge',
  discharge: 'discharge',
};

/** Why a job cannot start now; null where it can. */
function whyNotStart(job: PlannedJob & { planned: Place }, jobs: readonly PlannedJob[]): string | null {
  const before = jobs.find((one) => one.id === job.after);
  if (before) return `First ${job.of}: ${jobName(before.kind)}.`;
  const { station } = job.planned;
  const there = job.kind === 'hold' ? null : jobs.find(({ begun }) => begun?.station === station);
  return there ? `${there.of} is on ${station}. End that job there, or replan.` : null;
}

/** Starts a job where it is planned. Of two browsers that start jobs at once the second sees what the first started. */
export async function beginJobAction(id: string): Promise<Answer> {
  return answering(async () => {
    const jobId = z.uuid().parse(id);
    const of = (await plannedJobs(database())).find((one) => one.id === jobId)?.of;
    const named = of === undefined ? null : await subjectNamed(of);
    const started = await inTransaction(async (on): Promise<Answer> => {
      await holdBench(on);
      const jobs = await plannedJobs(on);
      const job = jobs.find((one) => one.id === jobId);
      if (!job?.planned) return refuse('This job is in no plan any more. Replan.');
      if (job.begun) return done(undefined);
      if (!named?.subject || outOfPlan(named.subject, named.workshop))
        return refuse(`${job.of} is scrapped or gone. Nothing can start with it.`);
      const why = whyNotStart({ ...job, planned: job.planned }, jobs);
      if (why) return refuse(why);
      await beginPeriod(on, {
        kind: periodOf[job.kind] ?? 'work',
        subjectIds: [named.subject.id],
        beganAt: now(),
        plannedS: job.planned.expectedMin * 60,
        bodies: [{ kind: 'job-begun', of: job.id, station: job.planned.station }],
      });
      return done(undefined);
    });
    if (started.ok) revalidatePath('/', 'layout');
    return started;
  });
}

/** It is done; what was charged or discharged rests from then on. */
export async function endJobAction(id: string): Promise<Answer> {
  return answering(async () => {
    const job = (await plannedJobs(database())).find((one) => one.id === z.uuid().parse(id));
    const begun = job?.begun;
    if (!job || !begun) return done(undefined);
    const { subject, workshop } = await subjectNamed(job.of);
    const { restAfterChargeH, restAfterDischargeH } = workshop.rules.limits;
    const restFrom = periodOf[job.kind];
    const at = now();
    await inTransaction(async (on) => {
      if (!(await endPeriod(on, begun.entry, at)) || !restFrom || !subject) return;
      const plannedS = (restFrom === 'charge' ? restAfterChargeH : restAfterDischargeH) * 3600;
      await beginPeriod(on, { kind: 'rest', restFrom, subjectIds: [subject.id], beganAt: at, plannedS });
    });
    revalidatePath('/', 'layout');
    return done(undefined);
  });
}

/** It was not begun after all. */
export async function unbeginJobAction(id: string): Promise<Answer> {
  return answering(async () => {
    const job = (await plannedJobs(database())).find((one) => one.id === z.uuid().parse(id));
    if (job?.begun) await voidEntry(database(), job.begun.entry, 'not begun');
    await replanned();
    return done(undefined);
  });
}
