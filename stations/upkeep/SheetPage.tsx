import type { RuleKey } from '@/core/chemistry/houseRules';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { type ChargerSheet, sheetGoals, type SheetInput, type SheetRefusal, type Wanted } from '@/core/planning/sheet';
import { display, formatFigure } from '@/core/quantity/format';
import { numberIn } from '@/core/quantity/strict';
import type { KnownSource } from '@/core/state/known';
import type { SubjectState } from '@/core/state/subjectState';
import { Grounds } from '@/stations/Grounds';
import { RuleLink } from '@/stations/RuleLink';
import { Link } from '@/ui/Link';
import { PrintButton } from '@/ui/PrintButton';
import { addressOf } from '@/ui/tokens';
import {
  afterText,
  currentLimitText,
  goalTexts,
  lookTexts,
  modeText,
  sheetCautions,
  sheetRefusalText,
  sheetStepText,
  stateIdentity,
} from '@/words/chargerSheets';
import { hoursText, setV } from '@/words/figures';
import { chargersHere } from '@/workshop/chargers';
import { subjectNamed } from '@/workshop/judged';
import { inBackground } from '@/workshop/pool';
import { stateMeasured, stateNow } from '@/workshop/states';
import { notFound } from 'next/navigation';
import type { ReactNode } from 'react';
import { GoBar } from '../frame/GoBar';
import { SheetForm } from './SheetForm';
import { typedVolts } from './typedVolts';

const limitMs = 10_000;

type Query = Record<string, string | undefined>;

/** Every setting of a charger for a cell or a pack, to be laid beside the charger; or why there is none. */
export async function SheetPage({ code, query }: { code: string; query: Query }) {
  const { subject, workshop } = await subjectNamed(code);
  if (!subject) notFound();
  const offered = chargersHere(workshop);
  const charger = offered.find((one) => one.code === query['charger']) ?? offered[0];
  const goal = sheetGoals.find((one) => one === query['goal']) ?? 'charge';
  const request = {
    goal,
    charger: charger.code,
    volts: query['volts'] ?? '',
    loadOhm: query['loadOhm'] ?? '',
    wantedA: query['wantedA'] ?? '',
    wantedV: query['wantedV'] ?? '',
    wantedAh: query['wantedAh'] ?? '',
    isCounted: query['counted'] === '1',
    isLabelRead: query['label'] === '1',
  };
  const now = stateNow(subject, workshop);
  const read = typedVolts(request.volts, now.series);
  const isAsked = query['goal'] !== undefined;
  const figures = figuresOf(request);
  const errors: Record<string, string> = {
    ...(isAsked && 'error' in read && { volts: read.error }),
    ...figures.errors,
  };
  const unready = whyUnready(subject, isAsked, request.isLabelRead, errors);
  const found =
    unready === null && !('error' in read)
      ? await sheetFor({ ...figures, subject, read, asked: request, charger: charger.limits, workshop })
      : null;
  const question = (
    <section className="sheet no-print" aria-label="What is asked">
      <h2>Before the start</h2>
      <p>A pack with fewer cells or a lower voltage than the charger is set for catches fire. Measure it now.</p>
      {subject.chemistry !== 'alkaline' && (
        <SheetForm code={subject.code} series={now.series} chargers={offered} asked={request} errors={errors} />
      )}
    </section>
  );
  const answer = (
    <section className="sheet" aria-label="Sheet">
      {unready && <p className={isAsked ? 'hot mb-0' : 'soft mb-0'}>{unready}</p>}
      {found?.refusal && <Refused code={subject.code} refusal={found.refusal} />}
      {found?.sheet && <Sheet state={found.state} sheet={found.sheet} charger={charger.code} />}
    </section>
  );
  return (
    <>
      <div className="head">
        <h1>
          <Link href={addressOf(subject.code)}>{subject.code}</Link> · charger sheet
        </h1>
        <span className="soft">
          {stateIdentity(now)}
          {' · '}
          {capacityText(now)}
        </span>
      </div>
      <div className="cols">
        {found ? (
          <>
            {answer}
            {question}
          </>
        ) : (
          <>
            {question}
            {answer}
          </>
        )}
      </div>
      <GoBar placeholder="PF1 opens a pack" />
    </>
  );
}

interface Asking {
  subject: JudgedSubject;
  workshop: Parameters<typeof stateMeasured>[1];
  read: Parameters<typeof stateMeasured>[2];
  asked: Pick<SheetInput, 'goal'> & { isCounted: boolean; isLabelRead: boolean };
  charger: SheetInput['charger'];
  wanted: Wanted;
  loadOhm: number | null;
}

