'use client';

import { useSyncExternalStore } from 'react';

const drawers = new Set<() => void>();

function subscribe(draw: () => void): () => void {
  drawers.add(draw);
  return () => drawers.delete(draw);
}

/** Whether this browser may notify outside its page; null where it has no such thing. */
const allowed = (): NotificationPermission | null => ('Notification' in window ? Notification.permission : null);

/** Notices outside the page, where the browser has them and a person allowed it. */
export function useNotices() {
  const permission = useSyncExternalStore(subscribe, allowed, () => null);
  return {
    /** Permission was not asked for yet. */
    canAsk: permission === 'default',
    async ask(): Promise<void> {
      await Notification.requestPermission();
      for (const draw of drawers) draw();
    },
    tell(text: string): void {
      if (allowed() !== 'granted') return;
      try {
        // The same notice of two pages is shown once.
        new Notification('Bold Ember', { body: text, tag: text });
      } catch {
        // Some phones show notices of installed pages only.
      }
    },
  };
}
