import type { JudgedPartial } from '@/core/judging/judgePartial';
import type { HeldVerdict } from '@/core/judging/judgeSelfDischarge';
import type { JudgedPack } from '@/core/judging/judgePack';
import { type ClinicJudgement, isRoundAsked } from '@/core/judging/judgeClinic';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { display, formatQuantity } from '@/core/quantity/format';
import { IntakeReasons } from '@/stations/IntakeReasons';
import { Grounds } from '@/stations/Grounds';
import { RuleLink } from '@/stations/RuleLink';
import { Link } from '@/ui/Link';
import { curveBasisText } from '@/words/chemistry';
import { dutyNames, dutyReasonText } from '@/words/duty';
import { PlusMinus } from '@/ui/PlusMinus';
import { StatusMark } from '@/ui/StatusMark';
import { causeText, isHot } from '@/words/diagnosis';
import { driftText, selfDischargeWhyText, verdictNames } from '@/words/selfDischarge';
import { dueName } from '@/words/due';

import { When } from '@/ui/When';
import { urgentOf } from '@/words/packs';
import { warningText } from '@/words/warnings';
import type { Slip } from '@/workshop/frame';
import { type Act, NextKeys } from './NextKeys';
import { NextStep } from './NextStep';

interface VerdictProps {
  subject: JudgedSubject;
  due: Slip[];
  acts: Act[];
  /** Of a pack what is wrong with it and what to do; null where nothing is known. */
  clinic: ClinicJudgement | null;
}

/** What a cell or pack can do now and why, what is due, and what can be done with it next. */
export function Verdict({ subject, due, acts, clinic }: VerdictProps) {
  const { duty, intake, standing, capacity } = subject;
  const urgent = isPack(subject) && intake.class !== 'out' && subject.apart === null ? urgentOf(subject) : null;
  const isCharged = intake.class !== 'out' && intake.class !== 'rescue-only';
  const cause =
    isCharged && clinic && !isRoundAsked(clinic.verdict) && isHot(clinic.diagnosis.first)
      ? clinic.diagnosis.first
      : null;
  return (
    <section className="sheet lead-ember" aria-label="Verdict">
      <span className="code">{subject.code}</span>
      {cause && (
        <p className="hot" style={{ fontSize: '1.5rem', fontWeight: 700, lineHeight: 1.2, margin: '4px 0 4px' }}>
          ◆ {causeText(cause)}
        </p>
      )}
      {urgent && (
        <p
          className={cause ? 'mb-2' : 'hot'}
          style={cause ? {} : { fontSize: '1.3rem', fontWeight: 700, lineHeight: 1.2, margin: '4px 0 8px' }}
        >
          {!cause && '◆ '}
          {urgent.said} <small style={{ fontWeight: 400 }}>{urgent.rule && <RuleLink rule={urgent.rule} />}</small>
        </p>
      )}
      <p style={{ fontSize: urgent || cause ? '1.15rem' : '1.7rem', fontWeight: 700, margin: '2px 0 6px' }}>
        <StatusMark of={standing} atLeast={duty.isAtLeast} named />
      </p>
      {intake.class === 'usable' && (
        <p>
          {dutyReasonText(duty.because)} <Grounds code={duty.because.code} />
        </p>
      )}
      {subject.capacityIsAtLeast && subject.run && duty.duty !== null && (
        <p className="ask">
          <Link href={`/capacity/${subject.run.id}`}>Its discharge</Link> ended above the cut-off: capacity at least{' '}
          {capacity && formatQuantity(capacity, display.capacity)}. Discharge it to the cut-off for the full value.
        </p>
      )}
      {subject.partial && <InPart partial={subject.partial} counts={subject.capacityBy === 'partial'} />}
      {subject.leftOut !== null && (
        <p className="ask">
          Its newest ten-second reading does not grade it. {warningText(subject.leftOut)}{' '}
          <Grounds code={subject.leftOut.code} />
        </p>
      )}
      {isPack(subject) && lacksTenSeconds(subject) && <TenSeconds />}
      {duty.measureAgain && (
        <p className="ask">
          Measure its {duty.measureAgain.what} again: a surer figure could make it {dutyNames[duty.measureAgain.duty]}.
        </p>
      )}
      <IntakeReasons reasons={intake.reasons} />
      {isPack(subject) && (intake.unsafe || urgent) && <Caution unsafe={intake.unsafe} />}
      {subject.held && <Hold held={subject.held} />}
      <NextStep subject={subject} clinic={clinic?.verdict ?? null} />
      {due.map(({ reason, dueAtMs }) => (
        <p key={`${reason} ${dueAtMs}`} className="mb-1">
          Due: {dueName[reason]} at <When at={dueAtMs} as="HH:mm, d MMM" />.
        </p>
      ))}
      <NextKeys acts={acts} />
      {duty.checks.length > 0 && <PlusMinus />}
    </section>
  );
}

const InPart = ({ partial, counts }: { partial: JudgedPartial; counts: boolean }) => (
  <p className="mb-1">
    Partial charge on <When at={partial.takenAt} as="d MMM yyyy" />:{' '}
    {formatQuantity(partial.capacityAh, display.capacity)}, read by {curveBasisText(partial.curveBasis)}
    {!counts && '; a discharge since counts instead'}.
  </p>
);

const Hold = ({ held: { holdId, drift, verdict, why, beganAt } }: { held: HeldVerdict }) => (
  <p className="mb-1">
    <Link href={`/self-discharge/${holdId}`}>
      Self-discharge test of <When at={beganAt} as="d MMM yyyy" />
    </Link>
    :{' '}
    {verdict !== 'cannot-tell' && drift
      ? `it ${verdictNames[verdict]}, ${driftText(drift)}.`
      : selfDischargeWhyText(why)}
  </p>
);

/** Its resistances are known, but none that its limits are compared with; what is out is not loaded any more. */
const lacksTenSeconds = ({ intake, leftOut, weakest, amongGroups }: JudgedPack): boolean =>
  intake.class === 'usable' && leftOut === null && weakest === null && amongGroups !== null;

const TenSeconds = () => (
  <p className="ask">
    A charger’s value and a 1 kHz value do not grade it. Load its terminals for ten seconds in a round over packs to
    find its weakest group.
  </p>
);

const Caution = ({ unsafe }: { unsafe: boolean }) => (
  <p className="ask">
    {unsafe
      ? 'Set it aside outdoors, on stone, away from what burns. Never charge or force it; your local recycler says ' +
        'how to bring it.'
      : 'Check count, chemistry and polarity before any charge. Never force a pack that is swollen, hot or leaking; ' +
        'stay with it, on a surface that does not burn.'}
  </p>
);
