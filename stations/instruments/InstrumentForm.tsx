'use client';

import type { Instrument } from '@/core/judging/facts';
import { instrumentKinds, type NotedRange } from '@/core/instruments/instrument';
import { ByField } from '@/ui/ByField';
import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { addInstrumentAction, correctInstrumentAction } from './actions';

const kinds = instrumentKinds.map((kind): [string, string] => [
  kind,
  { meter: 'Meter', checker: 'Cell checker', charger: 'Charger', load: 'Load', logger: 'Logger' }[kind],
]);

/** A figure of each range, the finest first: `1 10`. */
const listed = (noted: NotedRange | undefined, of: (range: NotedRange) => number | null, factor = 1) =>
  noted &&
  [noted, ...(noted.coarser ?? [])]
    .map((range) => plain(of(range), factor) ?? '')
    .join(' ')
    .trim();

const plain = (value: number | null | undefined, factor = 1): number | undefined =>
  value === null || value === undefined ? undefined : Number((value * factor).toPrecision(6));

interface RangeFieldsProps {
  /** Names its fields. */
  prefix: 'volt' | 'amp' | 'ohm';
  label: string;
  noted: NotedRange | undefined;
  errors: Record<string, string>;
}

/** The last digit of one quantity and its maximum permissible error, for each range of the instrument. */
function RangeFields({ prefix, label, noted, errors }: RangeFieldsProps) {
  const step = { volt: 'voltStepMv', amp: 'ampStepMa', ohm: 'ohmStep' }[prefix];
  return (
    <>
      <Field
        name={step}
        label={label}
        hint="Several ranges: 1 10 100"
        error={errors[step]}
        defaultValue={listed(noted, ({ resolution }) => resolution, 1000)}
      />
      <Field
        name={`${prefix}Percent`}
        label="± % of reading"
        hint="Blank: not known"
        error={errors[`${prefix}Percent`]}
        defaultValue={listed(noted, ({ accuracyShare }) => accuracyShare, 100)}
      />
      <Field
        name={`${prefix}Counts`}
        label="± counts"
        hint="Of the last digit"
        error={errors[`${prefix}Counts`]}
        defaultValue={listed(noted, ({ accuracyCounts }) => accuracyCounts)}
      />
    </>
  );
}

/** What an instrument measures, how finely and how truly: a new one, or one to be corrected. */
export function InstrumentForm({ now }: { now?: Instrument }) {
  const { answer, pending, form } = useFormAnswer(
    now ? `correct ${now.code}` : 'instrument',
    now ? correctInstrumentAction : addInstrumentAction,
  );
  const errors: Record<string, string> = answer?.ok === false ? answer.fields : {};
  return (
    <form {...form}>
      {now && <input type="hidden" name="id" value={now.id} />}
      <div className="fields">
        <Field name="code" label="Code" hint="Typed at the bench" error={errors.code} defaultValue={now?.code} />
        <Field name="channels" label="Channels" defaultValue={now?.channels ?? 1} error={errors.channels} figures />
        <Field name="name" label="What it is" error={errors.name} defaultValue={now?.name} wide />
        <Field name="kind" label="Kind" choices={kinds} error={errors.kind} defaultValue={now?.kind} />
        <Field
          name="certified"
          label="Certified"
          choices={[
            ['no', 'no'],
            ['yes', 'yes, believe it'],
          ]}
          defaultValue={now?.certified ? 'yes' : 'no'}
        />
        <RangeFields prefix="volt" label="Voltage: step, mV" noted={now?.noted.voltage} errors={errors} />
      </div>
      <details className="mt-2" open={now && (now.noted.current ?? now.noted.resistance) !== undefined}>
        <summary>Current, resistance, leads</summary>
        <div className="fields mt-2">
          <RangeFields prefix="amp" label="Current: step, mA" noted={now?.noted.current} errors={errors} />
          <RangeFields prefix="ohm" label="Resistance: step, mΩ" noted={now?.noted.resistance} errors={errors} />
          <Field
            name="wires"
            label="Wires"
            choices={[
              ['', 'not known'],
              ['2', 'two'],
              ['4', 'four'],
            ]}
            defaultValue={now?.wires ?? ''}
          />
          <Field
            name="gauge"
            label="Leads: gauge"
            hint="American wire gauge: 18 is 0.82 mm², 22 is 0.33 mm²"
            error={errors.gauge}
            defaultValue={now?.leads?.gauge}
            figures
          />
          <Field
            name="leadM"
            label="Length, m"
            hint="One way"
            error={errors.leadM}
            defaultValue={now?.leads?.lengthM}
            figures
          />
        </div>
      </details>
      <details className="mt-2" open={now?.charging != null}>
        <summary>A charger: what it can do</summary>
        <div className="fields mt-2">
          <Field
            name="chargeA"
            label="Charges with, A"
            error={errors.chargeA}
            defaultValue={now?.charging?.maxA}
            figures
          />
          <Field name="chargeW" label="And with, W" error={errors.chargeW} defaultValue={now?.charging?.maxW} figures />
          <Field
            name="dischargeW"
            label="Discharges with, W"
            hint="0 or blank: it cannot"
            error={errors.dischargeW}
            defaultValue={now?.charging?.dischargeMaxW}
            figures
          />
          <Field
            name="chargeStepA"
            label="Current in steps of, A"
            hint="0 or blank: any"
            error={errors.chargeStepA}
            defaultValue={now?.charging?.stepA}
            figures
          />
          <Field
            name="bleedA"
            label="Balances with, A"
            hint="0 or blank: it does not"
            error={errors.bleedA}
            defaultValue={now?.charging?.bleedA}
            figures
          />
          <Field
            name="plugA"
            label="Through the balance connector, A"
            hint="Blank: it charges at the main leads"
            error={errors.plugA}
            defaultValue={now?.charging?.plugA ?? undefined}
            figures
          />
          <Field
            name="balanceChannels"
            label="Groups it balances"
            hint="Blank: not known"
            error={errors.balanceChannels}
            defaultValue={now?.charging?.balanceChannels ?? undefined}
            figures
          />
          <Field
            name="lowestPackV"
            label="Lowest pack voltage it accepts, V"
            hint="Blank: not known"
            error={errors.lowestPackV}
            defaultValue={now?.charging?.lowestPackV ?? undefined}
            figures
          />
          <Field
            name="outputs"
            label="Packs at once"
            hint="Each with these amperes and watts"
            error={errors.outputs}
            defaultValue={now?.charging?.outputs}
            figures
          />
          <Field
            name="modes"
            label="Modes"
            hint="Ends of lithium in V a cell, nickel, lead: 4.20 3.65 nickel. Blank: all"
            error={errors.modes}
            defaultValue={now?.charging?.modes?.join(' ')}
          />
        </div>
      </details>
      {now && (
        <div className="fields mt-2">
          <ByField error={errors.by} />
        </div>
      )}
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label={now ? 'Correct' : 'Put it on the bench'}
        busy="Noting …"
      />
      {answer?.ok && (
        <p className="mt-2 mb-0" role="status">
          It is on the bench.
        </p>
      )}
    </form>
  );
}
