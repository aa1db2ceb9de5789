import { isPack, type JudgedSubject } from '@/core/judging/subject';
import type { ClinicVerdict } from '@/core/judging/judgeClinic';
import type { NextStep as Step } from '@/core/state/nextSteps';
import { Link } from '@/ui/Link';
import { addressOf } from '@/ui/tokens';
import { verdictText } from '@/words/clinic';
import { millivolts } from '@/words/figures';
import { judgedWorkshop } from '@/workshop/judged';
import { nextStepsNow } from '@/workshop/states';
import type { ReactNode } from 'react';

/** What comes next for a cell or pack, in words that a newcomer follows, with the way there. */
export async function NextStep({ subject, clinic = null }: { subject: JudgedSubject; clinic?: ClinicVerdict | null }) {
  if (isPack(subject) && subject.apart) return null;
  const [next] = nextStepsNow(subject, await judgedWorkshop(), clinic);
  return next ? <p className="next">Next: {textOf(next, subject)}</p> : null;
}

/** In the middle of a sentence; codes and names keep their capitals. */
const withSmallFirst = (text: string): string => `${text.slice(0, 1).toLowerCase()}${text.slice(1)}`;

/** With the way to where it is done. */
function textOf(step: Step, subject: JudgedSubject): ReactNode {
  const { code } = subject;
  const measured = isPack(subject) ? '#bar' : `/intake/${subject.batchCode}?at=${code}`;
  switch (step.code) {
    case 'put-away':
      return 'nothing. Its batch was put away, or it was handed over.';
    case 'retired':
      return <Link href={`/retire/${code}`}>finish retiring it</Link>;
    case 'set-aside':
      return (
        <>
          tape its terminals and set it aside, not on the shelf. Your local recycler says how to bring it.{' '}
          <Link href="/shelf?q=out&view=table">All that are scrapped</Link>
        </>
      );
    case 'retire-weak':
      return 'it is too weak for any duty here. Tape its terminals; your local recycler says how to bring it.';
    case 'retire-leaking':
      return 'keep it away from the others and tape its terminals; your local recycler says how to bring it.';
    case 'retire-unrescued':
      return (
        <>
          <Link href={`/retire/${code}`}>retire it</Link>. The house rules allow no rescue.
        </>
      );
    case 'do-not-charge':
      return 'do not charge it. A group is above full: measure it with another instrument, and check its chemistry.';
    case 'in-pack':
      return isPack(subject) || !subject.pack ? (
        'nothing by itself. It is built into a pack.'
      ) : (
        <>
          nothing by itself. It is group {subject.pack.position} of{' '}
          <Link href={addressOf(subject.pack.code)}>{subject.pack.code}</Link>.
        </>
      );
    case 'in-build':
      return (
        <>
          it is set aside for <Link href={`/builds/${step.buildId}`}>build {step.buildId}</Link>.
        </>
      );
    case 'use-once':
      return 'use it once. A primary cell is never charged; empty, it goes to the recycler.';
    case 'free':
      return (
        <>
          it is free for a <Link href="/builds">build</Link>.
        </>
      );
    case 'look-again':
      return 'look again after a month, or after use.';
    case 'rescue':
      return (
        <>
          mark it and keep it apart. Only <Link href={`/rescue/${code}`}>the attended rescue</Link> charges it, once.
          Stop when it gets warm. If your meter shows more, <Link href={measured}>measure it again</Link>.{' '}
          <Link href="/shelf?q=rescue&view=table">All that wait for it</Link>
        </>
      );
    case 'measure-groups':
      return (
        <>
          <Link href={measured}>measure each group</Link> from the negative end, then the terminals after =. Insulate
          the probe tips: a slip across two pins can deliver hundreds of amperes.
        </>
      );
    case 'go-on-with-intake':
      return isPack(subject) ? (
        'look, feel and smell, and note what you found.'
      ) : (
        <Link href={measured}>go on with its intake</Link>
      );
    case 'wake-board':
      return 'its board has cut off. Wake it at its charge input or the balance connector; never force the terminals.';
    case 'charge':
      return (
        <>
          <Link href={`/upkeep/${code}?goal=charge`}>charge it</Link>. A group is nearly empty: no load test before.
        </>
      );
    case 'clinic':
      return <a href="#clinic">{withSmallFirst(verdictText(step.verdict))}</a>;
    case 'balance':
      return step.way === 'charger' ? (
        <>
          <Link href={`/upkeep/${code}?goal=balance`}>balance it</Link>. Its groups are {millivolts(step.apartV)} apart,
          group {step.lowest} is the lowest. Do not use it before. Measure it again a day later: the same group low
          again is a fault.
        </>
      ) : (
        <>
          <a href="#remedies">bring up group {step.lowest} alone</a>. The groups are {millivolts(step.apartV)} apart,
          and no charger sees them.
        </>
      );
    case 'measure-rested':
      return (
        <>
          let it rest, then <Link href={measured}>measure its groups</Link>
          {step.position !== null && `; group ${step.position} was low`}. Until then it is not used.
        </>
      );
    case 'seat-connector':
      return (
        `seat its connector again and measure the resistance of group ${step.position} once more; ` +
        'use it lightly until then.'
      );
    case 'self-discharge-test':
      return (
        <>
          <Link href={`/self-discharge?subject=${code}`}>test its self-discharge</Link>. It was rescued.
        </>
      );
    case 'resistance':
      return isPack(subject) ? (
        'load its terminals for ten seconds in a round over packs.'
      ) : (
        <>
          <Link href="/resistance">measure its resistance</Link>, in a round with the rest of {subject.batchCode}.
        </>
      );
    case 'capacity-test':
      return capacityText(subject);
  }
}

function capacityText({ chemistry, code }: JudgedSubject): ReactNode {
  const log = <Link href={`/capacity?subject=${code}`}>import the log</Link>;
  return chemistry === 'lipo' || chemistry === 'lihv' ? (
    <>
      its capacity. Do not run a pouch flat.{' '}
      <Link href={`/capacity/partial/${code}`}>Charge it from a rested 20 %</Link> to full, or discharge it slowly with
      a logger and {log}.
    </>
  ) : (
    <>charge it full, let it rest, discharge it with a logger, and {log}.</>
  );
}
