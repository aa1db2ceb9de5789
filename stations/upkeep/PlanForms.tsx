'use client';

import { courses, type JobProgram } from '@/core/planning/benchPlan';
import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { courseTexts } from '@/words/schedule';
import type { Answer } from '../answer';
import { addHoursAction, addJobsAction } from './planActions';

/** A moment of this browser's clock, summer time and all; empty where it is none. */
function momentOf(day: unknown, time: unknown): string {
  const at = new Date(`${String(day)}T${String(time)}`);
  return Number.isNaN(at.getTime()) ? '' : at.toISOString();
}

/** When a person is at the bench. */
export function HoursForm() {
  const { answer, pending, form } = useFormAnswer('attended hours', (before: Answer | null, typed: FormData) => {
    const sent = new FormData();
    for (const end of ['from', 'to']) sent.set(end, momentOf(typed.get('day'), typed.get(end)));
    return addHoursAction(before, sent);
  });
  const errors: Record<string, string> = answer?.ok === false ? answer.fields : {};
  return (
    <form {...form} aria-label="Attended hours">
      <div className="fields">
        <Field type="date" name="day" label="Day" />
        <Field type="time" name="from" label="From" error={errors['from']} />
        <Field type="time" name="to" label="To" error={errors['to']} />
      </div>
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label="I am there then"
        busy="Planning …"
      />
    </form>
  );
}

/** What is wanted with whom. */
export function JobsForm({ subject }: { subject: string }) {
  const { answer, pending, form } = useFormAnswer('jobs', (before: Answer | null, typed: FormData) => {
    const due = String(typed.get('due') ?? '');
    typed.set('due', due === '' ? '' : momentOf(...(due.split('T') as [string, string])));
    return addJobsAction(before, typed);
  });
  const errors: Record<string, string> = answer?.ok === false ? answer.fields : {};
  return (
    <form {...form} aria-label="Something is wanted">
      <div className="fields">
        <Field
          name="codes"
          label="With"
          hint="Packs (PF1), cells (S1-014 S1-015), a batch (S1)"
          defaultValue={subject}
          error={errors['codes']}
          wide
        />
        <Field
          name="course"
          label="What"
          choices={(Object.keys(courses) as JobProgram[]).map((course) => [course, courseTexts[course]])}
          wide
        />
        <Field
          type="datetime-local"
          name="due"
          label="Wanted by"
          hint="Blank: whenever it fits"
          error={errors['due']}
        />
      </div>
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label="Plan it"
        busy="Planning …"
      />
    </form>
  );
}
