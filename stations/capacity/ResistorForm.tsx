'use client';

import { type ResistorPlan, resistorPlan, resistorsFor, type ToDischarge } from '@/core/capacity/resistorPlan';
import { ImpossibleInput } from '@/core/impossibleInput';
import { display, formatFigure } from '@/core/quantity/format';
import type { Quantity } from '@/core/quantity/quantity';
import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { hoursText } from '@/words/figures';
import { impossibleText } from '@/words/impossible';
import { useMemo, useState } from 'react';
import { curveFrom, type PlainCurve } from '@/core/chemistry/openCircuit';
import { beginResistorAction } from './resistorActions';

interface ResistorFormProps {
  code: string;
  series: number;
  curve: PlainCurve;
  capacityAh: Quantity;
  cutoffV: number;
}

const wants = {
  current: 'A current, A',
  hours: 'A time, h',
  ohm: 'A resistor at hand, Ω',
} as const;
type Want = keyof typeof wants;
const wantKeys = Object.keys(wants) as Want[];

const numberIn = (text: string): number => Number(text.trim().replace(',', '.'));
const ohmText = (ohm: number): string => `${Number(ohm.toPrecision(3))} Ω`;

/** The resistors for the typed current or time. A person starts a test with one of them. */
export function ResistorForm({ code, series, curve, capacityAh, cutoffV }: ResistorFormProps) {
  const { answer, pending, form } = useFormAnswer(`resistor ${code}`, beginResistorAction.bind(null, code));
  const [want, setWant] = useState<Want>('current');
  const [text, setText] = useState(String(Number((0.2 * capacityAh.value).toPrecision(2))));
  const [tolerance, setTolerance] = useState('5');
  const [chosen, setChosen] = useState<number | null>(null);
  const read = useMemo(() => curveFrom(curve), [curve]);
  const of: ToDischarge = { curve: read, series, capacityAh, cutoffV, tolerance: numberIn(tolerance) / 100 || 0.05 };
  const plans = text.trim() === '' ? [] : plansFor(of, want, numberIn(text));
  const mid = Array.isArray(plans)
    ? (plans.find((one) => one.resistanceOhm === chosen) ?? plans[plans.length >> 1])
    : undefined;
  return (
    <form {...form}>
      <div className="fields">
        <Field
          name="want"
          label="You have in mind"
          choices={wantKeys.map((key) => [key, wants[key]])}
          onChange={(key) => setWant(wantKeys.find((one) => one === key) ?? 'current')}
        />
        <Field name="figure" label={wants[want]} defaultValue={text} onChange={setText} figures />
        <Field name="tolerance" label="Its tolerance, %" defaultValue="5" onChange={setTolerance} figures />
      </div>
      {Array.isArray(plans) ? (
        <Plans plans={plans} chosen={mid?.resistanceOhm ?? null} choose={setChosen} />
      ) : (
        <p className="ask mt-2 mb-0">{plans.why}</p>
      )}
      {mid && (
        <>
          <p className="mt-2 mb-1" style={{ fontSize: '1.3rem', fontWeight: 700 }}>
            {ohmText(mid.resistanceOhm)},{' '}
            {mid.ratingW === null ? 'more heat than one resistor takes' : `${mid.ratingW} W`}: be there after{' '}
            {hoursText(mid.alarmS)}
          </p>
          <p className="mb-0">
            It ends about {hoursText(mid.durationS.value)} after it begins, give or take {hoursText(mid.durationS.u)}.{' '}
            {mid.ratingW === null && 'Share the heat among several in series or in parallel, or take a lamp.'}
          </p>
          <input type="hidden" name="alarmS" value={Math.round(mid.alarmS)} />
        </>
      )}
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label="It is on now: watch it"
        busy="Setting the watch …"
      />
    </form>
  );
}

interface PlansProps {
  plans: ResistorPlan[];
  chosen: number | null;
  choose(ohm: number): void;
}

const Plans = ({ plans, chosen, choose }: PlansProps) => (
  <div className="table-scroll" tabIndex={0}>
    <table className="table mt-2">
      <thead>
        <tr>
          <th>Resistor</th>
          <th className="num">Current, mean</th>
          <th className="num">Rate</th>
          <th className="num">Heat</th>
          <th className="num">Buy</th>
          <th className="num">Lasts</th>
        </tr>
      </thead>
      <tbody>
        {plans.map((plan) => (
          <tr key={plan.resistanceOhm}>
            <td className="num text-nowrap">
              <label className="d-flex gap-2 mb-0">
                <input
                  type="radio"
                  name="ohm"
                  value={plan.resistanceOhm}
                  checked={plan.resistanceOhm === chosen}
                  onChange={() => choose(plan.resistanceOhm)}
                />
                {ohmText(plan.resistanceOhm)}
              </label>
            </td>
            <td className="num">{formatFigure(plan.meanA, display.current)}</td>
            <td className="num">{formatFigure(plan.rateC, display.cRate)}</td>
            <td className="num">{formatFigure(plan.startW, display.power)}</td>
            <td className="num">{plan.ratingW === null ? '–' : `${plan.ratingW} W`}</td>
            <td className="num">{hoursText(plan.durationS.value)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  </div>
);

/** The plans for what is wanted, or why there are none. */
function plansFor(of: ToDischarge, want: Want, figure: number): ResistorPlan[] | { why: string } {
  if (!Number.isFinite(figure)) return { why: 'That is no figure.' };
  if (figure <= 0) return { why: want === 'ohm' ? '0 Ω is a short circuit: never.' : 'Enter a number above zero.' };
  try {
    if (want === 'ohm') return [resistorPlan(of, figure)];
    return resistorsFor(of, want === 'hours' ? { hours: figure } : { currentA: figure });
  } catch (error) {
    if (error instanceof ImpossibleInput) return { why: impossibleText(error) };
    throw error;
  }
}