/** The sheet by the state, with what a meter shows now. */
async function sheetFor({ subject, workshop, read, asked: request, charger, wanted, loadOhm }: Asking) {
  const { state, groupsV } = stateMeasured(subject, workshop, read);
  const { goal, isCounted, isLabelRead } = request;
  const measured = { measuredV: read.measuredV, groupsV, isCounted, isLabelRead };
  const rules = workshop.rules.limits;
  const sheeted = await inBackground(
    'sheet',
    { state, measured, charger, goal, wanted, rules, loadOhm },
    { crew: 'own', limitMs },
  );
  return { ...sheeted, state };
}

/** What a person wants, as typed. */
function figuresOf(request: { loadOhm: string; wantedA: string; wantedV: string; wantedAh: string }): {
  wanted: Wanted;
  loadOhm: number | null;
  errors: Record<string, string>;
} {
  const errors: Record<string, string> = {};
  const figure = (name: keyof typeof request, most: number, error: string): number | null => {
    const text = request[name].trim();
    if (text === '') return null;
    const value = numberIn(text);
    if (value !== null && value > 0 && value < most) return value;
    errors[name] = error;
    return null;
  };
  const loadOhm = figure('loadOhm', 1e6, 'Ohms, such as 4.7.');
  const wanted = {
    currentA: figure('wantedA', 1e4, 'Amperes, such as 1.2.'),
    cutoffPerGroupV: figure('wantedV', 10, 'Volts a cell, such as 3.7.'),
    untilChargeAh: figure('wantedAh', 1e5, 'Ampere hours, such as 1.5.'),
  };
  return { wanted, loadOhm, errors };
}

const sourceTexts: Record<KnownSource, string> = {
  measured: 'measured',
  reported: 'noted',
  estimated: 'by a partial charge',
  rated: 'by its label, not measured',
  usual: 'usual for its size',
};

/** What the weakest group holds, and how that is known. */
function capacityText({ groups }: SubjectState): string {
  const least = groups.reduce((one, other) => (other.capacity.value < one.capacity.value ? other : one));
  return `${formatFigure(least.capacity.value, display.capacity, 2)} ${sourceTexts[least.capacity.source]}`;
}

function Refused({ code, refusal }: { code: string; refusal: SheetRefusal }) {
  return (
    <div role="alert">
      <p className="headline hot">◆ No sheet</p>
      <p style={{ fontSize: '1.15rem' }}>{sheetRefusalText(refusal)}</p>
      {refusal.code === 'below-floor' && <Link href={`/rescue/${code}`}>Start the attended rescue</Link>}{' '}
      {refusal.code === 'balance-first' && (
        <>
          <Link href={`/upkeep/${code}?goal=balance`}>Balance it with a charger</Link>
          {', or '}
          <Link href={`${addressOf(code)}#remedies`}>compare the ways to balance it</Link>{' '}
        </>
      )}
      {refusal.code === 'measure-first' && <Link href={`${addressOf(code)}#bar`}>Measure its groups</Link>}{' '}
      <Grounds rule={'rule' in refusal ? refusal.rule : null} code={refusal.code} />
    </div>
  );
}

function whyUnready(
  subject: JudgedSubject,
  isAsked: boolean,
  isLabelRead: boolean,
  errors: Record<string, string>,
): string | null {
  if (subject.intake.class === 'out') return sheetRefusalText({ code: 'scrapped' });
  if (isPack(subject) && subject.apart) return sheetRefusalText({ code: 'apart' });
  if (subject.chemistry === 'alkaline') return sheetRefusalText({ code: 'primary-cell' });
  if (!isAsked) return 'Choose a goal and enter what your meter shows. The settings appear here.';
  if (Object.keys(errors).length > 0) return 'Correct the fields first.';
  return isLabelRead ? null : 'Read the chemistry on the label or the cells first, and tick the box.';
}

interface SheetProps {
  state: SubjectState;
  sheet: ChargerSheet;
  charger: string;
}

