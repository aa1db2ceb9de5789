'use client';

import { chemistries, chemistryKeys, type Chemistry } from '@/core/chemistry/chemistries';
import { buildFromLabel } from '@/core/capacity/label';
import { BoardField } from '../BoardField';
import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { useState } from 'react';
import { addPackAction } from './actions';
import { PackPastFields } from './PackPastFields';

/** A pack: from its label, or as it was opened and counted. */
export function NewPackForm() {
  const [isUnknown, setUnknown] = useState(false);
  const [hint, setHint] = useState('Or give what its label says below');
  const { answer, pending, form } = useFormAnswer('pack', addPackAction);
  const fields: Record<string, string> = answer?.ok === false ? answer.fields : {};

  const readLabel = () => {
    const input = (name: string) =>
      form.ref.current?.elements.namedItem(name) as HTMLInputElement | HTMLSelectElement | null;
    const figure = (name: string) => Number(input(name)?.value.replace(',', '.'));
    const [energyWh, packV, cellAh] = [figure('labelWh'), figure('labelV'), figure('labelCellAh') || 2.5];
    const chemistry = input('chemistry')?.value ?? 'li-ion';
    setUnknown(chemistry === 'unknown');
    if (!(energyWh > 0) || !(packV > 0) || chemistry === 'unknown') return;
    const build = buildFromLabel(energyWh, packV, chemistries[chemistry as Chemistry].nominalV, cellAh);
    const set = (name: string, value: string) => {
      const field = input(name);
      if (field) field.value = value;
    };
    set('series', String(build.series));
    set('parallel', String(build.parallel));
    set('ratedCapacityAh', build.capacityAh.toFixed(2));
    setHint(
      `By its label: ${build.series} in series, ${build.parallel} in parallel, ${build.capacityAh.toFixed(2)} Ah`,
    );
  };

  return (
    <form {...form}>
      <div className="fields">
        <Field name="code" label="Code" hint="Begins with P" error={fields.code} figures />
        <Field name="name" label="What it serves" error={fields.name} />
        <Field
          name="chemistry"
          label="Chemistry"
          choices={[...chemistryKeys.map((key) => [key, chemistries[key].name] as const), ['unknown', 'not known']]}
          error={fields.chemistry}
          onChange={readLabel}
          wide
        />
        <Field name="series" label="In series" error={fields.series} figures />
        <Field name="parallel" label="In parallel" error={fields.parallel} figures />
        <Field name="ratedCapacityAh" label="Rated, Ah" error={fields.ratedCapacityAh} hint={hint} figures />
        {isUnknown && (
          <Field
            name="measuredV"
            label="At its terminals, V"
            hint="At rest: it rules some out"
            error={fields.measuredV}
            figures
          />
        )}
        <BoardField />
        <Field
          name="balanceConnector"
          label="Balance connector"
          choices={[
            ['', 'not noted'],
            ['yes', 'it has one'],
            ['no', 'none'],
          ]}
        />
      </div>
      <details className="mt-2">
        <summary>From its label</summary>
        <div className="fields mt-2">
          <Field name="labelWh" label="Energy, Wh" onChange={readLabel} figures />
          <Field name="labelV" label="Voltage, V" onChange={readLabel} error={fields.labelV} figures />
          <Field name="labelAh" label="Capacity, Ah" hint="Where it says so, too" error={fields.labelAh} figures />
          <Field name="labelCellAh" label="One cell about, Ah" defaultValue="2.5" onChange={readLabel} figures />
        </div>
      </details>
      <details className="mt-2">
        <summary>When it was new, and its use so far</summary>
        <PackPastFields errors={fields} />
      </details>
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label="Take in"
        busy="Taking in …"
      />
    </form>
  );
}
