'use client';

import { type MethodKey, methods } from '@/core/resistance/methods';
import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { useState } from 'react';
import { overPacks } from './overPacks';
import { openRoundAction } from './actions';

interface NewRoundFormProps {
  /** Batches, and the packs if there are any. */
  batches: [string, string][];
  protocols: { id: number; text: string; method: MethodKey }[];
  /** Grouped by quantity: code and name. */
  instruments: Record<'voltage' | 'current' | 'resistance', [string, string][]>;
}

/** A protocol applied to a batch or to the packs, with the instruments and the load at hand. */
export function NewRoundForm({ batches, protocols, instruments }: NewRoundFormProps) {
  const [chosen, setChosen] = useState(String(protocols[0]?.id ?? ''));
  const [of, setOf] = useState(batches[0]?.[0] ?? '');
  const { answer, pending, form } = useFormAnswer('round', openRoundAction);
  const fields: Record<string, string> = answer?.ok === false ? answer.fields : {};
  if (batches.length === 0) return <p className="soft">No batch has usable cells yet, and there is no pack.</p>;
  if (protocols.length === 0)
    return <p className="soft">No protocol is at hand: take one out again, or write one down.</p>;
  const method = protocols.find((one) => String(one.id) === chosen)?.method ?? 'resistor';
  const choices = (list: [string, string][]): [string, string][] => [
    ['', 'not on the bench list'],
    ...list.map(([code, name]): [string, string] => [code, `${code}: ${name}`]),
  ];
  const needsCurrent = method === 'ammeter' || method === 'preload' || method === 'two-current';
  const readsAfter = method === 'ammeter' || method === 'preload' || method === 'resistor';
  return (
    <form {...form}>
      <div className="fields">
        <Field name="batch" label="Batch or packs" choices={batches} onChange={setOf} error={fields.batch} wide />
        <Field
          name="protocol"
          label="Protocol"
          choices={protocols.map(({ id, text }) => [String(id), text])}
          onChange={setChosen}
          error={fields.protocol}
          wide
        />
        <Field
          key={methods[method].needs}
          name="instrument"
          label={methods[method].needs === 'resistance' ? 'Resistance read with' : 'Voltage read with'}
          choices={choices(instruments[methods[method].needs])}
          wide
        />
        {needsCurrent && <Field name="ammeter" label="Current read with" choices={choices(instruments.current)} wide />}
        {method === 'ac-meter' && (
          <Field
            name="zero"
            label="Its zero"
            choices={[
              ['', 'not noted'],
              ['yes', 'taken, probes shorted'],
              ['no', 'not taken'],
            ]}
            error={fields.zero}
            wide
          />
        )}
        {method === 'resistor' && (
          <>
            <Field name="loadOhm" label="Resistor, Ω" error={fields.loadOhm} hint="Measured, if you can" figures />
            <Field
              name="tolerancePercent"
              label="Its tolerance, %"
              defaultValue="1"
              error={fields.tolerancePercent}
              figures
            />
            <Field name="ratingW" label="Its rating, W" error={fields.ratingW} hint="If known" figures />
          </>
        )}
        {readsAfter && (
          <Field
            name="afterS"
            label="Recovery voltage after, s"
            error={fields.afterS}
            hint="Time after the load is removed; later is more accurate"
            figures
          />
        )}
        {of === overPacks && method !== 'told' && (
          <Field
            name="leadMilliohm"
            label="Wires of the connector, mΩ"
            error={fields.leadMilliohm}
            hint="There and back, if groups are probed through it"
            figures
          />
        )}
        <Field name="temperatureC" label="Bench temperature, °C" error={fields.temperatureC} hint="If known" figures />
      </div>
      <p className="soft mt-2 mb-0">
        {methods[method].does}
        {methods[method].needs === 'voltage' && ' Insulate what you probe. A load gets hot enough to burn.'}
      </p>
      <FormEnd refused={answer?.ok === false ? answer.said : null} pending={pending} label="Begin" busy="Beginning …" />
    </form>
  );
}
