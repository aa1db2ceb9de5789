import type { JudgedCell } from '@/core/judging/judgeCell';
import type { JudgedPack } from '@/core/judging/judgePack';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import type { ClinicVerdict } from '@/core/judging/judgeClinic';
import { verdictText } from '@/words/clinic';
import type { SpreadLevel } from '@/core/packs/groupVoltages';
import { Link } from '@/ui/Link';
import { addressOf } from '@/ui/tokens';
import type { ReactNode } from 'react';

/** What comes next for a cell or pack, in words that a newcomer follows, with the way there. */
export function NextStep({ subject, clinic = null }: { subject: JudgedSubject; clinic?: ClinicVerdict | null }) {
  const next = isPack(subject) ? nextOfPack(subject, clinic) : nextOfCell(subject);
  return next && <p className="next">{next}</p>;
}

/** What is next for both alike; null where that differs. */
function nextOfBoth(subject: JudgedSubject): ReactNode {
  const { code, chemistry, waits, standing, held } = subject;
  if (waits === 'out')
    return (
      <>
        Next: tape its poles and set it aside, not on the shelf. Your local recycler says how to bring it.{' '}
        <Link href="/shelf?q=out&view=table">All that are out</Link>
      </>
    );
  if (waits === 'rescue')
    return (
      <>
        Next: mark it and keep it apart. It is charged by <Link href={`/rescue/${code}`}>the attended rescue</Link>{' '}
        alone, once, and stopped when it gets warm; or retired. Above its floor,{' '}
        <Link href={isPack(subject) ? '#bar' : `/intake/${subject.batchCode}?at=${code}`}>read its voltage anew</Link>.{' '}
        <Link href="/shelf?q=rescue&view=table">All that wait for it</Link>
      </>
    );
  if (waits === 'runs' && (chemistry === 'lipo' || chemistry === 'lihv'))
    return (
      <>
        Next: its capacity. A pouch is not run flat: <Link href={`/runs/partial/${code}`}>charge it in part</Link>, from
        a rested 20 % up to full; or discharge it slowly with a logger and{' '}
        <Link href={`/runs?subject=${code}`}>import the log</Link>.
      </>
    );
  if (waits === 'runs')
    return (
      <>
        Next: charge it full, let it rest, discharge it with a logger, and{' '}
        <Link href={`/runs?subject=${code}`}>import the log</Link>.
      </>
    );
  if (waits === 'shelf' && held?.verdict === 'leaks' && standing === 'retire')
    return 'Next: keep it away from the others and tape its poles; your local recycler says how to bring it.';
  return waits === 'shelf' && standing === 'retire'
    ? 'Next: it is too weak for any duty here. Tape its poles; your local recycler says how to bring it.'
    : null;
}

function nextOfCell(cell: JudgedCell): ReactNode {
  const { code, batchCode, waits, buildId, pack } = cell;
  switch (waits) {
    case 'put-away':
      return (
        <>
          Next: nothing. <Link href={`/intake/${batchCode}`}>Its batch was put away</Link>, and comes back out there.
        </>
      );
    case 'build':
      if (pack)
        return (
          <>
            It is welded into <Link href={addressOf(pack.code)}>{pack.code}</Link>, group {pack.position} from the black
            lead.
          </>
        );
      return (
        <>
          Next: it is set aside for <Link href={`/builds/${buildId}`}>build {buildId}</Link>.
        </>
      );
    case 'intake':
      return (
        <>
          Next: <Link href={`/intake/${batchCode}?at=${code}`}>go on with its intake</Link>.
        </>
      );
    case 'resistance':
      return (
        <>
          Next: <Link href="/resistance">measure its resistance</Link>, in a round with the rest of {batchCode}.
        </>
      );
    default:
      return (
        nextOfBoth(cell) ?? (
          <>
            Next: it is free for a <Link href="/builds">build</Link>.
          </>
        )
      );
  }
}

/** What comes next for a pack by its spread; null where that is even enough. */
const nextBySpread: Record<SpreadLevel, string | null> = {
  excellent: null,
  good: null,
  uneven: 'Next: charge it with a balancing charger, attended; a day later look whether the same group is off again.',
  attention:
    'Next: charge it with a balancing charger, attended, until every group is full; a day later read it again. ' +
    'The same group low again is a fault.',
  'out-of-service':
    'Next: take it out of use. Read it at rest with another instrument, then at the end of a balanced, attended ' +
    'charge and a day later: that tells a low charge from a bad group.',
};

function nextOfPack(pack: JudgedPack, clinic: ClinicVerdict | null): ReactNode {
  const { judgement, amongGroups, series, waits, apart } = pack;
  if (apart) return null;
  const both = waits === 'out' || waits === 'rescue' ? nextOfBoth(pack) : null;
  if (both) return both;
  if (!judgement)
    return (
      <>
        Next: read its {series === 1 ? 'one group' : `${series} groups`} from the black lead, one after the other, and
        the terminals after =. Insulate the probe tips: a slip across two pins can deliver hundreds of amperes.
      </>
    );
  // What is wrong with it comes before how far its groups stand apart, unless that takes it out of use.
  if (judgement.level !== 'out-of-service' && clinic && clinic.act !== 'use-on' && clinic.act !== 'measure')
    return (
      <>
        Next: <a href="#clinic">{verdictText(clinic).toLowerCase()}</a>.
      </>
    );
  const bySpread = nextBySpread[judgement.level];
  if (bySpread) return bySpread;
  if (amongGroups?.says.some(({ code }) => code === 'group-failing'))
    return 'Next: seat its connector anew and read its resistances once more; use it lightly until then.';
  if (waits === 'intake') return 'Next: look, feel and smell, and note what you found.';
  if (waits === 'resistance') return 'Next: load its terminals for ten seconds in a round over packs.';
  return nextOfBoth(pack) ?? 'Next: look again after a month, or after use.';
}
