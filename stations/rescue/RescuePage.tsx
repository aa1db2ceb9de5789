import type { HouseRules } from '@/core/chemistry/houseRules';
import { handOverV } from '@/core/judging/handOver';
import {
  judgeRescue,
  mostRescueA,
  type OwnLimits,
  refusalsOf,
  rescuedOf,
  rescueImbalanceV,
  withOwnLimits,
} from '@/core/judging/rescue';
import { afterRescueC } from '@/core/planning/sheetCurrents';
import { leastAh, type SubjectState } from '@/core/state/subjectState';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { display, formatFigure } from '@/core/quantity/format';
import { database } from '@/records/database';
import { rescueFacts } from '@/records/rescues';
import { Grounds } from '@/stations/Grounds';
import { Link } from '@/ui/Link';
import { addressOf } from '@/ui/tokens';
import { When } from '@/ui/When';
import { timesText } from '@/words/counted';
import { millivolts, volts } from '@/words/figures';
import { ownLimitsText, rescueRefusalText, rescueWhyText } from '@/words/rescue';
import { now } from '@/workshop/clock';
import { subjectNamed } from '@/workshop/judged';
import { stateNow } from '@/workshop/states';
import { notFound } from 'next/navigation';
import { GoBar } from '../frame/GoBar';
import { BeginRescue } from './BeginRescue';
import { ownLimitFields, ownLimitsOf } from './ownLimits';
import { OwnLimitsForm } from './OwnLimitsForm';
import { RescueBar } from './RescueBar';
import { RescueGuide } from './RescueGuide';

/** The first full charge after a rescue, A. */
const firstChargeA = (state: SubjectState): number => afterRescueC * leastAh(state);

/** Bringing a cell or pack up from below its floor, or the reason why not; step by step, a person there throughout. */
export async function RescuePage({ code, typed }: { code: string; typed: Record<string, string | undefined> }) {
  const { subject, workshop } = await subjectNamed(code);
  if (!subject) notFound();
  const { limits } = workshop.rules;
  const state = stateNow(subject, workshop);
  const rescues = (await rescueFacts(database(), { subjectId: subject.id })).map((one) =>
    judgeRescue(one, limits, now()),
  );
  const open = rescues.find(({ phase }) => phase !== 'over');
  const [last] = rescues;
  const ownLimits = ownLimitsOf(typed, limits);
  const own = ownLimits.ok ? ownLimits.value : null;
  return (
    <>
      <div className="head">
        <h1>
          <Link href={addressOf(subject.code)}>{subject.code}</Link> · rescue
        </h1>
        <span className="soft">
          From below its floor. It works often enough that people do it, and it has burnt houses. Rescued{' '}
          {timesText(subject.rescues)} so far{open ? ', this time counted' : ''}.
        </span>
      </div>
      {open ? (
        <>
          {open.own && <p className="ask">{ownLimitsText(open.own)}</p>}
          <RescueGuide rescue={open} handOverV={handOverV(subject.chemistry)} chargeA={firstChargeA(state)} />
          <RescueBar code={subject.code} series={open.series} />
        </>
      ) : (
        <>
          {last && <Ended last={last} subject={subject} state={state} />}
          {(!last || subject.intake.class !== 'usable') && (
            <>
              {own && (
                <p className="ask">
                  {ownLimitsText(own)}. <Link href={`/rescue/${subject.code}`}>Use the house rules</Link>
                </p>
              )}
              <Begin subject={subject} state={state} house={limits} own={own} />
              {subject.intake.class !== 'usable' && !subject.intake.unsafe && (
                <OwnLimitsForm
                  code={subject.code}
                  house={limits}
                  own={own}
                  refused={ownLimits.ok ? null : ownLimits.said}
                />
              )}
            </>
          )}
          <GoBar placeholder="PF1 opens a pack" />
        </>
      )}
    </>
  );
}

interface BeginProps {
  subject: JudgedSubject;
  state: SubjectState;
  house: HouseRules;
  own: OwnLimits | null;
}

