'use client';

import type { CellModel } from '@/records/batches';
import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { addBatchAction } from './actions';
import { ModelFields } from './ModelFields';

/** A box of equal cells. */
export function NewBatchForm({ models }: { models: CellModel[] }) {
  const { answer, pending, form } = useFormAnswer('batch', addBatchAction);
  const errors: Record<string, string> = answer?.ok === false ? answer.fields : {};
  return (
    <form {...form}>
      <div className="fields">
        <Field name="code" label="Code" hint="Cells become S2-001, S2-002 …" error={errors.code} figures={false} />
        <Field name="count" label="Number of cells" error={errors.count} figures />
        <Field name="origin" label="From where, used how" error={errors.origin} wide />
        <ModelFields form={form.ref} models={models} errors={errors} />
        <Field name="notes" label="Notes" hint="If any" error={errors.notes} wide />
      </div>
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label="Take in"
        busy="Taking in …"
      />
    </form>
  );
}
