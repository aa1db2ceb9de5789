'use client';

import { Field } from '@/ui/Field';
import { useKeptForm } from '@/ui/useFormAnswer';
import Form from 'next/form';
import Button from 'react-bootstrap/Button';
import type { PackNeed } from '@/core/judging/candidates';
import { dutyChoices } from './JobForm';

/** What the pack must be. A plain form: its answer is an address that can be kept. */
export function NeedForm({ models, need }: { models: { name: string; count: number }[]; need: PackNeed | null }) {
  const { kept, sent } = useKeptForm(need === null ? 'need' : 'need shown');
  return (
    <Form action="/builds/new" {...kept} onSubmit={sent}>
      <div className="fields">
        <Field name="series" label="In series" defaultValue={need?.series ?? 4} figures />
        <Field name="parallel" label="In parallel" defaultValue={need?.parallel ?? 3} figures />
        <Field
          name="model"
          label="Cells"
          choices={models.map((model) => [model.name, `${model.name} (${model.count} free)`])}
          defaultValue={need?.model ?? ''}
          wide
        />
        <Field name="duty" label="Duty" choices={dutyChoices} defaultValue={need?.duty ?? 'steady'} />
        <Field
          name="enoughAh"
          label="Capacity needed, Ah"
          hint="Spares the best cells"
          defaultValue={need?.enoughAh ?? ''}
          figures
        />
        <Field
          name="without"
          label="Without"
          hint="Codes of cells to leave out"
          defaultValue={need?.without.join(' ') ?? ''}
          wide
        />
        <Field
          name="pins"
          label="With"
          hint="Codes of cells that must be in it"
          defaultValue={need?.pins.join(' ') ?? ''}
          wide
        />
        {need?.load && (
          <input
            type="hidden"
            name={'currentA' in need.load ? 'loadA' : 'loadW'}
            value={'currentA' in need.load ? need.load.currentA : need.load.powerW}
          />
        )}
        {need?.minutes != null && <input type="hidden" name="minutes" value={need.minutes} />}
        {need?.lowestV != null && <input type="hidden" name="lowestV" value={need.lowestV} />}
      </div>
      <Button type="submit" variant="ember" className="mt-3">
        Match
      </Button>
    </Form>
  );
}
