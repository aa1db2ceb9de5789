'use client';

import type { PackNeed } from '@/core/judging/candidates';
import { Field } from '@/ui/Field';
import { useKeptForm } from '@/ui/useFormAnswer';
import Form from 'next/form';
import Button from 'react-bootstrap/Button';
import type { JobRequest } from './need';

export const dutyChoices: readonly (readonly [PackNeed['duty'], string])[] = [
  ['surge', 'Surge only'],
  ['steady', 'Steady or better'],
  ['light', 'Light or better'],
];

/** What the pack is to do. A plain form: its answer is an address that can be kept. */
export function JobForm({ models, job }: { models: { name: string; count: number }[]; job: JobRequest | null }) {
  const { kept, sent } = useKeptForm(job === null ? 'job' : 'job shown');
  const amount = job?.load && ('currentA' in job.load ? job.load.currentA : job.load.powerW);
  const isWatts = job?.load != null && 'powerW' in job.load;
  const { from, to } = job?.series ?? { from: 7, to: 7 };
  const series = from === to ? from : `${from}-${to}`;
  return (
    <Form action="/builds/job" {...kept} onSubmit={sent} aria-label="What it must do">
      <div className="fields">
        <Field
          name="series"
          label="In series"
          hint="7, or 6-8"
          defaultValue={job && job.series === null ? '' : series}
          figures
        />
        <Field
          name="windowV"
          label="Or volts it bears"
          hint="18-29.4"
          defaultValue={job?.windowV ? `${job.windowV.low}-${job.windowV.high}` : ''}
          figures
        />
        <Field name="loadA" label="Load, A" defaultValue={isWatts ? '' : (amount ?? '')} figures />
        <Field name="loadW" label="Or load, W" defaultValue={isWatts ? (amount ?? '') : ''} figures />
        <Field name="minutes" label="For, min" defaultValue={job?.minutes ?? ''} figures />
        <Field name="energyWh" label="Or to give, Wh" defaultValue={job?.energyWh ?? ''} figures />
        <Field name="peakA" label="Peak, A" hint="Blank: none above the load" defaultValue={job?.peakA ?? ''} figures />
        <Field
          name="lowestV"
          label="Never below, V a group"
          hint="Blank: by the house rules"
          defaultValue={job?.lowestV ?? ''}
          figures
        />
        <Field
          name="temperatureC"
          label="Used at, °C"
          hint="Blank: on the bench"
          defaultValue={job?.temperatureC ?? ''}
          figures
        />
        <Field name="room" label="Room, mm" hint="80 x 100 x 70" defaultValue={job?.room?.join(' x ') ?? ''} figures />
        <Field name="size" label="Size of a cell" hint="18650" defaultValue={job?.size ?? ''} figures />
        <Field
          name="model"
          label="Cells for it"
          choices={models.map((model) => [model.name, `${model.name} (${model.count} free)`])}
          defaultValue={job?.model ?? ''}
          wide
        />
        <Field name="duty" label="Their duty" choices={dutyChoices} defaultValue={job?.duty ?? 'steady'} wide />
      </div>
      <Button type="submit" variant="ember" className="mt-3">
        Which shapes do it?
      </Button>
    </Form>
  );
}
