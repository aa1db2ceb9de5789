'use client';

import { chemistries, chemistryKeys } from '@/core/chemistry/chemistries';
import type { CellModel } from '@/records/batches';
import { Field } from '@/ui/Field';
import { type RefObject, useState } from 'react';

interface ModelFieldsProps {
  /** The form they are in, where a known model fills in what is known of it. */
  form: RefObject<HTMLFormElement | null>;
  models: CellModel[];
  errors: Record<string, string>;
  /** The present values. */
  now?: CellModel;
}

const sizes = ['18650', '21700', '26650', '20700', '18350', '14500', 'AA', 'AAA', 'C', 'D', 'pouch'];
const thousandfold = (value: number | null | undefined): number | undefined =>
  value === null || value === undefined ? undefined : Number((value * 1000).toPrecision(6));

/** What cells are: by maker and model, or, as most salvage, by their size and what is printed on them. */
export function ModelFields({ form, models, errors, now }: ModelFieldsProps) {
  const [known, setKnown] = useState(now?.name === null ? 'no' : 'yes');
  const fillKnown = (name: string) => {
    const model = models.find((one) => one.name === name);
    if (!model) return;
    const set = (field: string, value: string | number | null | undefined) => {
      const input = form.current?.elements.namedItem(field);
      if (
        (input instanceof HTMLInputElement || input instanceof HTMLSelectElement) &&
        value !== null &&
        value !== undefined
      )
        input.value = String(value);
    };
    set('maker', model.maker);
    set('chemistry', model.chemistry);
    set('ratedAh', model.ratedCapacityAh);
    set('asNewMilliohm', thousandfold(model.asNewOhm));
    set('labelChargeA', model.chargeA);
    set('labelDischargeA', model.dischargeA);
    set('board', model.board ? 'own' : 'none');
    set('massG', thousandfold(model.massKg));
  };
  return (
    <>
      <Field
        name="known"
        label="Maker and model"
        choices={[
          ['yes', 'known'],
          ['no', 'not known: by size and print'],
        ]}
        defaultValue={known}
        onChange={setKnown}
        wide
      />
      {known === 'yes' ? (
        <>
          <Field
            name="model"
            label="Model"
            error={errors.model}
            suggestions={models.flatMap((model) => model.name ?? [])}
            defaultValue={now?.name ?? undefined}
            onChange={fillKnown}
          />
          <Field name="maker" label="Maker" error={errors.maker} defaultValue={now?.maker ?? undefined} />
        </>
      ) : (
        <Field name="size" label="Size" error={errors.size} suggestions={sizes} defaultValue={now?.size ?? '18650'} />
      )}
      <Field
        name="ratedAh"
        label={known === 'yes' ? 'Rated capacity, Ah' : 'Capacity printed on it'}
        hint={known === 'yes' ? undefined : '2.2 Ah or 2200 mAh'}
        error={errors.ratedAh}
        defaultValue={now?.ratedCapacityAh}
        figures
      />
      <Field
        name="chemistry"
        label="Chemistry"
        choices={chemistryKeys.map((key) => [key, chemistries[key].name])}
        error={errors.chemistry}
        defaultValue={now?.chemistry}
        wide
      />
      <Field
        name="massG"
        label="Weight of a good one, g"
        hint="If known"
        error={errors.massG}
        defaultValue={thousandfold(now?.massKg)}
        figures
      />
      <Field
        name="asNewMilliohm"
        label="10-second resistance when new, mΩ"
        hint="If known"
        error={errors.asNewMilliohm}
        defaultValue={thousandfold(now?.asNewOhm)}
        figures
      />
      <Field
        name="labelChargeA"
        label="Charge at most, A"
        hint="By its label, if known"
        error={errors.labelChargeA}
        defaultValue={now?.chargeA ?? undefined}
        figures
      />
      <Field
        name="labelDischargeA"
        label="Discharge at most, A"
        hint="By its label, if known"
        error={errors.labelDischargeA}
        defaultValue={now?.dischargeA ?? undefined}
        figures
      />
      <Field
        name="board"
        label="Protection board"
        choices={[
          ['none', 'none on the cell'],
          ['own', 'each cell has its own'],
        ]}
        defaultValue={now?.board ? 'own' : 'none'}
        wide
      />
    </>
  );
}
