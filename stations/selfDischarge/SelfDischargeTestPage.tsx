import { driftPopulation } from '@/core/selfDischarge/drift';
import { voltmeters } from '@/core/judging/instrumentBook';
import { type JudgedHeld, type JudgedSelfDischarge, lostWithin, toReadNow } from '@/core/judging/judgeSelfDischarge';
import { display, formatQuantity, formatRead } from '@/core/quantity/format';
import { ActButton } from '@/ui/ActButton';
import { DotStrip } from '@/ui/DotStrip';
import { Link } from '@/ui/Link';
import { PlusMinus } from '@/ui/PlusMinus';
import { addressOf } from '@/ui/tokens';
import { When } from '@/ui/When';
import { counted } from '@/words/counted';
import { driftText, selfDischargeWhyText, verdictNames } from '@/words/selfDischarge';
import { now } from '@/workshop/clock';
import { selfDischargeById } from '@/workshop/selfDischarges';
import { judgedWorkshop, subjectNamed, type Workshop } from '@/workshop/judged';
import { notFound } from 'next/navigation';
import { RuleLink } from '../RuleLink';
import { endSelfDischargeAction } from './actions';
import { SelfDischargeBar } from './SelfDischargeBar';
import { testSubjects } from './testSubjects';
import { nameOf } from './SelfDischargePage';

/** One self-discharge test: whom to read next, who leaks, how fast each drifts. */
export async function SelfDischargeTestPage({ id, at }: { id: number; at: string | undefined }) {
  const workshop = await judgedWorkshop();
  const selfDischarge = await selfDischargeById(workshop, id);
  if (!selfDischarge) notFound();
  const toRead = toReadNow(selfDischarge, now());
  const shown = at?.toUpperCase();
  const current = selfDischarge.held.find(({ code }) => code === shown) ?? toRead[0] ?? null;
  const subjects = testSubjects(selfDischarge, workshop);
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/self-discharge">Self-discharge</Link> · {nameOf(selfDischarge)}
        </h1>
        <span className="soft">
          since <When at={selfDischarge.beganAt} as="d MMM yyyy HH:mm" />
          {selfDischarge.endedAt && (
            <>
              , ended <When at={selfDischarge.endedAt} as="d MMM yyyy" />
            </>
          )}
        </span>
        {!selfDischarge.endedAt && (
          <span className="end">
            <ActButton
              label={`End the self-discharge test of ${nameOf(selfDischarge)}`}
              act={endSelfDischargeAction.bind(null, selfDischarge.entry)}
            >
              End it
            </ActButton>
          </span>
        )}
      </div>
      <div className="cols">
        {current && !selfDischarge.endedAt ? (
          <Next held={current} left={toRead.length} hold={selfDischarge} />
        ) : (
          <Outcome hold={selfDischarge} />
        )}
        <section className="sheet" aria-label="Cells that leak">
          <h2>Cells that leak</h2>
          <Leaking hold={selfDischarge} workshop={workshop} />
        </section>
      </div>
      <Drifts
        hold={selfDischarge}
        limitV={workshop.rules.limits.holdDriftV}
        oddBeyond={workshop.rules.limits.oddBeyond}
      />
      <Each hold={selfDischarge} />
      {!selfDischarge.endedAt && (
        <SelfDischargeBar
          holdId={id}
          current={subjects.find(({ code }) => code === current?.code) ?? null}
          isVisit={shown !== undefined}
          subjects={subjects}
          meters={voltmeters(workshop.instruments)}
        />
      )}
    </>
  );
}

/** The one to read now, large. */
const Next = ({ held, left, hold: selfDischarge }: { held: JudgedHeld; left: number; hold: JudgedSelfDischarge }) => (
  <section className="sheet lead-ember" aria-label="To read now">
    <span className="code">{held.code}</span>
    <p style={{ fontSize: '1.3rem', fontWeight: 700 }} className="mb-1">
      {held.lastAt === null ? 'Measure its voltage: the first reading of this test.' : 'Measure its voltage again.'}
    </p>
    <p className="mb-1">
      {held.lastAt && (
        <>
          It read {lastText(held)} on <When at={held.lastAt} as="d MMM" />.{' '}
        </>
      )}
      {left > 0 ? `${counted(left, 'is', 'are')} to be read now.` : 'No reading is due.'}
    </p>
    {selfDischarge.held.length > 1 && (
      <p className="soft mb-0">The same meter each time, and as warm as at the first reading.</p>
    )}
  </section>
);

/** No cell is to be measured now: what next. */
const Outcome = ({ hold: { dueAt, endedAt, held } }: { hold: JudgedSelfDischarge }) => (
  <section className="sheet lead-ember" aria-label="What next">
    <p style={{ fontSize: '1.7rem', fontWeight: 700 }} className="mb-1">
      {dueAt ? (
        <>
          Measure again on <When at={dueAt} as="EEEE, d MMM" />
        </>
      ) : (
        outcomeText(held)
      )}
    </p>
    <p className="mb-0">
      {dueAt && 'Until then leave them: every charge or load begins the test again.'}
      {!dueAt && !endedAt && 'The results are final. End the test, and bring the cells back to storage charge.'}
      {endedAt && 'Each result is kept with its cell or pack.'}
    </p>
  </section>
);

