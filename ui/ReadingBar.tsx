'use client';

import { Volume2, VolumeX } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { startTransition, useCallback, useEffect, useRef, useState, useTransition } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { lost, useEntryQueue, type WaitingEntry } from './entryQueue';
import { openKeys } from './keys';
import { useSound } from './sound';

/** What a typed line means, before it is filed. */
export type Understood =
  | { kind: 'nothing' }
  | { kind: 'wrong'; said: string }
  /** Go somewhere instead of filing. */
  | { kind: 'go'; said: string; href: string }
  /** `asks` is a question that a second Enter answers with yes; `code` is what it is for. */
  | { kind: 'reading'; said: string; asks: string | null; code: string | null };

/** `asks`: a second Enter files it as read. `away`: nothing was wrong with it, it could not be stored. */
export type Filed = { ok: true; said: string; odd?: boolean } | { ok: false; said: string; asks?: boolean; away?: boolean };

/** Files readings for one place, a batch or a round, and takes them back. */
export interface Filing {
  /** Where entries wait apart from others while there is no connection. */
  place: string;
  /** The screen goes on by the answer itself; otherwise the bar waits for the screen that the server makes anew. */
  immediate?: boolean;
  /** @param current the cell or pack that was shown */
  file(text: string, entry: string, confirmed: boolean, current: string | null): Promise<Filed>;
  undo(entry: string): Promise<Filed>;
  /** Files what was taken back once more, under a new id. */
  redo(entry: string, anew: string): Promise<Filed>;
}

interface ReadingBarProps {
  /** What is typed here, for the label and the empty line. */
  label: string;
  placeholder: string;
  understand(text: string): Understood;
  /** The cell or pack that is shown. */
  current?: string | null;
  filing?: Filing;
  /** Told which entries wait for the connection, so that the screen can go on to the next cell. */
  onWaiting?(waiting: WaitingEntry[]): void;
}

interface Told {
  said: string;
  bad: boolean;
  /** The line it was about where that line still stands. */
  about: string;
}

const noFiling: Filing = { place: '', file: async () => lost, undo: async () => lost, redo: async () => lost };

