'use client';

import { type HouseRules, ruleBook, ruleShown } from '@/core/chemistry/houseRules';
import { type OwnLimits, rescueRules, withOwnLimits } from '@/core/judging/rescue';
import { Field } from '@/ui/Field';
import { shownUnit } from '@/words/houseRules';
import Form from 'next/form';
import Button from 'react-bootstrap/Button';

interface OwnLimitsFormProps {
  code: string;
  house: HouseRules;
  own: OwnLimits | null;
  refused: string | null;
}

/** Limits for one rescue alone. A plain form: the limits stay in the address until the rescue starts with them. */
export function OwnLimitsForm({ code, house, own, refused }: OwnLimitsFormProps) {
  const shown = withOwnLimits(house, own);
  return (
    <section className="sheet mt-3" aria-label="Limits for this rescue">
      {refused && (
        <p className="hot mb-2" role="alert">
          ◆ {refused}
        </p>
      )}
      <details open={refused !== null}>
        <summary>Use other limits for this rescue alone</summary>
        <p className="soft mt-2">
          The house rules stay as they are. The limits and the reason are kept with the rescue. Only loosen a limit that
          you can answer for: below its floor a cell can catch fire.
        </p>
        <Form action={`/rescue/${code}`}>
          <div className="fields">
            {rescueRules.map((key) => (
              <Field
                key={key}
                name={key}
                label={`${ruleBook[key].title}${unitText(key)}`}
                hint={`House: ${ruleShown(key, house[key])}`}
                defaultValue={ruleShown(key, shown[key])}
                figures
              />
            ))}
            <Field name="reason" label="Reason" defaultValue={own?.reason ?? ''} wide />
          </div>
          <Button type="submit" variant="plain" className="mt-3">
            Use these limits
          </Button>
        </Form>
      </details>
    </section>
  );
}

function unitText(key: keyof HouseRules): string {
  const { unit } = ruleBook[key];
  const text = shownUnit[unit] ?? unit;
  return text === '' ? '' : `, ${text}`;
}
