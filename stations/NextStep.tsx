import type { Standing } from '@/core/grading/standing';
import { display, formatFigure } from '@/core/quantity/format';
import type { JudgedCell } from '@/core/judging/judgeCell';
import Link from 'next/link';

type Known = Pick<JudgedCell, 'code' | 'batchCode' | 'waits' | 'buildId' | 'pack' | 'ratedCapacityAh' | 'voltageV'> & {
  standing: Standing;
};

/** What comes next for a cell, in words that a newcomer follows, with the way there. */
export function NextStep({ cell }: { cell: Known }) {
  const { code, batchCode, waits, buildId, pack, standing, ratedCapacityAh } = cell;
  const intake = `/intake/${batchCode}?at=${code}`;
  switch (waits) {
    case 'put-away':
      return (
        <p className="next">
          Next: nothing. <Link href={`/intake/${batchCode}`}>Its batch was put away</Link>, and comes back out there.
        </p>
      );
    case 'out':
      return (
        <p className="next">
          Next: tape its poles and set it aside, not on the shelf. Your local recycler says how to bring it.{' '}
          <Link href="/shelf?q=out&view=table">All that are out</Link>
        </p>
      );
    case 'rescue':
      return (
        <p className="next">
          Next: mark it and keep it apart. If you rescue it at all: once, attended, on a surface that does not burn, at{' '}
          {formatFigure(0.1 * ratedCapacityAh, display.current)} or less, and stop when it gets warm. Above its floor,{' '}
          <Link href={intake}>read its voltage anew</Link>.{' '}
          <Link href="/shelf?q=rescue&view=table">All that wait for it</Link>
        </p>
      );
    case 'build':
      if (pack)
        return (
          <p className="next">
            It is welded into <Link href={`/clinic/${pack.code}`}>{pack.code}</Link>, group {pack.position} from the
            black lead.
          </p>
        );
      return (
        <p className="next">
          Next: it is set aside for <Link href={`/builds/${buildId}`}>build {buildId}</Link>.
        </p>
      );
    case 'intake':
      return (
        <p className="next">
          Next: <Link href={intake}>go on with its intake</Link>.
        </p>
      );
    case 'resistance':
      return (
        <p className="next">
          Next: <Link href="/resistance">measure its resistance</Link>, in a round with the rest of {batchCode}.
        </p>
      );
    case 'runs':
      return (
        <p className="next">
          Next: charge it full, let it rest, discharge it with a logger, and <Link href="/runs">import the log</Link>.
        </p>
      );
    case 'shelf':
      return standing === 'retire' ? (
        <p className="next">
          Next: it is too weak for any duty here. Tape its poles; your local recycler says how to bring it.
        </p>
      ) : (
        <p className="next">
          Next: it is free for a <Link href="/builds">build</Link>.
        </p>
      );
  }
}
