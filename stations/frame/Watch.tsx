'use client';

import { formatDuration } from '@/core/quantity/format';
import type { Answer } from '@/stations/answer';
import { Link } from '@/ui/Link';
import { useNotices } from '@/ui/notices';
import { useSound } from '@/ui/sound';
import { store, useStored } from '@/ui/stored';
import { useClock } from '@/ui/useClock';
import { counted } from '@/words/counted';
import { dueWords, endWords, restAdvice, restedText, restText } from '@/words/due';
import type { DueThing, Slip } from '@/workshop/frame';
import { useEffect, useEffectEvent, useRef, useState, useTransition } from 'react';
import { endRestAction, seenAction } from './actions';
import { groupsOf } from './watchGroups';

const foldedKey = 'bold-ember-watch-folded';

const keyOf = ({ entry, code }: Slip): string => entry ?? code;

/** Something that is said once its time comes. */
interface Awaited {
  key: string;
  atMs: number;
  text: string;
}

const awaited = (resting: readonly Slip[], due: readonly DueThing[]): Awaited[] => [
  ...resting
    .filter(({ seen }) => !seen)
    .map((slip) => ({ key: keyOf(slip), atMs: slip.dueAtMs, text: restedText(slip.code, slip.reason) })),
  ...due.map(({ text, atMs }) => ({ key: text, atMs, text: `${text}.` })),
];

/**
 * What became due while this page was open, in words; sounds once for each, and notifies outside the page, where that
 * is on.
 */
function useBecameDue(things: readonly Awaited[], now: number | null): string {
  const [said, setSaid] = useState('');
  const waiting = useRef<Set<string> | null>(null);
  const { play } = useSound();
  const { tell } = useNotices();
  const look = useEffectEvent((at: number) => {
    const became = things.filter(({ key, atMs }) => atMs <= at && waiting.current?.has(key));
    waiting.current = new Set(things.filter(({ atMs }) => atMs > at).map(({ key }) => key));
    if (became.length === 0) return;
    play('look');
    for (const { text } of became) tell(text);
    setSaid(became.map(({ text }) => text).join(' '));
  });
  useEffect(() => {
    if (now !== null) look(now);
  }, [now]);
  return said;
}

/**
 * What rests now, with its countdown; what belongs together is one slip. A slip whose time is over turns hot, says what
 * to do and is said aloud, until a person has seen it.
 */
export function Watch({ resting, due, aheadMs }: { resting: Slip[]; due: DueThing[]; aheadMs: number | null }) {
  const now = useClock(aheadMs);
  const said = useBecameDue(awaited(resting, due), now);
  const folded = useStored(foldedKey) !== null;
  const ready = now === null ? [] : resting.filter((slip) => slip.dueAtMs <= now);
  const unseen = ready.filter((slip) => !slip.seen).length;
  return (
    <>
      <p className="visually-hidden" role="alert">
        {said}
      </p>
      <Due things={now === null ? [] : due.filter(({ atMs }) => atMs <= now)} />
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

/** Up to this many are named. */
const fewDue = 3;

/** What is due, with the way there. */
function Due({ things }: { things: readonly DueThing[] }) {
  const { canAsk, ask } = useNotices();
  const [first] = things;
  if (!first) return null;
  return (
    <div className="slip">
      <div className="t">● {things.length} due</div>
      {things.slice(0, fewDue).map(({ text, address }) => (
        <p key={text}>
          <Link href={address}>{text}</Link>
        </p>
      ))}
      {things.length > fewDue && <p className="soft">and {counted(things.length - fewDue, 'more', 'more')}</p>}
      {canAsk && (
        <button type="button" className="btn btn-quiet btn-sm" onClick={() => void ask()}>
          Notify me
        </button>
      )}
    </div>
  );
}

/** Where what is on the watch is looked after; null where that is here. */
function placeOf({ reason, code }: Slip): string | null {
  if (reason === 'hold') return '/self-discharge';
  if (reason === 'use') return '/upkeep/use';
  if (reason === 'run-down') return `/retire/${code}`;
  if (reason === 'job') return '/upkeep/plan';
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
