'use client';

import { useRouter } from 'next/navigation';
import { startTransition, useCallback, useEffect, useRef, useState, useTransition } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { openKeys } from './keys';

/** What a typed line means, before it is filed. */
export type Understood =
  | { kind: 'nothing' }
  | { kind: 'wrong'; said: string }
  /** Go somewhere instead of filing. */
  | { kind: 'go'; said: string; href: string }
  /** `asks` is a question that a second Enter answers with yes. */
  | { kind: 'reading'; said: string; asks: string | null };

export type Filed = { ok: true; said: string } | { ok: false; said: string };

interface ReadingBarProps {
  /** What is typed here, for the label and the empty line. */
  label: string;
  placeholder: string;
  understand(text: string): Understood;
  file?(text: string, entry: string, confirmed: boolean): Promise<Filed>;
  undo?(entry: string): Promise<Filed>;
}

/** One line at the bottom of every screen: type, see what was understood, Enter files it. */
export function ReadingBar({ label, placeholder, understand, file, undo }: ReadingBarProps) {
  const router = useRouter();
  const input = useRef<HTMLInputElement>(null);
  const [text, setText] = useState('');
  const [asked, setAsked] = useState<string | null>(null);
  /** What was answered last, and the line it was about where that line still stands. */
  const [told, setTold] = useState<{ said: string; bad: boolean; about: string } | null>(null);
  const [busy, startFiling] = useTransition();
  const filed = useRef<string[]>([]);
  const understood = understand(text);

  useHotkeys('slash', (event) => {
    event.preventDefault();
    input.current?.focus();
  });
  useEffect(() => {
    if (window.matchMedia('(pointer: fine)').matches) input.current?.focus({ preventScroll: true });
  }, []);

  const submit = () => {
    if (understood.kind === 'go') {
      setText('');
      router.push(understood.href);
      return;
    }
    if (understood.kind === 'wrong') setTold({ said: understood.said, bad: true, about: text });
    if (understood.kind !== 'reading' || !file || busy) return;
    const confirmed = understood.asks !== null;
    if (confirmed && asked !== text) {
      setAsked(text);
      return;
    }
    const entry = crypto.randomUUID();
    startFiling(async () => {
      const answer = await file(text, entry, confirmed).catch((): Filed => ({ ok: false, said: 'Not filed: the server did not answer. The line is still here; press Enter again.' }));
      // Told together with the screen that follows: "filed" never stands beside the cell that was read before.
      startTransition(() => {
        setTold({ said: answer.said, bad: !answer.ok, about: answer.ok ? '' : text });
        if (!answer.ok) return;
        filed.current.push(entry);
        setText((now) => (now === text ? '' : now));
        setAsked(null);
      });
    });
  };

  const takeBack = useCallback(() => {
    const entry = filed.current.pop();
    if (!undo) return;
    if (!entry) {
      setTold({ said: 'Nothing filed here yet that could be undone.', bad: false, about: '' });
      return;
    }
    startFiling(async () => {
      const answer = await undo(entry);
      startTransition(() => setTold({ said: answer.said, bad: !answer.ok, about: '' }));
    });
  }, [undo]);
  useHotkeys('mod+z', (event) => {
    // Within a half-typed line the key belongs to the text field.
    if (input.current?.value && document.activeElement === input.current) return;
    event.preventDefault();
    takeBack();
  }, { enableOnFormTags: ['input'] });

  const asks = understood.kind === 'reading' && asked === text ? `${understood.asks} Enter again files it as read.` : null;
  const answered = told !== null && (text === '' || text === told.about) && asks === null;
  const said = answered ? told.said : (asks ?? ('said' in understood ? understood.said : ''));
  const hot = answered ? told.bad : asks !== null || understood.kind === 'wrong';

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
      <div className="keys">
        {undo && (
          <button type="button" onClick={() => takeBack()}>
            <kbd>Ctrl Z</kbd> undo
          </button>
        )}
        <button type="button" onClick={openKeys}>
          <kbd>?</kbd> keys
        </button>
      </div>
    </footer>
  );
}
