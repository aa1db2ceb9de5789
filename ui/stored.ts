'use client';

import { useSyncExternalStore } from 'react';

const changed = 'bold-ember-stored';

/** A text kept in this browser under a key; null where there is none, and while the page is made on the server. */
export const useStored = (key: string): string | null =>
  useSyncExternalStore(
    (tell) => {
      window.addEventListener(changed, tell);
      window.addEventListener('storage', tell);
      return () => {
        window.removeEventListener(changed, tell);
        window.removeEventListener('storage', tell);
      };
    },
    () => localStorage.getItem(key),
    () => null,
  );

export function store(key: string, text: string | null): void {
  if (text === null) localStorage.removeItem(key);
  else localStorage.setItem(key, text);
  window.dispatchEvent(new Event(changed));
}
