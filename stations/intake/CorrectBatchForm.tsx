'use client';

import type { CellModel } from '@/records/batches';
import { ByField } from '@/ui/ByField';
import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { correctBatchAction } from './actions';
import { ModelFields } from './ModelFields';

interface CorrectBatchFormProps {
  code: string;
  origin: string;
  notes: string;
  model: CellModel;
  models: CellModel[];
}

/** Corrects what was noted of a batch; what stood there before is kept with who changed it. */
export function CorrectBatchForm({ code, origin, notes, model, models }: CorrectBatchFormProps) {
  const { answer, pending, form } = useFormAnswer(`correct ${code}`, correctBatchAction);
  const errors: Record<string, string> = answer?.ok === false ? answer.fields : {};
  return (
    <form {...form} aria-label={`Correct batch ${code}`}>
      <input type="hidden" name="code" value={code} />
      <div className="fields">
        <Field name="origin" label="From where, used how" error={errors.origin} defaultValue={origin} wide />
        <ModelFields form={form.ref} models={models} errors={errors} now={model} />
        <Field name="notes" label="Notes" error={errors.notes} defaultValue={notes} wide />
        <ByField error={errors.by} />
      </div>
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label="Correct"
        busy="Correcting …"
      />
      {answer?.ok && (
        <span className="ms-3" role="status">
          Corrected; its cells are judged by it.
        </span>
      )}
    </form>
  );
}
