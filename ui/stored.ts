'use client';

import { useCallback, useSyncExternalStore } from 'react';

const changed = 'bold-ember-stored';

/**
 * `local` is shared by every window of this browser and outlives it; `session` is this window's alone, over reloads.
 */
type Area = 'local' | 'session';
const areaOf = (area: Area): Storage => (area === 'local' ? localStorage : sessionStorage);

/** A text kept in this browser under a key; null where there is none, and while the page is made on the server. */
export const useStored = (key: string, area: Area = 'local'): string | null =>
  useSyncExternalStore(
    (tell) => {
      window.addEventListener(changed, tell);
      window.addEventListener('storage', tell);
      return () => {
        window.removeEventListener(changed, tell);
        window.removeEventListener('storage', tell);
      };
    },
    () => areaOf(area).getItem(key),
    () => null,
  );

export const stored = (key: string, area: Area = 'local'): string | null => areaOf(area).getItem(key);

export function store(key: string, text: string | null, area: Area = 'local'): void {
  if (text === null) areaOf(area).removeItem(key);
  else areaOf(area).setItem(key, text);
  window.dispatchEvent(new Event(changed));
}

/**
 * A choice beside a bar, such as the meter read with: kept over reloads and stations; what is not among the choices any
 * more is none.
 */
export function useChoice(name: string, choices: readonly string[]): [string, (choice: string) => void] {
  const key = `bold-ember-choice ${name}`;
  const kept = useStored(key, 'session') ?? '';
  const choose = useCallback((choice: string) => store(key, choice === '' ? null : choice, 'session'), [key]);
  return [choices.includes(kept) ? kept : '', choose];
}
