'use client';

import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { useState } from 'react';
import { openRoundAction } from './actions';

/** Method and protocol of a round. */
export function NewRoundForm({ batches }: { batches: [string, string][] }) {
  const [method, setMethod] = useState('resistor');
  const { answer, pending, submit } = useFormAnswer(openRoundAction);
  const fields: Record<string, string> = answer?.ok === false ? answer.fields : {};
  if (batches.length === 0) return <p className="soft">No batch has usable cells yet.</p>;
  return (
    <form onSubmit={submit}>
      <div className="fields">
        <Field name="batch" label="Batch" choices={batches} error={fields.batch} wide />
        <Field
          name="method"
          label="Method"
          choices={[
            ['resistor', 'Known resistor: open and loaded voltage'],
            ['ammeter', 'Lamp or other load: with its current'],
          ]}
          onChange={setMethod}
          wide
        />
        {method === 'resistor' && (
          <>
            <Field name="loadOhm" label="Resistor, Ω" error={fields.loadOhm} hint="Measured, if you can" figures />
            <Field name="tolerancePercent" label="Its tolerance, %" defaultValue="1" error={fields.tolerancePercent} figures />
            <Field name="ratingW" label="Its rating, W" error={fields.ratingW} hint="If known" figures />
          </>
        )}
        <Field name="holdS" label="Seconds under load" defaultValue="10" error={fields.holdS} figures />
        <Field
          name="chargeState"
          label="Charge"
          choices={[
            ['storage', 'at storage charge'],
            ['full', 'full, rested'],
            ['any', 'any'],
          ]}
        />
        <Field name="temperatureC" label="Bench, °C" error={fields.temperatureC} hint="If known" figures />
      </div>
      <p className="soft mt-2 mb-0">Insulate what you probe. A resistor under load gets hot enough to burn.</p>
      <FormEnd refused={answer?.ok === false ? answer.said : null} pending={pending} label="Begin" busy="Beginning …" />
    </form>
  );
}
