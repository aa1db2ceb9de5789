'use client';

import { format } from 'date-fns';
import { useSyncExternalStore } from 'react';

const never = () => () => undefined;

/**
 * A moment as a clock on the reader's wall shows it. The server draws it by its own zone first; the browser draws it
 * again by the reader's.
 *
 * @param as a pattern of date-fns: `d MMM yyyy HH:mm`
 */
export function When({ at, as }: { at: Date | number; as: string }) {
  const isHere = useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
  return (
    <time key={String(isHere)} suppressHydrationWarning>
      {format(at, as)}
    </time>
  );
}