function Begin({ subject, state, house, own }: BeginProps) {
  const rescued = rescuedOf(state);
  const limits = withOwnLimits(house, own);
  const refusals = refusalsOf(rescued, limits, null);
  // Limits of its own are asked of the groups as the rescue starts; what was found on it stays.
  const isOut = subject.intake.unsafe || (subject.intake.class === 'out' && own === null);
  if (isOut || refusals.length > 0)
    return (
      <section className="sheet lead-ember" aria-label="Refused">
        <p className="hot" style={{ fontSize: '1.7rem', fontWeight: 700 }}>
          ◆ Not rescued
        </p>
        {refusals.map((refusal) => (
          <p key={refusal.code} className="mb-1">
            {rescueRefusalText(refusal)} <Grounds rule={refusal.rule} code={refusal.code} />
          </p>
        ))}
        {isOut && <p>It is scrapped: see its verdict. Never charge it again.</p>}
        <p className="ask mb-0">
          Discharge nothing and force nothing. Set it aside outdoors, on stone; tape its poles; your local recycler says
          how to bring it.
        </p>
      </section>
    );
  if (subject.intake.class === 'usable')
    return (
      <section className="sheet lead-ink" aria-label="Nothing to rescue">
        <p className="mb-0">By the last reading it is not below its lowest voltage. Charge it in the normal mode.</p>
      </section>
    );
  return (
    <BeginRescue
      code={subject.code}
      series={rescued.series}
      kind={isPack(subject) ? 'pack' : 'cell'}
      mostA={mostRescueA(rescued, limits)}
      everyMin={limits.rescueReadMin}
      floorV={handOverV(subject.chemistry)}
      own={ownLimitFields(own)}
    />
  );
}

interface EndedProps {
  last: ReturnType<typeof judgeRescue>;
  subject: JudgedSubject;
  state: SubjectState;
}

/** What came of it, and what has to follow before any use. */
function Ended({ last, subject, state }: EndedProps) {
  const why = last.acts.at(-1)?.why ?? 'given-up';
  const newest = last.readings.at(-1);
  const isReached = why === 'reached';
  const href = addressOf(subject.code);
  return (
    <section className="sheet lead-ember mb-3" aria-label="After the rescue">
      <p style={{ fontSize: '1.7rem', fontWeight: 700 }} className="mb-1">
        {isReached ? 'Up from below its floor' : `Over: ${rescueWhyText(why)}`}
      </p>
      <p>
        <When at={last.endedAt ?? last.beganAt} as="HH:mm, d MMM yyyy" />
        {newest && `: groups at ${newest.voltagesV.map((v) => v.toFixed(2)).join(' · ')} V`}
        {newest && newest.voltagesV.length > 1 && `, ${millivolts(rescueImbalanceV(newest))} apart`}.
      </p>
      {last.own && <p className="soft">{ownLimitsText(last.own)}</p>}
      {isReached ? (
        <ol className="ps-3 mb-2">
          <li>
            Now the proper mode, balance lead in: {formatFigure(firstChargeA(state), display.current, 1)}, and stay with
            it. If it is warm at the end, it is scrap.
          </li>
          <li>
            An hour’s rest, then <Link href={`${href}#bar`}>read every group</Link>. If they disagree, it is scrap.
          </li>
          <li>
            <Link href={`/self-discharge?subject=${subject.code}`}>A self-discharge test</Link>: what lay empty often
            leaks.
          </li>
          <li>
            <Link href="/resistance">Its resistance</Link>, and{' '}
            <Link href={`/capacity?subject=${subject.code}`}>its capacity</Link>. Until then it serves nothing; and
            after it one class lower.
          </li>
        </ol>
      ) : (
        <p className="ask">
          Carry it outside, onto stone, and watch it for an hour. Then tape its terminals and retire it. Your local
          recycler says how. Its groups were at {newest ? volts(Math.min(...newest.voltagesV)) : '–'} and above.
        </p>
      )}
    </section>
  );
}
