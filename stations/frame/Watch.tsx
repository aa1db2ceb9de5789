'use client';

import { formatDuration } from '@/core/quantity/format';
import { useRouter } from 'next/navigation';
import { useEffect, useState, useTransition } from 'react';
import { endRestAction } from './actions';

interface Slip {
  restId: number | null;
  code: string;
  reason: 'charge' | 'discharge';
  dueAt: number;
}

/** What rests now, with its countdown. A slip whose time is over turns hot and says what to do. */
export function Watch({ resting }: { resting: Slip[] }) {
  const router = useRouter();
  const [now, setNow] = useState<number | null>(null);
  const [, startTransition] = useTransition();
  useEffect(() => {
    const tick = () => setNow(Date.now());
    tick();
    const timer = setInterval(tick, 1000);
    return () => clearInterval(timer);
  }, []);

  if (resting.length === 0) return <p className="soft">Nothing rests or runs.</p>;
  return resting.map((slip) => {
    const due = now !== null && slip.dueAt <= now;
    return (
      <div key={`${slip.code}${slip.dueAt}`} className={`slip${due ? ' due' : ''}`}>
        <div className="t">{now === null ? '–:––:––' : due ? 'rested' : formatDuration((slip.dueAt - now) / 1000)}</div>
        <p>
          <b>{slip.code}</b> rests after {slip.reason}
        </p>
        <p className="soft">{due ? 'Ready to measure.' : slip.reason === 'charge' ? 'Do not measure resistance yet.' : 'Then read its voltage, and back to storage.'}</p>
        {slip.restId !== null && (
          <button
            type="button"
            className="btn btn-plain btn-sm w-100 mt-2"
            onClick={() =>
              startTransition(async () => {
                await endRestAction(slip.restId as number);
                router.refresh();
              })
            }
          >
            {due ? 'Seen' : 'End the rest'}
          </button>
        )}
      </div>
    );
  });
}
