'use client';

import type { PackNeed } from '@/core/judging/candidates';
import type { KnownCell, Prediction as Forecast, PredictInput } from '@/core/simulation/predictRun';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import type { Quantity } from '@/core/quantity/quantity';
import { Grounds } from '@/stations/Grounds';
import { GroupCourses } from '@/stations/subject/GroupCourses';
import { Field } from '@/ui/Field';
import { Figure } from '@/ui/Figure';
import { Progress } from '@/ui/Progress';
import { percentText } from '@/words/figures';
import { warningText } from '@/words/warnings';
import type { Predicted, Predictor } from '@/workers/predict.worker';
import { proxy, wrap } from 'comlink';
import { type FormEvent, useEffect, useState } from 'react';
import Button from 'react-bootstrap/Button';
import type { Usual } from './PackBoard';

interface PredictionProps {
  need: Pick<PackNeed, 'load' | 'lowestV' | 'minutes'>;
  usual: Usual;
  groups: readonly (readonly string[])[];
  known(code: string): KnownCell | undefined;
}

/** Steady: a profile is for programs. */
type Load = Exclude<PredictInput['load'], { profile: unknown }>;
const amountOf = (load: Load): number => ('currentA' in load ? load.currentA : load.powerW);

interface Carried {
  load: Load;
  cutoffPerGroupV: number;
  peakA: number;
}