function outcomeText(held: readonly JudgedHeld[]): string {
  const leaks = held.filter(({ says }) => says.verdict === 'leaks').length;
  if (leaks > 0) return `${leaks} of ${held.length} ${leaks === 1 ? 'leaks' : 'leak'}`;
  return held.every(({ says }) => says.verdict === 'holds') ? 'All hold' : 'None is known to leak';
}

/** The last reading with its digits; of a pack its groups from the negative terminal. */
function lastText({ readings, series, lastAt }: JudgedHeld): string {
  const last = readings.filter(({ takenAt }) => takenAt.getTime() === lastAt?.getTime());
  const volts = last
    .sort((one, other) => one.position - other.position)
    .slice(0, series)
    .map(({ valueV, step }) => formatRead(valueV, step, display.voltage).replace(/ V$/, ''));
  return volts.length === 0 ? 'nothing yet' : `${volts.join(' · ')} V`;
}

async function Leaking({ hold: { held }, workshop }: { hold: JudgedSelfDischarge; workshop: Workshop }) {
  const leaking = await Promise.all(
    held
      .filter(({ says }) => says.verdict === 'leaks')
      .map(async (one) => {
        const { subject } = await subjectNamed(one.code, workshop);
        return { ...one, lost: subject && lostWithin(one, subject, workshop.curves) };
      }),
  );
  if (leaking.length === 0)
    return (
      <p className="mb-0">{held.some(({ says }) => says.verdict === 'holds') ? 'None found.' : 'No result yet.'}</p>
    );
  return leaking.map(({ code, says, position, series, lost }) => (
    <p key={code} className="mb-2">
      <b className="hot">
        ◆ <Link href={addressOf(code)}>{code}</Link>
        {series > 1 && `, group ${position} from the negative terminal`}
      </b>
      : {says.drift && driftText(says.drift)}
      {lost && `, about ${formatQuantity(lost, display.milliCurrent)} lost within`}. {selfDischargeWhyText(says.why)}{' '}
      <RuleLink rule="holdDriftV" />
    </p>
  ));
}

/** Each as a dot by its drift. */
function Drifts({
  hold: { held },
  limitV,
  oddBeyond,
}: {
  hold: JudgedSelfDischarge;
  limitV: number;
  oddBeyond: number;
}) {
  const withDrift = held.flatMap(({ code, says }) => (says.drift ? [{ code, says, drift: says.drift }] : []));
  if (withDrift.length < 2) return null;
  const perWeek = withDrift.map(({ drift }) => ({ value: 7 * drift.value, u: 7 * drift.u }));
  const population = driftPopulation(perWeek, oddBeyond);
  const isLithium = withDrift.some(({ says }) => says.why.code !== 'no-crowd' && says.why.code !== 'with-crowd');
  return (
    <section className="sheet mb-3" aria-label="How fast they drift">
      <h2>How fast they drift, a week</h2>
      <DotStrip
        points={withDrift.map(({ code, says, drift }) => ({
          code,
          value: 7 * drift.value,
          odd: says.verdict === 'leaks',
        }))}
        now={null}
        as={{ ...display.milliVolt, decimals: 1 }}
        population={population}
        limits={isLithium ? [-limitV] : []}
      />
      <p className="soft mb-0">
        {isLithium && `Lithium is let fall by ${(1000 * limitV).toFixed(0)} mV a week. `}
        <RuleLink rule="holdDriftV" /> Of those that rest together the odd one counts, too.{' '}
        <RuleLink rule="oddBeyond" />
      </p>
    </section>
  );
}

function Each({ hold: selfDischarge }: { hold: JudgedSelfDischarge }) {
  const rank = { leaks: 0, 'cannot-tell': 1, holds: 2 };
  const sorted = selfDischarge.held.toSorted((one, other) => rank[one.says.verdict] - rank[other.says.verdict]);
  return (
    <section className="table-scroll" tabIndex={0} aria-label="Each of them">
      <table className="table">
        <thead>
          <tr>
            <th>Cell or pack</th>
            <th>Last read</th>
            <th className="num">Drift</th>
            <th>Verdict</th>
          </tr>
        </thead>
        <tbody>
          {sorted.map((one) => (
            <tr key={one.code} className={one.says.verdict === 'leaks' ? 'odd-one' : ''}>
              <td className="num fw-bold">
                <Link
                  href={
                    selfDischarge.endedAt ? addressOf(one.code) : `/self-discharge/${selfDischarge.id}?at=${one.code}`
                  }
                >
                  {one.code}
                </Link>
              </td>
              <td className="num">
                {lastText(one)}
                {one.lastAt && (
                  <span className="soft">
                    {' '}
                    <When at={one.lastAt} as="d MMM" />
                  </span>
                )}
              </td>
              <td className="num text-nowrap">{one.says.drift ? driftText(one.says.drift) : '–'}</td>
              <td style={{ minWidth: 220 }}>
                <b>{verdictNames[one.says.verdict]}</b>
                {one.series > 1 && one.says.verdict === 'leaks' && ` (group ${one.position})`}
                {one.says.verdict !== 'leaks' && <span className="soft">: {selfDischargeWhyText(one.says.why)}</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <PlusMinus />
    </section>
  );
}
