import type { RuleKey } from '@/core/chemistry/houseRules';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { type ChargerLimits, type ChargerSheet, sheetGoals, type SheetPack } from '@/core/planning/chargerSheet';
import { display, formatFigure } from '@/core/quantity/format';
import { Grounds } from '@/stations/Grounds';
import { RuleLink } from '@/stations/RuleLink';
import { Link } from '@/ui/Link';
import { PrintButton } from '@/ui/PrintButton';
import { addressOf } from '@/ui/tokens';
import {
  afterText,
  currentLimitText,
  goalTexts,
  identityText,
  lookTexts,
  modeText,
  setV,
  sheetCautions,
  sheetRefusalText,
  sheetStepText,
} from '@/words/chargerSheets';
import { hoursText } from '@/words/figures';
import { subjectNamed } from '@/workshop/judged';
import { inBackground } from '@/workshop/pool';
import { notFound } from 'next/navigation';
import type { ReactNode } from 'react';
import { GoBar } from '../frame/GoBar';
import { SheetForm } from './SheetForm';
import { typedVolts } from './typedVolts';

const limitMs = 10_000;
/** Where nobody noted what a charger can do: a small one of the trade. From memory. */
const plainCharger: ChargerLimits = { maxA: 5, maxW: 50, dischargeMaxW: 5, stepA: 0.1, bleedA: 0.1 };

type Query = Record<string, string | undefined>;

