'use client';

import { chemistries, chemistryKeys } from '@/core/chemistry/chemistries';
import type { CellModel } from '@/records/batches';
import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { addBatchAction } from './actions';

/** A box of equal cells. Choosing a known model fills in what is known of it. */
export function NewBatchForm({ models }: { models: CellModel[] }) {
  const { answer, pending, form } = useFormAnswer('batch', addBatchAction);
  const fields: Record<string, string> = answer?.ok === false ? answer.fields : {};

  const fillKnown = (name: string) => {
    const known = models.find((model) => model.name === name);
    if (!known || !form.ref.current) return;
    const set = (field: string, value: string | number | null) => {
      const input = form.ref.current?.elements.namedItem(field);
      if ((input instanceof HTMLInputElement || input instanceof HTMLSelectElement) && value !== null) input.value = String(value);
    };
    set('maker', known.maker);
    set('chemistry', known.chemistry);
    set('ratedAh', known.ratedCapacityAh);
    set('asNewMilliohm', known.asNewOhm === null ? null : Number((known.asNewOhm * 1000).toPrecision(6)));
    set('board', known.board ? 'own' : 'none');
    set('massG', known.massKg === null ? null : Number((known.massKg * 1000).toPrecision(6)));
  };

  return (
    <form {...form}>
      <div className="fields">
        <Field name="code" label="Code" hint="Cells become S2-001, S2-002 …" error={fields.code} figures />
        <Field name="count" label="Number of cells" error={fields.count} figures />
        <Field name="origin" label="From where, used how" error={fields.origin} wide />
        <Field name="model" label="Model" error={fields.model} suggestions={models.map((model) => model.name)} onChange={fillKnown} />
        <Field name="maker" label="Maker" error={fields.maker} />
        <Field name="chemistry" label="Chemistry" choices={chemistryKeys.map((key) => [key, chemistries[key].name])} error={fields.chemistry} wide />
        <Field name="ratedAh" label="Rated capacity, Ah" error={fields.ratedAh} figures />
        <Field name="massG" label="Weight of a good one, g" hint="If known" error={fields.massG} figures />
        <Field name="asNewMilliohm" label="New, 10 s, mΩ" hint="If known" error={fields.asNewMilliohm} figures />
        <Field name="board" label="Protection board" choices={[['none', 'none on the cell'], ['own', 'each cell has its own']]} wide />
      </div>
      <FormEnd refused={answer?.ok === false ? answer.said : null} pending={pending} label="Take in" busy="Taking in …" />
    </form>
  );
}
