'use client';

import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { notePastAction } from '../clinic/actions';
import { PackPastFields } from '../clinic/PackPastFields';

/** Notes more of a pack's past. */
export function PackPastForm({ code }: { code: string }) {
  const { answer, pending, form } = useFormAnswer(`past of ${code}`, notePastAction.bind(null, code));
  return (
    <form {...form} aria-label={`Past of ${code}`}>
      <PackPastFields errors={answer?.ok === false ? answer.fields : {}} />
      <div className="fields mt-2">
        <Field
          name="connectorNow"
          label="Balance connector"
          choices={[
            ['', 'as noted'],
            ['yes', 'it has one'],
            ['no', 'none'],
          ]}
        />
      </div>
      <FormEnd refused={answer?.ok === false ? answer.said : null} pending={pending} label="Note it" busy="Noting …" />
    </form>
  );
}