/** Every setting of a charger for a cell or a pack, to be laid beside the charger; or why there is none. */
export async function SheetPage({ code, query }: { code: string; query: Query }) {
  const { subject, workshop } = await subjectNamed(code);
  if (!subject) notFound();
  const known = workshop.instruments.all.flatMap(({ code: of, name, charging, archivedAt }) =>
    charging && archivedAt === null ? { code: of, name, limits: charging } : [],
  );
  const offered =
    known.length > 0 ? known : [{ code: 'small', name: 'a small one, 5 A and 50 W', limits: plainCharger }];
  const charger = offered.find((one) => one.code === query['charger']) ?? offered[0];
  const goal = sheetGoals.find((one) => one === query['goal']) ?? 'charge';
  const asked = {
    goal,
    charger: charger?.code ?? '',
    volts: query['volts'] ?? '',
    loadOhm: query['loadOhm'] ?? '',
    isCounted: query['counted'] === '1',
    isLabelRead: query['label'] === '1',
  };
  const series = isPack(subject) ? subject.series : 1;
  const read = typedVolts(asked.volts, series);
  const load = asked.loadOhm.trim() === '' ? null : Number(asked.loadOhm.replace(',', '.'));
  const isAsked = query['goal'] !== undefined;
  const errors: Record<string, string> = {
    ...(isAsked && 'error' in read && { volts: read.error }),
    ...(load !== null && !(load > 0 && load < 1e6) && { loadOhm: 'Ohms, such as 4.7.' }),
  };
  const pack = 'error' in read || subject.chemistry === 'alkaline' ? null : packOf(subject, series, read, asked);
  const unready = whyUnready(subject, isAsked, asked.isLabelRead, errors);
  const isReady = unready === null && pack !== null;
  const rules = workshop.rules.limits;
  const found =
    isReady && charger
      ? await inBackground(
          'sheet',
          { pack, charger: charger.limits, goal, rules, loadOhm: load },
          { crew: 'own', limitMs },
        )
      : null;
  const question = (
    <section className="sheet no-print" aria-label="What is asked">
      <h2>Before the start</h2>
      <p>
        A battery of fewer cells or lower voltage than is set is the classic fire. Measure it now, and read what it is.
      </p>
      {subject.chemistry !== 'alkaline' && (
        <SheetForm code={subject.code} series={series} chargers={offered} asked={asked} errors={errors} />
      )}
    </section>
  );
  const answer = (
    <section className="sheet" aria-label="Sheet">
      {unready && <p className={isAsked ? 'hot mb-0' : 'soft mb-0'}>{unready}</p>}
      {found?.refusal && (
        <div role="alert">
          <p className="headline hot">◆ Not so</p>
          <p style={{ fontSize: '1.15rem' }}>{sheetRefusalText(found.refusal)}</p>
          {found.refusal.code === 'below-floor' && <Link href={`/rescue/${subject.code}`}>The attended rescue</Link>}
          <Grounds rule={'rule' in found.refusal ? found.refusal.rule : null} code={found.refusal.code} />
        </div>
      )}
      {found?.sheet && pack && charger && (
        <Sheet code={subject.code} pack={pack} sheet={found.sheet} charger={charger.code} />
      )}
    </section>
  );
  return (
    <>
      <div className="head">
        <h1>
          <Link href={addressOf(subject.code)}>{subject.code}</Link> · charger sheet
        </h1>
        <span className="soft">
          {subject.chemistry === 'alkaline' ? 'Primary cells' : identityText({ chemistry: subject.chemistry, series })}
          {' · '}
          {formatFigure(capacityOf(subject), display.capacity, 2)}
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

const capacityOf = ({ capacity, ratedCapacityAh }: JudgedSubject): number => capacity?.value ?? ratedCapacityAh;

function packOf(
  subject: JudgedSubject,
  series: number,
  read: { measuredV: number | null; groupsV: number[] | null },
  { isCounted, isLabelRead }: { isCounted: boolean; isLabelRead: boolean },
): SheetPack | null {
  const { chemistry, rescues } = subject;
  if (chemistry === 'alkaline') return null;
  return { chemistry, series, capacityAh: capacityOf(subject), rescues, isCounted, isLabelRead, ...read };
}

function whyUnready(
  subject: JudgedSubject,
  isAsked: boolean,
  isLabelRead: boolean,
  errors: Record<string, string>,
): string | null {
  if (subject.intake.class === 'out') return 'What was found on it rules out any charge. Look at its verdict.';
  if (isPack(subject) && subject.apart) return 'It was taken apart.';
  if (subject.chemistry === 'alkaline') return 'A primary cell is never charged.';
  if (!isAsked) return 'What it is to do, and what a meter shows now: then every setting stands here.';
  if (Object.keys(errors).length > 0) return 'First what a meter shows.';
  return isLabelRead ? null : 'Read its chemistry on its label or its cells first, and say that you did.';
}

interface SheetProps {
  code: string;
  pack: SheetPack;
  sheet: ChargerSheet;
  charger: string;
}

function Sheet({ code, pack, sheet, charger }: SheetProps) {
  const { chargeA, dischargeA, main } = sheet;
  const rate = sheet.limitedBy === 'rate' && sheet.rateRule && <RuleLink rule={sheet.rateRule} />;
  return (
    <>
      <div className="d-flex justify-content-between flex-wrap gap-2">
        <h2>
          {code}: {goalTexts[sheet.goal]}, with {charger}
        </h2>
        <span className="no-print">
          <PrintButton />
        </span>
      </div>
      <p className="mb-3" style={{ fontSize: '1.15rem', fontWeight: 700 }}>
        {modeText(pack, sheet)}
      </p>
      <dl className="settings">
        <Setting name="In series" value={String(sheet.series)} note={identityText(pack)} />
        {chargeA !== null && (
          <Setting
            name="Charge"
            value={formatFigure(chargeA, display.current, 2)}
            note={main === 'charge' ? currentLimitText(sheet.limitedBy) : null}
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
        {sheet.cycles !== null && <Setting name="Cycles" value={String(sheet.cycles)} />}
      </dl>
      <ol className="ps-3">
        {sheet.steps.map((step, i) => (
          <li key={i}>{sheetStepText(step)}</li>
        ))}
      </ol>
      <p>
        <b>{hoursText(sheet.expectedMin * 60)}</b> in all, {hoursText(sheet.attendedMin * 60)} of it with somebody
        there.
        {sheet.balancing &&
          ` A quick balancing ends after ${hoursText(sheet.balancing.quickMin * 60)}, a slow and even one after ` +
            `${hoursText(sheet.balancing.slowMin * 60)}.`}
        {sheet.load &&
          ` On the separate load of ${sheet.load.ohm} Ω it takes ${hoursText(sheet.load.minutes * 60)}: it burns ` +
            `${sheet.load.watts.toFixed(0)} W and has no shut-off.`}
      </p>
      <h2>When it is right</h2>
      <ul className="ps-3">
        {lookTexts(pack, sheet).map((one) => (
          <li key={one}>{one}</li>
        ))}
      </ul>
      <p>
        <b>After:</b> {afterText(pack.chemistry, sheet.goal)}
      </p>
      <ul className="ask ps-4 mb-0">
        {sheetCautions(pack, sheet).map((one) => (
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
