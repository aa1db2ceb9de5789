'use client';

import { Volume2, VolumeX } from 'lucide-react';
import { Link } from './Link';
import { useEffect, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { lineEvent, openKeys } from './keys';
import { type Filing, type Understood, useReadingBar } from './useReadingBar';

interface ReadingBarProps {
  /** What is typed here, for the label and the empty line. */
  label: string;
  placeholder: string;
  /** `corrects`: the line replaces one that was filed and voids it. */
  understand(text: string, corrects: boolean): Understood;
  /** What is typed is figures: a phone shows its keypad for them, and keys for what else the line may hold. */
  figures?: readonly string[];
  /** The cell or pack that is shown. */
  current?: string | null;
  filing?: Filing;
}

/** One line at the bottom of every screen: type, see what was understood, Enter files it. */
export function ReadingBar({ label, placeholder, understand, figures, current = null, filing }: ReadingBarProps) {
  const input = useRef<HTMLInputElement>(null);
  const bar = useReadingBar(understand, current, filing);
  const [letters, setLetters] = useState(false);

  useHotkeys('slash', (event) => {
    event.preventDefault();
    input.current?.focus();
  });
  useEffect(() => {
    if (window.matchMedia('(pointer: fine)').matches) input.current?.focus({ preventScroll: true });
    // What is typed after a click on a list or a link was meant for the bar.
    const toTheBar = (event: KeyboardEvent) => {
      if (isForTheBar(event)) input.current?.focus();
    };
    document.addEventListener('keydown', toTheBar);
    return () => document.removeEventListener('keydown', toTheBar);
  }, []);

  const { enterLine } = bar;
  useEffect(() => {
    const take = (event: Event) => enterLine(String((event as CustomEvent).detail));
    window.addEventListener(lineEvent, take);
    return () => window.removeEventListener(lineEvent, take);
  });

  /** Within a half-typed line a key belongs to the text field. */
  const unlessTyping = (act: () => void) => (event: KeyboardEvent) => {
    if (input.current?.value && document.activeElement === input.current) return;
    event.preventDefault();
    act();
  };
  const inField = { enableOnFormTags: ['input' as const] };
  useHotkeys('mod+z', unlessTyping(bar.takeBack), inField);
  useHotkeys('mod+y, mod+shift+z', unlessTyping(bar.bringBack), inField);
  useHotkeys('alt+s', () => bar.sound.toggle(), { enableOnFormTags: true, preventDefault: true });
  // Only now is a key heard; before it one is lost, and who drives the page by program can see which it is.
  useEffect(() => input.current?.setAttribute('data-listens', ''), []);

  return (
    <footer className="bar">
      <kbd aria-hidden>/</kbd>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          bar.enter();
        }}
      >
        <input
          ref={input}
          id="bar"
          aria-label={label}
          placeholder={placeholder}
          value={bar.text}
          onChange={(event) => {
            if (event.target.value === '?') return openKeys();
            // A slash is the hand's habit.
            bar.type(event.target.value.replace(/^\s*\/+/, ''));
          }}
          onKeyDown={(event) => {
            if (event.key === 'ArrowUp' && bar.text === '' && bar.correct()) event.preventDefault();
            if (event.key !== 'ArrowDown' || bar.suggestion === null) return;
            event.preventDefault();
            bar.takeSuggestion();
          }}
          autoComplete="off"
          autoCapitalize="characters"
          inputMode={figures && !letters ? 'decimal' : undefined}
          spellCheck={false}
          enterKeyHint="done"
        />
      </form>
      {figures && (
        <div className="keypad" role="group" aria-label="Beside the figures">
          {[' ', ...figures].map((key) => (
            <button
              key={key}
              type="button"
              onPointerDown={(event) => event.preventDefault()}
              onClick={() => {
                bar.type(bar.text + key);
                input.current?.focus();
              }}
            >
              {key === ' ' ? 'next figure' : key.trim()}
            </button>
          ))}
          <button
            type="button"
            aria-pressed={letters}
            onPointerDown={(event) => event.preventDefault()}
            onClick={() => setLetters(!letters)}
          >
            {letters ? '123' : 'abc'}
          </button>
        </div>
      )}
      <div className={`said${bar.isHot ? ' asks' : ''}`} role="status" aria-live="polite">
        {bar.isHot && <span aria-hidden>◆ </span>}
        {bar.said}
        {bar.why && (
          <>
            {' '}
            <Link className="rule-key" href={`/handbook/${bar.why}`}>
              why
            </Link>
          </>
        )}
        {bar.isHot &&
          bar.ahead > 0 &&
          ` ${bar.ahead} more ${bar.ahead === 1 ? 'line waits' : 'lines wait'} behind this one.`}
      </div>
      {bar.suggestion !== null && (
        <button type="button" className="btn btn-plain suggestion" onClick={bar.takeSuggestion}>
          <kbd>↓</kbd> file <b className="num">{bar.suggestion}</b>
        </button>
      )}
      <div className="keys">
        {filing && (
          <button type="button" onClick={bar.takeBack}>
            <kbd>Ctrl Z</kbd> undo {bar.last !== null && <span className="num">{bar.last}</span>}
          </button>
        )}
        <button
          type="button"
          onClick={bar.sound.toggle}
          aria-pressed={bar.sound.on}
          aria-label="Sound"
          title="Sound (Alt S)"
        >
          {bar.sound.on ? <Volume2 size={16} aria-hidden /> : <VolumeX size={16} aria-hidden />}
        </button>
        <button type="button" onClick={openKeys}>
          <kbd>?</kbd> keys
        </button>
      </div>
    </footer>
  );
}

const isDigit = (key: string): boolean => /^[\d.,+-]$/.test(key);

/**
 * A key that types something where nothing takes it. In a list of choices letters choose, and only figures are for the
 * bar.
 */
function isForTheBar({ key, ctrlKey, metaKey, altKey, isComposing, defaultPrevented, target }: KeyboardEvent): boolean {
  if (
    ctrlKey ||
    metaKey ||
    altKey ||
    isComposing ||
    defaultPrevented ||
    key.length !== 1 ||
    !/[\p{L}\d.,+-]/u.test(key)
  )
    return false;
  if (!(target instanceof Element) || target.closest('[role="dialog"]')) return false;
  if (target instanceof HTMLSelectElement) return target.form === null && isDigit(key);
  return !target.closest('input, textarea, [contenteditable="true"]');
}
