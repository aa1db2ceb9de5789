'use client';

import { type PartialCapacity, partialCapacity } from '@/core/capacity/partial';
import { Grounds } from '@/stations/Grounds';
import { ImpossibleInput } from '@/core/impossibleInput';
import type { Voltmeter } from '@/core/judging/instrumentBook';
import { display, formatQuantity } from '@/core/quantity/format';
import { restedU } from '@/core/judging/judgePartial';
import { Budget } from '@/ui/Budget';
import { Field } from '@/ui/Field';
import { Figure } from '@/ui/Figure';
import { FormEnd } from '@/ui/FormEnd';
import { PlusMinus } from '@/ui/PlusMinus';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { impossibleText } from '@/words/impossible';
import { warningText } from '@/words/warnings';
import { useMemo, useState } from 'react';
import Button from 'react-bootstrap/Button';
import { curveFrom, type PlainCurve } from '@/core/chemistry/openCircuit';
import { filePartialAction } from './partialActions';
import { typedCharge, typedVolts } from './partialTyped';

interface PartialFormProps {
  code: string;
  series: number;
  curve: PlainCurve;
  nominalAh: number;
  /** This many cells welded together are charged as one. */
  together: number;
  /** What to set, in the trade's terms. */
  settings: string;
  meters: Voltmeter[];
  /** Logs of it that hold a charge. */
  logs: { runId: number; chargeAh: number }[];
  /** The page says already what ± means. */
  isExplained: boolean;
}

/** The rested start, the charge put in, and what comes out, as it is typed. */
export function PartialForm({
  code,
  series,
  curve,
  nominalAh,
  together,
  settings,
  meters,
  logs,
  isExplained,
}: PartialFormProps) {
  const { answer, pending, form } = useFormAnswer(`partial ${code}`, filePartialAction.bind(null, code));
  const errors = answer?.ok === false ? answer.fields : {};
  const [startText, setStart] = useState('');
  const [chargeText, setCharge] = useState('');
  const [limitText, setLimit] = useState('');
  const read = useMemo(() => curveFrom(curve), [curve]);
  const start = typedVolts(startText, series);
  const isStart = start !== null && 'volts' in start;
  const chargeAh = typedCharge(chargeText);
  const limit = Number(limitText.replace(',', '.')) / 100;
  const takeCharge = (charged: string) => {
    const input = form.ref.current?.elements.namedItem('charge');
    if (input instanceof HTMLInputElement) input.value = charged;
    setCharge(charged);
  };
  const groupText = isStart
    ? filledBy(() =>
        partialCapacity({
          curve: read,
          startVoltagesV: start.volts,
          chargeAh: (chargeAh ?? 1) / together,
          ...(limit > 0 && limit < 1 && { chargeAccuracyShare: limit }),
          voltageUncertaintyV: restedU(start.step),
        }),
      )
    : null;
  return (
    <form {...form} className="stack">
      <section className="sheet lead-ink" aria-label="At rest">
        <h2>2 · Measure it at rest</h2>
        <div className="fields">
          <Field
            name="start"
            label={series > 1 ? `Its ${series} groups, V` : 'Its voltage, V'}
            hint={series > 1 ? 'From the negative terminal, at rest' : 'At rest'}
            error={errors.start ?? (start && 'wrong' in start ? start.wrong : undefined)}
            onChange={setStart}
            figures
            wide
          />
          <Field
            name="meter"
            label="Read with"
            choices={[['', 'meter not noted'], ...meters.map(({ code: of, name }) => [of, `${of}: ${name}`] as const)]}
            wide
          />
        </div>
        {groupText && 'startSoc' in groupText && (
          <p className="mt-2 mb-0">
            It begins at <b className="num">{formatQuantity(groupText.startSoc, display.share)}</b>
            {series > 1 && `: ${eachSoc(groupText)} % from the negative terminal`}.
          </p>
        )}
        {groupText &&
          'startSoc' in groupText &&
          groupText.warnings
            .filter(({ code: of }) => of !== 'charge-accuracy-assumed')
            .map((warning) => (
              <p key={warning.code} className="ask mb-0">
                {warningText(warning)} <Grounds code={warning.code} />
              </p>
            ))}
      </section>
      <section className="sheet lead-ember" aria-label="Charged">
        <h2>3 · Charge it full, and note what went in</h2>
        <p className="mb-2">
          Set: {settings}. {series > 1 && 'With the balance connector, until every group is full.'}
        </p>
        <div className="fields">
          <Field
            name="charge"
            label="Charge put in, Ah"
            hint="As the charger says; 2291 is taken as mAh"
            error={errors.charge}
            onChange={setCharge}
            figures
          />
          <Field
            name="limitPercent"
            label="Right to, %"
            hint="What its maker promises; 2 is assumed"
            error={errors.limitPercent}
            onChange={setLimit}
            figures
          />
        </div>
        {logs.length > 0 && (
          <p className="soft mb-0 mt-1">
            Logged:{' '}
            {logs.map(({ runId, chargeAh: logged }) => (
              <Button key={runId} variant="quiet" onClick={() => takeCharge(logged.toFixed(3))}>
                take {logged.toFixed(3)} Ah of test {runId}
              </Button>
            ))}
          </p>
        )}
        {groupText && 'why' in groupText && <p className="ask mb-0 mt-2">{groupText.why}</p>}
        {groupText && 'capacityAh' in groupText && chargeAh !== null && (
          <div className="mt-2" aria-live="polite">
            <Figure quantity={groupText.capacityAh} as={display.capacity} mid />
            <p className="mb-1">
              {formatQuantity(
                { value: groupText.capacityAh.value / nominalAh, u: groupText.capacityAh.u / nominalAh },
                display.share,
              )}{' '}
              of {nominalAh} Ah{together > 1 && `, each of ${together} welded together`}
            </p>
            <Budget budget={groupText.budget} as={display.capacity} decimals={3} />
            {!isExplained && <PlusMinus />}
          </div>
        )}
        <FormEnd
          refused={answer?.ok === false ? answer.said : null}
          pending={pending}
          label="File it"
          busy="Filing …"
        />
      </section>
    </form>
  );
}

const eachSoc = ({ perCell }: PartialCapacity): string =>
  perCell.map(({ startSoc }) => Math.round(100 * startSoc.value)).join(' · ');

/** What it comes to, or why it comes to nothing. */
function filledBy(compute: () => PartialCapacity): PartialCapacity | { why: string } {
  try {
    return compute();
  } catch (error) {
    if (error instanceof ImpossibleInput) return { why: impossibleText(error) };
    throw error;
  }
}
