'use client';

import { methodKeys, methods } from '@/core/resistance/methods';
import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { addProtocolAction } from './actions';

/** Method, windows and times of a protocol. */
export function ProtocolForm() {
  const { answer, pending, form } = useFormAnswer('protocol', addProtocolAction);
  const fields: Record<string, string> = answer?.ok === false ? answer.fields : {};
  return (
    <form {...form}>
      <div className="fields">
        <Field name="name" label="Name" error={fields.name} wide />
        <Field name="school" label="Why so" hint="Which school, which reason" error={fields.school} wide />
        <Field name="method" label="Method" choices={methodKeys.map((key) => [key, methods[key].name])} wide />
        <Field name="chargeFrom" label="Charge from, %" hint="Empty for any" error={fields.chargeFrom} figures />
        <Field name="chargeTo" label="to, %" error={fields.chargeTo} figures />
        <Field name="coldestC" label="Coldest, °C" hint="Empty for any" error={fields.coldestC} figures />
        <Field name="warmestC" label="Warmest, °C" error={fields.warmestC} figures />
        <Field name="restMin" label="Rested, minutes" error={fields.restMin} figures />
        <Field name="rateC" label="Rate, C" hint="If it sets one" error={fields.rateC} figures />
        <Field name="holdS" label="Read after, s" defaultValue="10" error={fields.holdS} figures />
      </div>
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label="Write it down"
        busy="Writing …"
      />
    </form>
  );
}
