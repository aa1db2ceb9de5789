'use client';

import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { beginSelfDischargeAction } from './actions';

/** Puts cells and packs to rest together. */
export function NewSelfDischargeForm({ subject }: { subject: string }) {
  const { answer, pending, form } = useFormAnswer('hold', beginSelfDischargeAction);
  const fields: Record<string, string> = answer?.ok === false ? answer.fields : {};
  return (
    <form {...form}>
      <div className="fields">
        <Field
          name="codes"
          label="Cells and packs to test"
          hint="A batch (S1), cells (S1-014 S1-015), packs (PF1); five or more of a kind work best"
          defaultValue={subject}
          error={fields.codes}
          wide
        />
        <Field name="days" label="Days" hint="Then measure them again" defaultValue="7" error={fields.days} figures />
      </div>
      <p className="soft mt-2 mb-0">
        Charged full and settled for a day; where it is dry, 10 to 25 °C, and as warm at the second reading as at the
        first. Poles covered, off anything that burns.
      </p>
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label="Start test"
        busy="Putting to rest …"
      />
    </form>
  );
}
