'use client';

import { type Remedies as Compared, type Remedy, type RemedyKind, topUpA, type Uneven } from '@/core/packs/remedies';
import { display, formatFigure } from '@/core/quantity/format';
import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { Progress } from '@/ui/Progress';
import { useFormAnswer, useKeptForm } from '@/ui/useFormAnswer';
import { millivolts, percentText, volts } from '@/words/figures';
import {
  impossibleText,
  remedyCautions,
  remedyHours,
  remedySteps,
  remedyText,
  setupOf,
  whyRecommended,
} from '@/words/remedies';
import type { Comparer } from '@/workers/remedies.worker';
import { proxy, wrap } from 'comlink';
import { HandbookLink } from '../Grounds';
import { type FormEvent, useEffect, useRef, useState } from 'react';
import Button from 'react-bootstrap/Button';
import { beginRemedyAction } from '../clinic/remedyActions';
import { GroupCourses } from './GroupCourses';

type Settings = Pick<Uneven, 'charger' | 'topUpCurrentA' | 'drainCurrentA'>;

interface RemediesProps {
  code: string;
  pack: Omit<Uneven, keyof Settings>;
  usual: Settings;
}

/** What is being calculated, or was last; with its settings. */
type Shown = { settings: Settings } & ({ share: number } | { compared: Compared } | { refused: string });

