'use client';

import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { addNoteAction } from './noteActions';

/** A line to remember about a cell or a pack. */
export function NoteForm({ code }: { code: string }) {
  const { answer, pending, form } = useFormAnswer(`note ${code}`, addNoteAction);
  return (
    <form {...form} aria-label={`Note on ${code}`}>
      <input type="hidden" name="code" value={code} />
      <Field key={answer?.ok ? answer.value : ''} name="text" label={`Note on ${code}`} error={answer?.ok === false ? answer.fields.text : undefined} />
      <FormEnd refused={answer?.ok === false ? answer.said : null} pending={pending} label="Keep the note" busy="Keeping …" />
    </form>
  );
}
