'use client';

import { rememberFiled } from '@/ui/barMemory';
import {
  changeWaiting,
  confirmWaiting,
  dropFiled,
  dropWaiting,
  holdWaiting,
  putBackWaiting,
  sendWaiting,
  useOutbox,
  type WaitingLine,
} from '@/ui/outbox';
import { counted } from '@/words/counted';
import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useRef, useState, useTransition } from 'react';
import { sendLine } from './senders';
import { useFollowing } from './stream';
import { WayAway } from './WayAway';

/** The first pause before what waits is tried again; each after it is longer, up to the longest. */
const firstPauseMs = 2000;
const longestPauseMs = 60_000;

/** Sends what waits, from whatever page is open, once the connection is back; answers with what to say of it. */
function useSending(isWaiting: boolean): { said: string; sendNow: () => void } {
  const router = useRouter();
  const { isConnected } = useFollowing();
  const isBusy = useRef(false);
  const [tries, setTries] = useState(0);
  const [said, setSaid] = useState('');
  const [isDrawing, draw] = useTransition();
  const wasDrawing = useRef(false);

  const send = useCallback(async () => {
    if (isBusy.current) return;
    isBusy.current = true;
    try {
      const { filed, isAway } = await sendWaiting(sendLine);
      setTries((before) => (isAway ? before + 1 : 0));
      for (const line of filed) rememberFiled(line.place, line, line.inFull);
      const [first] = filed;
      if (!first) return;
      setSaid(
        filed.length === 1
          ? `The connection is back: ${first.text} is filed.`
          : `The connection is back: ${filed.length} lines are filed.`,
      );
      draw(() => router.refresh());
    } finally {
      isBusy.current = false;
    }
  }, [router]);

  // Once the page shows what was filed, nothing counts it as waiting any more.
  useEffect(() => {
    if (wasDrawing.current && !isDrawing) void dropFiled();
    wasDrawing.current = isDrawing;
  }, [isDrawing]);
  useEffect(() => {
    void dropFiled().catch(() => undefined);
  }, []);

  useEffect(() => {
    if (!isWaiting) return;
    const now = () => void send();
    const timer = setInterval(now, Math.min(longestPauseMs, firstPauseMs * 2 ** tries));
    window.addEventListener('online', now);
    return () => {
      clearInterval(timer);
      window.removeEventListener('online', now);
    };
  }, [isWaiting, tries, send]);
  useEffect(() => {
    // A try that is under way may have started without a connection: the next pause is short again.
    if (isWaiting && isConnected) void send().then(() => setTries(0));
    // Only as the connection comes back: what is kept while it seems to be there waits for its pause.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [isConnected]);
  return { said, sendNow: () => void send() };
}

/** What is kept in this browser and not filed, wherever it was typed; each line can be changed and dropped. */
export function Outbox() {
  const { lines, unreadable } = useOutbox();
  const waiting = lines.filter((line) => !line.filed);
  const refused = waiting.filter((line) => line.refused !== null).length + unreadable.length;
  const { said, sendNow } = useSending(waiting.some((line) => line.refused === null));
  const total = waiting.length + unreadable.length;
  return (
    <div className="outbox">
      <WayAway />
      <p className={total === 0 && said !== '' ? 'back' : 'visually-hidden'} role="status">
        {total === 0 && said}
      </p>
      {total > 0 && (
        <details aria-label="Kept in this browser">
          <summary className="tag hot">
            ◆ {total} not filed yet{refused > 0 && `, ${refused} refused`}
          </summary>
          <ul>
            {waiting.map((line) => (
              <Line key={line.entry} line={line} />
            ))}
            {unreadable.map(({ entry, text }) => (
              <li key={entry}>
                <b className="num">{text}</b>
                <span className="hot">was kept by another version: file it again, then drop it</span>
                <button type="button" className="btn btn-quiet" onClick={() => void dropWaiting(entry)}>
                  Drop it
                </button>
              </li>
            ))}
          </ul>
          {waiting.length > 0 && (
            <button type="button" className="btn btn-quiet" onClick={sendNow}>
              Send now
            </button>
          )}
          <p className="soft mb-0">
            {counted(total, 'line is', 'lines are')} kept in this browser, and filed in order, each once.
          </p>
        </details>
      )}
    </div>
  );
}

function Line({ line: { entry, inFull, refused, asks, sentSince } }: { line: WaitingLine }) {
  const [text, setText] = useState<string | null>(null);
  if (text !== null)
    return (
      <li>
        <form
          className="d-flex flex-fill gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            void changeWaiting(entry, text.trim()).then((isKept) => {
              if (isKept) setText(null);
            });
          }}
        >
          <input
            className="form-control"
            aria-label={`Instead of ${inFull}`}
            autoFocus
            value={text}
            maxLength={2000}
            onChange={(event) => setText(event.target.value)}
          />
          <button type="submit" className="btn btn-plain" disabled={text.trim() === ''}>
            Keep
          </button>
          <button
            type="button"
            className="btn btn-quiet"
            onClick={() => void putBackWaiting(entry).then(() => setText(null))}
          >
            As it was
          </button>
        </form>
      </li>
    );
  if (sentSince !== null)
    return (
      <li>
        <b className="num">{inFull}</b>
        <span className="soft">being sent</span>
      </li>
    );
  return (
    <li>
      <b className="num">{inFull}</b>
      <span className={refused === null ? 'soft' : 'hot'}>{refused ?? 'waits for the connection'}</span>
      {asks && (
        <button type="button" className="btn btn-quiet" onClick={() => void confirmWaiting(entry)}>
          File it as read
        </button>
      )}
      <button
        type="button"
        className="btn btn-quiet"
        onClick={() =>
          void holdWaiting(entry).then((isHeld) => {
            if (isHeld) setText(inFull);
          })
        }
      >
        Change
      </button>
      <button type="button" className="btn btn-quiet" onClick={() => void dropWaiting(entry)}>
        Drop it
      </button>
    </li>
  );
}
