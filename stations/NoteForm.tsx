'use client';

import { Field } from '@/ui/Field';
import Button from 'react-bootstrap/Button';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { addNoteAction } from './noteActions';

/** A line to remember about a cell or a pack. */
export function NoteForm({ code }: { code: string }) {
  const { answer, pending, form } = useFormAnswer(`note ${code}`, addNoteAction);
  return (
    <form {...form} id="note" className="d-flex flex-wrap align-items-end gap-2" aria-label={`Note on ${code}`}>
      <input type="hidden" name="code" value={code} />
      <div className="flex-grow-1">
        <Field
          key={answer?.ok ? answer.value : ''}
          name="text"
          label={`Note on ${code}`}
          error={answer?.ok === false ? answer.fields.text : undefined}
        />
      </div>
      <Button type="submit" variant="plain" disabled={pending}>
        {pending ? 'Keeping …' : 'Keep the note'}
      </Button>
      {answer?.ok === false && (
        <p className="hot w-100 mb-0" role="alert">
          ◆ {answer.said}
        </p>
      )}
    </form>
  );
}
