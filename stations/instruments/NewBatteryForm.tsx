'use client';

import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { addBatteryAction } from './actions';

/** One more battery for a sheet that is under way. */
export function NewBatteryForm({ check }: { check: number }) {
  const { answer, pending, form } = useFormAnswer(`battery ${check}`, addBatteryAction);
  return (
    <form {...form}>
      <input type="hidden" name="check" value={check} />
      <Field
        name="label"
        label="What it is"
        hint="Such as: nearly empty"
        error={answer?.ok === false ? answer.fields.label : undefined}
      />
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label="Put it on the sheet"
        busy="Adding …"
      />
    </form>
  );
}
