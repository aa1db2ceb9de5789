'use client';

import { formatDuration } from '@/core/quantity/format';
import type { Answer } from '@/stations/answer';
import { useSound } from '@/ui/sound';
import { store, useStored } from '@/ui/stored';
import { useClock } from '@/ui/useClock';
import { counted } from '@/words/counted';
import { dueWords, endWords, restAdvice, restedText, restText } from '@/words/due';
import type { Slip } from '@/workshop/frame';
import Link from 'next/link';
import { useEffect, useEffectEvent, useRef, useState, useTransition } from 'react';
import { endRestAction, seenAction } from './actions';
import { groupsOf } from './watchGroups';

const foldedKey = 'bold-ember-watch-folded';

const keyOf = ({ entry, code }: Slip): string => entry ?? code;

/** What became due while this page was open, in words; sounds once for each, where sound is on. */
function useBecameDue(resting: readonly Slip[], now: number | null): string {
  const [said, setSaid] = useState('');
  const waiting = useRef<Set<string> | null>(null);
  const { play } = useSound();
  const look = useEffectEvent((at: number) => {
    const became = resting.filter((slip) => !slip.seen && slip.dueAtMs <= at && waiting.current?.has(keyOf(slip)));
    waiting.current = new Set(resting.filter((slip) => slip.dueAtMs > at).map(keyOf));
    if (became.length === 0) return;
    play('look');
    setSaid(became.map(({ code, reason }) => restedText(code, reason)).join(' '));
  });
  useEffect(() => {
    if (now !== null) look(now);
  }, [now]);
  return said;
}

/**
 * What rests now, with its countdown; what belongs together is one slip. A slip whose time is over turns hot, says what
 * to do and is said aloud, until somebody has seen it.
 */
export function Watch({ resting, aheadMs }: { resting: Slip[]; aheadMs: number }) {
  const now = useClock(aheadMs);
  const said = useBecameDue(resting, now);
  const folded = useStored(foldedKey) !== null;
  const ready = now === null ? [] : resting.filter((slip) => slip.dueAtMs <= now);
  const unseen = ready.filter((slip) => !slip.seen).length;
  return (
    <>
      <p className="visually-hidden" role="alert">
        {said}
      </p>
      {resting.length === 0 ? (
        <p className="soft">Nothing rests or runs.</p>
      ) : (
        <button
          type="button"
          className="btn btn-quiet fold"
          aria-expanded={!folded}
          onClick={() => store(foldedKey, folded ? null : 'yes')}
        >
          {ready.length > 0 && (
            <span className={unseen > 0 ? 'hot' : ''}>
              ◆ {ready.length} {ready.some(({ reason }) => dueWords[reason] !== 'rested') ? 'due' : 'rested'},{' '}
            </span>
          )}
          {resting.length - ready.length} resting {folded ? '▸' : '▾'}
        </button>
      )}
      {!folded &&
        groupsOf(resting, now ?? 0).map((slips) => (
          <Group key={`${slips[0]?.code}${slips[0]?.dueAtMs}`} slips={slips} now={now} />
        ))}
    </>
  );
}

/** Where what is on the watch is looked after; null where that is here. */
function placeOf({ reason, code }: Slip): string | null {
  if (reason === 'hold') return '/hold';
  if (reason === 'remedy') return `/clinic/${code}#remedies`;
  return reason.startsWith('rescue') ? `/rescue/${code}` : null;
}

function Group({ slips, now }: { slips: Slip[]; now: number | null }) {
  const [first] = slips as [Slip];
  const due = now !== null && first.dueAtMs <= now;
  const opens = placeOf(first);
  const left = (slip: Slip): string => {
    if (now === null) return '–:––:––';
    if (slip.dueAtMs <= now) return dueWords[slip.reason];
    return formatDuration((slip.dueAtMs - now) / 1000);
  };
  return (
    <div className={`slip${due && !first.seen ? ' due' : ''}`}>
      <div className="t">{left(first)}</div>
      <p>
        <b>{slips.length === 1 ? first.code : `${counted(slips.length, 'cell')} of ${first.batch}`}</b>{' '}
        {restText(first.reason, slips.length)}
      </p>
      <p className="soft">{restAdvice(first.reason, due)}</p>
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
      {opens !== null && (
        <p>
          <Link href={opens}>Open it</Link>
        </p>
      )}
      {first.entry !== null && (
        <RestActs entry={first.entry} isNews={due && !first.seen} ends={endWords[first.reason]} />
      )}
    </div>
  );
}

/** Seeing that a rest is over, and ending it, are two acts; neither changes what was read. */
function RestActs({ entry, isNews, ends }: { entry: string; isNews: boolean; ends: string | null }) {
  const [pending, start] = useTransition();
  const [said, setSaid] = useState('');
  const act = (does: (entry: string) => Promise<Answer>) =>
    start(async () => {
      const answer = await does(entry);
      setSaid(answer.ok ? '' : answer.said);
    });
  return (
    <>
      <div className="d-flex gap-2 mt-2">
        {isNews && (
          <button
            type="button"
            className="btn btn-plain btn-sm flex-fill"
            disabled={pending}
            onClick={() => act(seenAction)}
          >
            Seen
          </button>
        )}
        {ends !== null && (
          <button
            type="button"
            className={`btn ${isNews ? 'btn-quiet' : 'btn-plain'} btn-sm flex-fill`}
            disabled={pending}
            onClick={() => act(endRestAction)}
          >
            {ends}
          </button>
        )}
      </div>
      {said !== '' && <p role="status">{said}</p>}
    </>
  );
}
