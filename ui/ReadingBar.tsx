'use client';

import { Volume2, VolumeX } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { openKeys } from './keys';
import { type Filing, type Understood, useReadingBar } from './useReadingBar';

interface ReadingBarProps {
  /** What is typed here, for the label and the empty line. */
  label: string;
  placeholder: string;
  understand(text: string): Understood;
  /** The cell or pack that is shown. */
  current?: string | null;
  filing?: Filing;
}

/** One line at the bottom of every screen: type, see what was understood, Enter files it. */
export function ReadingBar({ label, placeholder, understand, current = null, filing }: ReadingBarProps) {
  const input = useRef<HTMLInputElement>(null);
  const bar = useReadingBar(understand, current, filing);

  useHotkeys('slash', (event) => {
    event.preventDefault();
    input.current?.focus();
  });
  useEffect(() => {
    if (window.matchMedia('(pointer: fine)').matches) input.current?.focus({ preventScroll: true });
  }, []);

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
          aria-label={label}
          placeholder={placeholder}
          value={bar.text}
          onChange={(event) => bar.type(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'ArrowUp' && bar.text === '' && bar.correct()) event.preventDefault();
          }}
          autoComplete="off"
          autoCapitalize="characters"
          spellCheck={false}
          enterKeyHint="done"
        />
      </form>
      <div className={`said${bar.isHot ? ' asks' : ''}`} role="status" aria-live="polite">
        {bar.isHot && <span aria-hidden>◆ </span>}
        {bar.said}
        {bar.isHot && bar.ahead > 0 && ` ${bar.ahead} more ${bar.ahead === 1 ? 'line waits' : 'lines wait'} behind this one.`}
      </div>
      {bar.waiting.length > 0 && <Waiting bar={bar} />}
      <div className="keys">
        {filing && (
          <button type="button" onClick={bar.takeBack}>
            <kbd>Ctrl Z</kbd> undo
          </button>
        )}
        <button type="button" onClick={bar.sound.toggle} aria-pressed={bar.sound.on} aria-label="Sound" title="Sound (Alt S)">
          {bar.sound.on ? <Volume2 size={16} aria-hidden /> : <VolumeX size={16} aria-hidden />}
        </button>
        <button type="button" onClick={openKeys}>
          <kbd>?</kbd> keys
        </button>
      </div>
    </footer>
  );
}

/** What is kept in this browser and not filed: each line can be looked at, changed and dropped. */
function Waiting({ bar: { waiting, drop, change, tryNow } }: { bar: ReturnType<typeof useReadingBar> }) {
  const refused = waiting.filter((one) => one.refused !== null).length;
  return (
    <details className="waiting" aria-label="Kept in this browser" open={refused > 0}>
      <summary className="tag hot">
        ◆ {waiting.length} not filed yet{refused > 0 && `, ${refused} refused`}
      </summary>
      <div className="held">
        <ul>
          {waiting.map((one) => (
            <li key={one.entry}>
              <b className="num">{one.inFull}</b> <span className={one.refused === null ? 'soft' : 'hot'}>{one.refused ?? 'waits for the connection'}</span>
              <button type="button" className="btn btn-quiet" onClick={() => change(one)}>
                Change
              </button>
              <button type="button" className="btn btn-quiet" onClick={() => drop(one.entry)}>
                Drop it
              </button>
            </li>
          ))}
        </ul>
        {waiting.length > refused && (
          <button type="button" className="btn btn-quiet" onClick={tryNow}>
            Send now
          </button>
        )}
      </div>
    </details>
  );
}
