'use client';

import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { openSheetAction } from './actions';

/** A sheet: a name and the batteries, or the pack, that every instrument measures. */
export function NewSheetForm() {
  const { answer, pending, form } = useFormAnswer('cross-check', openSheetAction);
  const fields: Record<string, string> = answer?.ok === false ? answer.fields : {};
  return (
    <form {...form}>
      <div className="fields">
        <Field name="name" label="Sheet" hint="Such as: all meters, November" error={fields.name} wide />
        <Field
          name="batteries"
          label="Batteries"
          hint="Several levels, separated by commas: empty, half, full. Or a pack’s code: its groups are the levels"
          error={fields.batteries}
          wide
        />
      </div>
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label="Open the sheet"
        busy="Opening …"
      />
    </form>
  );
}
