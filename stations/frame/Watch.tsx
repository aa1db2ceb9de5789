'use client';

import { formatDuration } from '@/core/quantity/format';
import { counted } from '@/words/counted';
import { store, useStored } from '@/ui/stored';
import { useRouter } from 'next/navigation';
import { useEffect, useState, useTransition } from 'react';
import { endRestAction, seenAction } from './actions';
import type { Answer } from '@/stations/answer';
import { groupsOf, type Slip } from './watchGroups';

const foldedKey = 'bold-ember-watch-folded';

const whileResting: Record<Slip['reason'], string> = {
  charge: 'Do not measure resistance yet.',
  discharge: 'Then read its voltage, and back to storage.',
};

/**
 * What rests now, with its countdown; what belongs together is one slip. A slip whose time is over turns hot and says
 * what to do.
 */
export function Watch({ resting }: { resting: Slip[] }) {
  const [now, setNow] = useState<number | null>(null);
  const folded = useStored(foldedKey) !== null;
  useEffect(() => {
    const tick = () => setNow(Date.now());
    tick();
    const timer = setInterval(tick, 1000);
    return () => clearInterval(timer);
  }, []);

  if (resting.length === 0) return <p className="soft">Nothing rests or runs.</p>;
  const ready = now === null ? 0 : resting.filter((slip) => slip.dueAt <= now).length;
  return (
    <>
      <button
        type="button"
        className="btn btn-quiet fold"
        aria-expanded={!folded}
        onClick={() => store(foldedKey, folded ? null : 'yes')}
      >
        {ready > 0 && <span className="hot">◆ {ready} rested, </span>}
        {resting.length - ready} resting {folded ? '▸' : '▾'}
      </button>
      {!folded &&
        groupsOf(resting, now ?? 0).map((slips) => (
          <Group key={`${slips[0]?.code}${slips[0]?.dueAt}`} slips={slips} now={now} />
        ))}
    </>
  );
}

function Group({ slips, now }: { slips: Slip[]; now: number | null }) {
  const router = useRouter();
  const [pending, startTransition] = useTransition();
  const [said, setSaid] = useState('');
  const [first] = slips as [Slip];
  const due = now !== null && first.dueAt <= now;
  const left = (slip: Slip): string => {
    if (now === null) return '–:––:––';
    return slip.dueAt <= now ? 'rested' : formatDuration((slip.dueAt - now) / 1000);
  };
  const tell = (act: (entry: string) => Promise<Answer>, entry: string) =>
    startTransition(async () => {
      const answer = await act(entry);
      setSaid(answer.ok ? '' : answer.said);
      router.refresh();
    });
  return (
    <div className={`slip${due && !first.seen ? ' due' : ''}`}>
      <div className="t">{left(first)}</div>
      <p>
        <b>{slips.length === 1 ? first.code : `${counted(slips.length, 'cell')} of ${first.batch}`}</b>{' '}
        {slips.length === 1 ? 'rests' : 'rest'} after {first.reason}
      </p>
      <p className="soft">{due ? 'Ready to measure.' : whileResting[first.reason]}</p>
      {slips.length > 1 && (
        <details>
          <summary>Each of them</summary>
          {slips.map((slip) => (
            <div key={slip.code} className="d-flex justify-content-between num">
              <span>{slip.code}</span> <span>{left(slip)}</span>
            </div>
          ))}
        </details>
      )}
      {first.entry !== null && (
        <button
          type="button"
          className="btn btn-plain btn-sm w-100 mt-2"
          disabled={pending}
          onClick={() => tell(due && !first.seen ? seenAction : endRestAction, first.entry ?? '')}
        >
          {due && !first.seen ? 'Seen' : 'End the rest'}
        </button>
      )}
      {said !== '' && <p role="status">{said}</p>}
    </div>
  );
}