/** How the pack will carry its load, simulated cell by cell in a worker. */
export function Prediction({ need, usual, groups, known }: PredictionProps) {
  const cells = groups.map((codes) => codes.flatMap((code) => known(code) ?? []));
  const parallel = cells[0]?.length ?? 1;
  const halfC = Number(((parallel * (cells[0]?.[0]?.capacity.value ?? 2)) / 2).toPrecision(2));
  const [wanted, setWanted] = useState<Carried>({
    load: need.load ?? { currentA: halfC },
    cutoffPerGroupV: need.lowestV ?? usual.lowestV,
    peakA: need.load && 'currentA' in need.load ? need.load.currentA : halfC,
  });
  const [shown, setShown] = useState<{ of: string; share: number } | { of: string; predicted: Predicted } | null>(null);
  const of = JSON.stringify([groups, wanted]);

  useEffect(() => {
    const running = new Worker(new URL('../../workers/predict.worker.ts', import.meta.url), { type: 'module' });
    const onProgress = proxy((fraction: number) =>
      setShown((now) => (now && now.of === of && 'predicted' in now ? now : { of, share: fraction })),
    );
    const { load, cutoffPerGroupV } = wanted;
    void wrap<Predictor>(running)
      .predict({ chemistry: usual.chemistry, curve: usual.curve, groups: cells, load, cutoffPerGroupV }, onProgress)
      .then((predicted) => {
        setShown({ of, predicted });
        running.terminate();
      });
    return () => running.terminate();
    // What it is of says all that it depends on.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [of]);

  const submit = (event: FormEvent<HTMLFormElement>): void => {
    event.preventDefault();
    const given = new FormData(event.currentTarget);
    const figure = (name: string): number => Number(String(given.get(name) ?? '').replace(',', '.'));
    const [amount, cutoffPerGroupV, peakA] = [figure('load'), figure('lowestV'), figure('peakA')];
    if (![amount, cutoffPerGroupV, peakA].every((value) => value > 0)) return;
    setWanted({ load: given.get('unit') === 'W' ? { powerW: amount } : { currentA: amount }, cutoffPerGroupV, peakA });
  };
  const predicted = shown && 'predicted' in shown ? shown.predicted : null;
  return (
    <section className="sheet mb-3" aria-label="What it will do">
      <h2>What it will do</h2>
      <form onSubmit={submit} aria-label="Under a load" className="mb-3">
        <div className="fields">
          <Field name="load" label="Load" defaultValue={amountOf(wanted.load)} figures />
          <Field
            name="unit"
            label="In"
            choices={[
              ['A', 'amperes'],
              ['W', 'watts'],
            ]}
            defaultValue={'powerW' in wanted.load ? 'W' : 'A'}
          />
          <Field name="lowestV" label="Never below, V a group" defaultValue={wanted.cutoffPerGroupV} figures />
          <Field name="peakA" label="Peak, A" defaultValue={wanted.peakA} figures />
        </div>
        <Button type="submit" variant="quiet" className="mt-2">
          Forecast
        </Button>
      </form>
      {shown && 'share' in shown && <Progress share={shown.share} label="Simulated so far" />}
      {predicted?.ok === false && (
        <p className="hot" role="alert">
          ◆ {predicted.said}
        </p>
      )}
      {predicted?.ok && (
        <ForecastFigures told={predicted.prediction} codes={groups} peakA={wanted.peakA} minutes={need.minutes} />
      )}
    </section>
  );
}

interface ForecastFiguresProps {
  told: Forecast;
  codes: readonly (readonly string[])[];
  peakA: number;
  minutes: number | null;
}

function ForecastFigures({ told: { run, runTimeS, sagOhm, warnings }, codes, peakA, minutes }: ForecastFiguresProps) {
  const inMinutes: Quantity = { value: runTimeS.value / 60, u: runTimeS.u / 60 };
  const hottest = codes[run.hottest.group - 1]?.[run.hottest.cell - 1] ?? '';
  return (
    <>
      <div className="cols">
        <div>
          <Figure quantity={inMinutes} as={minutesShown} mid />
          <p>
            until group {run.limitingGroup} is at its lowest{minutes !== null && `: ${enoughText(inMinutes, minutes)}`}.
          </p>
          <dl className="settings mb-0">
            <Line name="Delivered" value={deliveredText(run)} />
            <Line
              name="Of what its cells would give each alone"
              value={percentText(run.cellsAloneWh > 0 ? run.deliveredWh / run.cellsAloneWh : 0)}
            />
            <Line name="Stranded in the other groups" value={formatFigure(run.strandedAh, display.capacity, 2)} />
            <Line
              name={`Sag at ${formatFigure(peakA, display.current, 1)}`}
              value={formatQuantity({ value: peakA * sagOhm.value, u: peakA * sagOhm.u }, display.voltage)}
            />
            <Line name="Shared within a group, at the start" value={sharedText(run.currentShare.start)} />
            <Line name="Shared within a group, at the end" value={sharedText(run.currentShare.end)} />
            <Line name="Hottest" value={`${hottest}, ${run.hottest.riseAtMostK.toFixed(0)} K at most`} />
          </dl>
        </div>
        <div>
          {warnings.map((warning) => (
            <p key={warningText(warning)} className="ask">
              {warningText(warning)} <Grounds code={warning.code} />
            </p>
          ))}
        </div>
      </div>
      <GroupCourses course={run.course} hot={[run.limitingGroup]} caption="Voltages of its groups under that load" />
    </>
  );
}

const deliveredText = ({ deliveredAh, deliveredWh }: Forecast['run']): string =>
  `${formatFigure(deliveredAh, display.capacity, 2)}, ${formatFigure(deliveredWh, display.energy, 0)}`;

const minutesShown = { unit: 'min', factor: 1, decimals: 0 };

const Line = ({ name, value }: { name: string; value: string }) => (
  <div>
    <dt>{name}</dt>
    <dd style={{ fontSize: '1.1rem' }}>{value}</dd>
  </div>
);

/** From the least to the most that a cell carries, for an even share. */
function sharedText(fractions: readonly (readonly number[])[]): string {
  const times = fractions.flatMap((own) => own.map((fraction) => fraction * own.length));
  return `${Math.min(...times).toFixed(2)} to ${Math.max(...times).toFixed(2)} of an even share`;
}

function enoughText({ value, u }: Quantity, minutes: number): string {
  if (value - 2 * u > minutes) return `more than the ${minutes} min it is for`;
  return value < minutes
    ? `◆ less than the ${minutes} min it is for`
    : `about the ${minutes} min it is for, not surely more`;
}