/** One line at the bottom of every screen: type, see what was understood, Enter files it. */
export function ReadingBar({ label, placeholder, understand, current = null, filing, onWaiting }: ReadingBarProps) {
  const router = useRouter();
  const input = useRef<HTMLInputElement>(null);
  const [text, setText] = useState('');
  const [asked, setAsked] = useState<string | null>(null);
  const [told, setTold] = useState<Told | null>(null);
  const [busy, startFiling] = useTransition();
  const sound = useSound();
  const { file, undo, redo, place } = filing ?? noFiling;
  /** Entries of this visit in order, and those taken back that can come again. */
  const filed = useRef<{ entry: string; text: string }[]>([]);
  const taken = useRef<{ entry: string; text: string }[]>([]);
  const underWay = useRef(false);
  /** The entry that the line now typed shall replace. */
  const [correcting, setCorrecting] = useState<string | null>(null);

  const fileWaiting = useCallback((one: WaitingEntry) => file(one.text, one.entry, one.confirmed, one.current), [file]);
  const waitingFiled = useCallback((one: WaitingEntry) => {
    filed.current.push({ entry: one.entry, text: one.text });
    setTold({ said: `The connection is back: ${one.text} is filed.`, bad: false, about: '' });
    router.refresh();
  }, [router]);
  const queue = useEntryQueue(place, fileWaiting, waitingFiled);
  useEffect(() => onWaiting?.(queue.waiting), [onWaiting, queue.waiting]);
  const understood = understand(text);

  useHotkeys('slash', (event) => {
    event.preventDefault();
    input.current?.focus();
  });
  useEffect(() => {
    if (window.matchMedia('(pointer: fine)').matches) input.current?.focus({ preventScroll: true });
  }, []);

  const tell = (said: string, bad: boolean, about = '') => startTransition(() => setTold({ said, bad, about }));

  const submit = () => {
    if (understood.kind === 'go') {
      setText('');
      router.push(understood.href);
      return;
    }
    if (understood.kind === 'wrong') {
      sound.play('look');
      setTold({ said: understood.said, bad: true, about: text });
    }
    if (understood.kind !== 'reading' || !filing || busy || underWay.current) return;
    const confirmed = asked === text;
    if (understood.asks !== null && !confirmed) {
      sound.play('odd');
      setAsked(text);
      setTold(null);
      return;
    }
    fileLine(understood.code, confirmed);
  };

  const fileLine = (code: string | null, confirmed: boolean) => {
    const entry = crypto.randomUUID();
    const replaced = correcting;
    const work = async () => {
      // While earlier lines wait, later ones wait behind them: they are filed in order.
      const answer = queue.waiting.some((one) => one.refused === null) ? lost : await file(text, entry, confirmed, current).catch(() => lost);
      if (answer.ok && replaced) await undo(replaced);
      const tellAnswer = () => answered(answer, { entry, text, confirmed, current, code, refused: null }, replaced);
      // Told together with the screen that follows: "filed" never stands beside the cell that was read before.
      if (filing?.immediate) tellAnswer();
      else startTransition(tellAnswer);
    };
    if (!filing?.immediate) return startFiling(work);
    underWay.current = true;
    void work().finally(() => {
      underWay.current = false;
    });
  };

  const answered = (answer: Filed, line: WaitingEntry, replaced: string | null) => {
    if (!answer.ok && answer.away && !replaced) {
      queue.add(line);
      sound.play('look');
      setTold({ said: `No connection: ${line.code ?? ''} ${line.text} is kept in this browser and filed when it is back.`, bad: true, about: '' });
      setText('');
      return;
    }
    sound.play(answer.ok ? (answer.odd || line.confirmed ? 'odd' : 'filed') : 'look');
    setTold({ said: answer.said, bad: !answer.ok, about: answer.ok ? '' : line.text });
    if (!answer.ok) {
      setAsked(answer.asks ? line.text : null);
      return;
    }
    filed.current = [...filed.current.filter((one) => one.entry !== replaced), { entry: line.entry, text: line.text }];
    taken.current = [];
    setText((now) => (now === line.text ? '' : now));
    setAsked(null);
    setCorrecting(null);
  };

  const takeBack = () => {
    const last = filed.current.pop();
    if (!filing) return;
    if (!last) return tell('Nothing filed here yet that could be undone.', false);
    startFiling(async () => {
      const answer = await undo(last.entry).catch(() => lost);
      if (answer.ok) taken.current.push(last);
      else filed.current.push(last);
      tell(answer.said, !answer.ok);
    });
  };

  const bringBack = () => {
    const last = taken.current.pop();
    if (!filing) return;
    if (!last) return tell('Nothing was undone here that could be filed again.', false);
    const anew = crypto.randomUUID();
    startFiling(async () => {
      const answer = await redo(last.entry, anew).catch(() => lost);
      if (answer.ok) filed.current.push({ entry: anew, text: last.text });
      else taken.current.push(last);
      tell(answer.said, !answer.ok);
    });
  };

  /** Within a half-typed line the key belongs to the text field. */
  const isTyping = () => Boolean(input.current?.value) && document.activeElement === input.current;
  useHotkeys('mod+z', (event) => {
    if (isTyping()) return;
    event.preventDefault();
    takeBack();
  }, { enableOnFormTags: ['input'] });
  useHotkeys('mod+y, mod+shift+z', (event) => {
    if (isTyping()) return;
    event.preventDefault();
    bringBack();
  }, { enableOnFormTags: ['input'] });
  useHotkeys('arrowup', (event) => {
    const last = filed.current.at(-1);
    if (isTyping() || !last || document.activeElement !== input.current) return;
    event.preventDefault();
    setText(last.text);
    setCorrecting(last.entry);
  }, { enableOnFormTags: ['input'] });
  useHotkeys('alt+s', () => sound.toggle(), { enableOnFormTags: true, preventDefault: true });

  const asks = understood.kind === 'reading' && understood.asks && asked === text ? `${understood.asks} Enter again files it as read.` : null;
  const isAnswered = told !== null && (text === '' || text === told.about) && asks === null;
  const said = isAnswered ? told.said : (asks ?? ('said' in understood ? `${correcting ? 'Instead of the last entry: ' : ''}${understood.said}` : ''));
  const hot = isAnswered ? told.bad : asks !== null || understood.kind === 'wrong';

  return (
    <footer className="bar">
      <kbd aria-hidden>/</kbd>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          submit();
        }}
      >
        <input
          ref={input}
          aria-label={label}
          placeholder={placeholder}
          value={text}
          onChange={(event) => {
            setText(event.target.value);
            setAsked(null);
            if (event.target.value === '') setCorrecting(null);
          }}
          autoComplete="off"
          autoCapitalize="characters"
          spellCheck={false}
          enterKeyHint="done"
        />
      </form>
      <div className={`said${hot ? ' asks' : ''}`} role="status" aria-live="polite">
        {hot && <span aria-hidden>◆ </span>}
        {said}
      </div>
      {queue.waiting.length > 0 && <Waiting waiting={queue.waiting} drop={queue.drop} />}
      <div className="keys">
        {filing && (
          <button type="button" onClick={takeBack}>
            <kbd>Ctrl Z</kbd> undo
          </button>
        )}
        <button type="button" onClick={sound.toggle} aria-pressed={sound.on} aria-label="Sound" title="Sound (Alt S)">
          {sound.on ? <Volume2 size={16} aria-hidden /> : <VolumeX size={16} aria-hidden />}
        </button>
        <button type="button" onClick={openKeys}>
          <kbd>?</kbd> keys
        </button>
      </div>
    </footer>
  );
}

/** What is kept in the browser, and what of it the server refused. */
function Waiting({ waiting, drop }: { waiting: WaitingEntry[]; drop(entry: string): void }) {
  const open = waiting.filter((one) => one.refused === null).length;
  return (
    <div className="keys" role="status" aria-label="Kept in this browser">
      {open > 0 && <span className="tag hot">◆ {open} not filed yet</span>}
      {waiting.map(
        (one) =>
          one.refused !== null && (
            <button key={one.entry} type="button" onClick={() => drop(one.entry)} title={one.refused}>
              {one.text}: {one.refused} <b>Drop it</b>
            </button>
          ),
      )}
    </div>
  );
}