/** Ways to balance a pack, computed in a worker for what is on the bench. */
export function Remedies({ code, pack, usual }: RemediesProps) {
  const [shown, setShown] = useState<Shown>({ settings: usual, share: 0 });
  const [chosen, setChosen] = useState<RemedyKind | null>(null);
  const worker = useRef<Worker | null>(null);
  const { kept } = useKeptForm(`charger for ${code}`);

  const compare = (settings: Settings): void => {
    worker.current?.terminate();
    const running = new Worker(new URL('../../workers/remedies.worker.ts', import.meta.url), { type: 'module' });
    worker.current = running;
    // The progress comes by another way than the answer, and may come after it.
    const onProgress = proxy((fraction: number) =>
      setShown((now) => ('share' in now && now.settings === settings ? { settings, share: fraction } : now)),
    );
    void wrap<Comparer>(running)
      .compare({ ...pack, ...settings }, onProgress)
      .then((compared) => {
        setShown({ settings, compared });
        setChosen(compared.recommended);
        running.terminate();
      });
  };
  useEffect(() => {
    compare(usual);
    return () => worker.current?.terminate();
    // The section is made again for another reading of the pack.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);

  const submit = (event: FormEvent<HTMLFormElement>): void => {
    event.preventDefault();
    const typed = settingsTyped(new FormData(event.currentTarget));
    setShown({
      settings: typed ?? shown.settings,
      ...(typed ? { share: 0 } : { refused: 'Currents in A and the timer in minutes, above zero each.' }),
    });
    if (typed) compare(typed);
  };
  const { charger, topUpCurrentA, drainCurrentA } = usual;
  return (
    <>
      {'share' in shown && (
        <div role="status" className="mb-3">
          <Progress share={shown.share} label="Computed so far" />
          <span className="soft">Simulating each way second by second …</span>
        </div>
      )}
      {'refused' in shown && (
        <p className="hot" role="alert">
          ◆ {shown.refused}
        </p>
      )}
      {'compared' in shown && (
        <Found
          key={JSON.stringify(shown.settings)}
          code={code}
          pack={{ ...pack, ...shown.settings }}
          compared={shown.compared}
          chosen={chosen}
          choose={setChosen}
        />
      )}
      <details className="mt-3">
        <summary>With another charger</summary>
        <form {...kept} onSubmit={submit} noValidate aria-label="Charger">
          <div className="fields">
            <Field name="chargeA" label="Charges with, A" defaultValue={charger.currentA} figures />
            <Field
              name="bleedA"
              label="Balances with, A"
              hint="0 where it does not"
              defaultValue={charger.bleedA}
              figures
            />
            <Field name="bleedFromV" label="Balances from, V" defaultValue={charger.bleedFromV.toFixed(2)} figures />
            <Field
              name="overshootMv"
              label="Lets a group rise above full by, mV"
              defaultValue={charger.overshootV * 1000}
              figures
            />
            <Field
              name="timerMin"
              label="Its timer, minutes"
              hint="Empty: it has none"
              defaultValue={charger.timerS === null ? '' : charger.timerS / 60}
              figures
            />
            <Field name="topUpA" label="One group topped up with, A" defaultValue={topUpCurrentA} figures />
            <Field name="drainA" label="Groups drained with, A" defaultValue={drainCurrentA} figures />
          </div>
          <Button type="submit" variant="plain" className="mt-2">
            Compare again
          </Button>
        </form>
      </details>
    </>
  );
}

/** As typed; null where a figure is none. */
function settingsTyped(form: FormData): Settings | null {
  const figure = (name: string): number =>
    Number(
      String(form.get(name) ?? '')
        .trim()
        .replace(',', '.') || NaN,
    );
  const timer = String(form.get('timerMin') ?? '').trim();
  const timerS = timer === '' ? null : figure('timerMin') * 60;
  const settings: Settings = {
    charger: {
      currentA: figure('chargeA'),
      bleedA: figure('bleedA'),
      bleedFromV: figure('bleedFromV'),
      overshootV: figure('overshootMv') / 1000,
      timerS,
    },
    topUpCurrentA: figure('topUpA'),
    drainCurrentA: figure('drainA'),
  };
  const above = [
    settings.charger.currentA,
    settings.charger.bleedFromV,
    settings.topUpCurrentA,
    settings.drainCurrentA,
    timerS ?? 1,
  ];
  return above.every((value) => value > 0 && value < 1e5) &&
    settings.charger.bleedA >= 0 &&
    settings.charger.overshootV >= 0
    ? settings
    : null;
}

interface FoundProps {
  code: string;
  pack: Uneven;
  compared: Compared;
  chosen: RemedyKind | null;
  choose(kind: RemedyKind): void;
}

function Found({ code, pack, compared, chosen, choose }: FoundProps) {
  const remedies = compared.remedies.toSorted(
    (one, other) => Number(other.kind === compared.recommended) - Number(one.kind === compared.recommended),
  );
  const remedy = remedies.find(({ kind }) => kind === chosen) ?? remedies[0];
  return (
    <>
      <p style={{ fontSize: '1.3rem', fontWeight: 700, lineHeight: 1.2 }} className="mb-1">
        {compared.recommended ? remedyText(compared.recommended) : 'None of these works'}
      </p>
      <p className="mb-2">
        {whyRecommended(compared)} <HandbookLink page="balancing">how the ways are compared</HandbookLink>
      </p>
      <div className="table-scroll" tabIndex={0}>
        <table className="table">
          <thead>
            <tr>
              <th>Way</th>
              <th className="num">Takes</th>
              <th className="num">Someone there</th>
              <th className="num">Charge moved</th>
              <th className="num">Highest group</th>
              <th className="num">Lowest group</th>
              <th className="num">Timer first</th>
              <th className="num">Leaves</th>
            </tr>
          </thead>
          <tbody>
            {remedies.map((one) => (
              <tr key={one.kind}>
                <th scope="row">
                  <Button variant="quiet" aria-pressed={one === remedy} onClick={() => choose(one.kind)}>
                    {one === remedy ? '● ' : '○ '}
                    {remedyText(one.kind)}
                  </Button>
                  {one.impossible && <div className="hot fw-normal">◆ {impossibleText(one.impossible)}</div>}
                </th>
                <td className="num">{remedyHours(one)}</td>
                <td className="num">{remedyHours({ hours: one.attendedHours })}</td>
                <td className="num">{formatFigure(one.movedAh, display.capacity, 2)}</td>
                <td className="num">{volts(one.highestV)}</td>
                <td className="num">{volts(one.lowestV)}</td>
                <td className="num">
                  {one.kind === 'bleed' && pack.charger.timerS !== null ? percentText(one.timerChance) : '–'}
                </td>
                <td className="num">{millivolts(one.leftV)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {remedy && <Chosen code={code} pack={pack} remedy={remedy} />}
    </>
  );
}

function Chosen({ code, pack, remedy }: { code: string; pack: Uneven; remedy: Remedy }) {
  const { answer, pending, form } = useFormAnswer(`remedy of ${code}`, beginRemedyAction.bind(null, code));
  const { charger } = pack;
  const fields = {
    way: remedy.kind,
    hours: remedy.hours ?? '',
    spreadV: remedy.leftV,
    chargeA: charger.currentA,
    bleedA: charger.bleedA,
    timerS: charger.timerS ?? '',
    topUpA: topUpA(pack, setupOf(pack).capacityAh),
    drainA: pack.drainCurrentA,
    movePositions: remedy.moves.map(({ position }) => position).join(' '),
    moveAh: remedy.moves.map(({ chargeAh }) => chargeAh).join(' '),
    moveStopV: remedy.moves.map(({ stopV }) => stopV).join(' '),
    packV: remedy.packV,
    connector: pack.connector,
  };
  const medianSoc = pack.groups.map(({ soc }) => soc.value).toSorted((a, b) => a - b)[pack.groups.length >> 1] ?? 0;
  return (
    <div className="cols mt-2">
      <GroupCourses
        course={remedy.course}
        hot={pack.groups.flatMap(({ soc }, i) => (soc.value < medianSoc - 0.05 ? i + 1 : []))}
        caption={`${remedyText(remedy.kind)}: voltages of all groups`}
      />
      <div>
        <ol className="ps-3">
          {remedySteps(remedy, setupOf(pack)).map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ol>
        <ul className="ask ps-4">
          {remedyCautions(remedy, pack).map((caution) => (
            <li key={caution}>{caution}</li>
          ))}
        </ul>
        {remedy.hours !== null && remedy.hours > 0 && remedy.impossible === null && (
          <form {...form} aria-label="Start it">
            {Object.entries(fields).map(([name, value]) => (
              <input key={name} type="hidden" name={name} value={value} />
            ))}
            <FormEnd
              refused={answer?.ok === false ? answer.said : null}
              pending={pending}
              label="Start"
              busy="Starting …"
            />
          </form>
        )}
      </div>
    </div>
  );
}
