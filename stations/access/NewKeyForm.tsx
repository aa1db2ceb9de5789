'use client';

import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { addApiKeyAction } from './actions';

/** An address is shown in full. */
const shown = (key: string): string => (key.startsWith('/') ? window.location.origin + key : key);

/** A new key, and the key itself once it was made. */
export function NewKeyForm() {
  const { answer, pending, form } = useFormAnswer('key', addApiKeyAction);
  return (
    <form {...form} aria-label="A new key">
      <Field
        name="name"
        label="What will use it"
        hint="Such as: logger on the shelf"
        error={answer?.ok === false ? answer.fields.name : undefined}
      />
      <Field
        name="opens"
        label="It opens"
        choices={[
          ['api', 'the API'],
          ['calendar', 'a calendar of what is due and planned, by a secret address'],
        ]}
      />
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label="Make a key"
        busy="Making …"
      />
      {answer?.ok && (
        <p className="ask mt-3 mb-0" role="status">
          Note it now, it is not shown again: <code className="num text-break">{shown(answer.value)}</code>
        </p>
      )}
    </form>
  );
}