function Sheet({ state, sheet, charger }: SheetProps) {
  const { chargeA, dischargeA, main, gentle } = sheet;
  const rate =
    (sheet.limitedBy === 'house' || sheet.limitedBy === 'weakest-group') && sheet.rateRule ? (
      <RuleLink rule={sheet.rateRule} />
    ) : null;
  return (
    <>
      <div className="d-flex justify-content-between flex-wrap gap-2">
        <h2>
          {state.code}: {goalTexts[sheet.goal]}, with {charger}
        </h2>
        <span className="no-print">
          <PrintButton />
        </span>
      </div>
      <p className="mb-3" style={{ fontSize: '1.15rem', fontWeight: 700 }}>
        {modeText(state, sheet)}
      </p>
      <dl className="settings">
        <Setting name="In series" value={String(sheet.series)} note={stateIdentity(state)} />
        {gentle && (
          <Setting
            name={`Charge up to ${setV(gentle.untilV)}`}
            value={formatFigure(gentle.currentA, display.current, 2)}
            note={currentLimitText('gentle-start')}
            rule={<RuleLink rule="gentleChargeC" />}
          />
        )}
        {chargeA !== null && (
          <Setting
            name={gentle ? 'Then charge' : 'Charge'}
            value={formatFigure(chargeA, display.current, 2)}
            note={main === 'charge' && !gentle ? currentLimitText(sheet.limitedBy) : null}
            rule={main === 'charge' ? rate : null}
          />
        )}
        <Setting name={main === 'charge' ? 'Ends at' : 'Down to'} value={setV(sheet.endV)} rule={endRule(sheet)} />
        {dischargeA !== null && (
          <Setting
            name="Discharge"
            value={formatFigure(dischargeA, display.current, 2)}
            note={main === 'discharge' ? currentLimitText(sheet.limitedBy) : null}
            rule={main === 'discharge' ? rate : <RuleLink rule="testDischargeC" />}
          />
        )}
        {main === 'charge' && sheet.dischargeEndV !== null && (
          <Setting
            name="Discharge ends at"
            value={setV(sheet.dischargeEndV)}
            rule={sheet.dischargeRule && <RuleLink rule={sheet.dischargeRule} />}
          />
        )}
        <Setting name="Timer" value={`${sheet.timerMin} min`} />
        <Setting name="At most in or out" value={formatFigure(sheet.capacityLimitAh, display.capacity, 2)} />
        <Setting name="Off at" value={`${sheet.temperatureLimitC} °C`} />
        {sheet.restMin !== null && <Setting name="Rest between" value={`${sheet.restMin} min`} />}
        {sheet.chargerLowestV !== null && <Setting name="Charger recognises from" value={setV(sheet.chargerLowestV)} />}
        {sheet.cycles !== null && <Setting name="Cycles" value={String(sheet.cycles)} />}
      </dl>
      <ol className="ps-3">
        {sheet.steps.map((step, i) => (
          <li key={i}>{sheetStepText(step)}</li>
        ))}
      </ol>
      <p>
        <b>{hoursText(sheet.expectedMin * 60)}</b> in all (± {hoursText(sheet.expectedU * 60)}),{' '}
        {hoursText(sheet.attendedMin * 60)} of it attended.
        {sheet.balancing &&
          ` A quick balancing ends after ${hoursText(sheet.balancing.quickMin * 60)}, a slow and even one after ` +
            `${hoursText(sheet.balancing.slowMin * 60)}.`}
        {sheet.load &&
          ` On the separate load of ${sheet.load.ohm} Ω it takes ${hoursText(sheet.load.minutes * 60)}: it burns ` +
            `${sheet.load.watts.toFixed(0)} W and has no shut-off.`}
      </p>
      <h2>When it is right</h2>
      <ul className="ps-3">
        {lookTexts(state, sheet).map((one) => (
          <li key={one}>{one}</li>
        ))}
      </ul>
      <p>
        <b>After:</b> {afterText(state.chemistry, sheet.goal)}
      </p>
      <ul className="ask ps-4 mb-0">
        {sheetCautions(state, sheet).map((one) => (
          <li key={one}>{one}</li>
        ))}
      </ul>
    </>
  );
}

const endRule = ({ main, dischargeRule }: ChargerSheet): ReactNode =>
  main === 'discharge' && dischargeRule ? <RuleLink rule={dischargeRule satisfies RuleKey} /> : null;

interface SettingProps {
  name: string;
  value: string;
  note?: string | null;
  rule?: ReactNode;
}

const Setting = ({ name, value, note = null, rule = null }: SettingProps) => (
  <div>
    <dt>{name}</dt>
    <dd>{value}</dd>
    {(note ?? rule) && (
      <dd>
        {note} {rule}
      </dd>
    )}
  </div>
);
