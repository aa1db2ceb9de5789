'use client';

import { instrumentKinds } from '@/core/instruments/instrument';
import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { addInstrumentAction } from './actions';

const kinds = instrumentKinds.map((kind): [string, string] => [kind, { meter: 'Meter', checker: 'Cell checker', charger: 'Charger', load: 'Load', logger: 'Logger' }[kind]]);

/** What an instrument measures, how finely and how truly. */
export function NewInstrumentForm() {
  const { answer, pending, form } = useFormAnswer('instrument', addInstrumentAction);
  const fields: Record<string, string> = answer?.ok === false ? answer.fields : {};
  return (
    <form {...form}>
      <div className="fields">
        <Field name="code" label="Code" hint="Typed at the bench" error={fields.code} figures />
        <Field name="channels" label="Channels" defaultValue="1" error={fields.channels} figures />
        <Field name="name" label="What it is" error={fields.name} wide />
        <Field name="kind" label="Kind" choices={kinds} error={fields.kind} />
        <Field name="certified" label="Certified" choices={[['no', 'no'], ['yes', 'yes, believe it']]} />
        <Field name="voltStepMv" label="Volts: step, mV" error={fields.voltStepMv} figures />
        <Field name="voltPercent" label="± % of reading" error={fields.voltPercent} figures />
        <Field name="voltCounts" label="± counts" error={fields.voltCounts} figures />
      </div>
      <details className="mt-2">
        <summary>Current, resistance, leads</summary>
        <div className="fields mt-2">
          <Field name="ampStepMa" label="Amps: step, mA" error={fields.ampStepMa} figures />
          <Field name="ampPercent" label="± % of reading" error={fields.ampPercent} figures />
          <Field name="ampCounts" label="± counts" error={fields.ampCounts} figures />
          <Field name="ohmStep" label="Ohms: step, mΩ" error={fields.ohmStep} figures />
          <Field name="ohmPercent" label="± % of reading" error={fields.ohmPercent} figures />
          <Field name="ohmCounts" label="± counts" error={fields.ohmCounts} figures />
          <Field name="wires" label="Wires" choices={[['', 'not known'], ['2', 'two'], ['4', 'four']]} />
          <Field name="gauge" label="Leads: gauge" hint="American wire gauge" error={fields.gauge} figures />
          <Field name="leadM" label="Length, m" hint="One way" error={fields.leadM} figures />
        </div>
      </details>
      <FormEnd refused={answer?.ok === false ? answer.said : null} pending={pending} label="Put it on the bench" busy="Noting …" />
      {answer?.ok && (
        <p className="mt-2 mb-0" role="status">
          It is on the bench.
        </p>
      )}
    </form>
  );
}
