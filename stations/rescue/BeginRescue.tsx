'use client';

import { findingsOn, inspectionFindings } from '@/core/grading/intake';
import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { findingName } from '@/words/intake';
import { rescueChecklist } from '@/words/rescue';
import Form from 'react-bootstrap/Form';
import { beginRescueAction } from './actions';

interface BeginRescueProps {
  code: string;
  series: number;
  kind: 'cell' | 'pack';
  /** By the house rules. */
  mostA: number;
  everyMin: number;
  /** Where it is handed over. */
  floorV: number;
  /** Its own limits and their reason, as fields; none where it keeps to the house rules. */
  own: readonly (readonly [name: string, value: string])[];
}

/** What is looked at and answered before the current comes on. */
export function BeginRescue({ code, series, kind, mostA, everyMin, floorV, own }: BeginRescueProps) {
  const { answer, pending, form } = useFormAnswer(`rescue of ${code}`, beginRescueAction.bind(null, code));
  const errors = answer?.ok === false ? answer.fields : {};
  return (
    <form {...form} className="sheet lead-ember" aria-label={`Start rescue of ${code}`} noValidate>
      <p style={{ fontSize: '1.3rem', fontWeight: 700 }}>Before you switch on</p>
      <div className="cols">
        <fieldset>
          <legend>What you find on it now</legend>
          {findingsOn(kind)
            .filter((finding) => inspectionFindings[finding].safety)
            .map((finding) => (
              <Form.Check
                key={finding}
                id={`found-${finding}`}
                name={`found ${finding}`}
                label={findingName[finding]}
              />
            ))}
          <Form.Check
            id="looked"
            name="looked"
            className="mt-2"
            label="Inspected just now by eye, hand and nose: only what is ticked"
          />
        </fieldset>
        <fieldset>
          <legend>Where and how</legend>
          {rescueChecklist.map((text, i) => (
            <Form.Check key={text} id={`check-${i}`} name={`check ${i}`} label={text} />
          ))}
          <p className="ask mt-2 mb-0">
            The charger is forced and does not see the groups: a direct charge, or its mode for nickel, at that current.
            A mistake in polarity or count burns. If you have not done this before, do not.
          </p>
        </fieldset>
      </div>
      {own.map(([name, value]) => (
        <input key={name} type="hidden" name={name} value={value} />
      ))}
      <div className="fields mt-3">
        <Field
          name="reading"
          label={series === 1 ? 'Its voltage now' : `Its ${series} groups now, from the negative terminal`}
          hint="With 21C the temperature of its skin, if you can"
          error={errors['reading']}
          figures
          wide
        />
        <Field
          name="currentA"
          label="Current, A"
          hint={`At most ${mostA.toFixed(2)} A by ${own.length > 0 ? 'its own limits' : 'the house rules'}`}
          error={errors['currentA']}
          defaultValue={mostA.toFixed(2)}
          figures
        />
        <Field
          name="belowSince"
          label="Below 2 V since"
          hint="Only where a group is: the day, such as 2026-03-31"
          error={errors['belowSince']}
        />
      </div>
      <p className="soft mt-3 mb-0">
        Measure every group every {everyMin} minutes until all are at {floorV.toFixed(1)} V. A reading missed, a group
        that parts from the others, or warmth stops it. It counts as one rescue whatever comes of it.
      </p>
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label="Current is on"
        busy="Noting …"
      />
    </form>
  );
}
