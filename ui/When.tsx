'use client';

import { format } from 'date-fns';
import { useSyncExternalStore } from 'react';

const never = () => () => undefined;

/**
 * A moment as a clock on the reader's wall shows it. The server draws it by its own zone first; the browser draws it
 * again by the reader's.
 *
 * @param as a pattern of date-fns: `d MMM yyyy HH:mm`
 * @param isDrawn it stands in a text of a picture, which shows no other element
 */
export function When({ at, as, isDrawn = false }: { at: Date | number; as: string; isDrawn?: boolean }) {
  const Part = isDrawn ? 'tspan' : 'time';
  const isHere = useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
  return (
    <Part key={String(isHere)} suppressHydrationWarning>
      {format(at, as)}
    </Part>
  );
}
