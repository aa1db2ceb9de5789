'use client';

import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { useFollowing } from './stream';
import { untilThere } from './there';

/** The way to another screen of the workshop that a click takes; null where it does something else. */
function wayOf(event: MouseEvent): string | null {
  const way = event.target instanceof Element ? event.target.closest('a') : null;
  const isPlain = event.button === 0 && !event.ctrlKey && !event.metaKey && !event.shiftKey && !event.altKey;
  if (!way || !isPlain || way.target !== '' || way.download !== '' || way.origin !== location.origin) return null;
  const isHere = way.pathname === location.pathname && way.search === location.search;
  return isHere ? null : way.pathname + way.search + way.hash;
}

/**
 * Without a connection every way ends at a page of the browser's own. The screen stays instead, and the way is taken
 * once the workshop answers: that it is not heard may also be for another reason.
 */
export function WayAway() {
  const router = useRouter();
  const { isConnected } = useFollowing();
  const [wanted, setWanted] = useState<string | null>(null);
  useEffect(() => {
    if (isConnected) return;
    const stay = (event: MouseEvent) => {
      const way = wayOf(event);
      if (way === null) return;
      event.preventDefault();
      setWanted(way);
    };
    // Before the link itself hears of it.
    document.addEventListener('click', stay, true);
    return () => document.removeEventListener('click', stay, true);
  }, [isConnected]);
  useEffect(() => {
    if (wanted === null) return;
    let isOver = false;
    void untilThere(() => isOver).then(() => {
      if (isOver) return;
      setWanted(null);
      router.push(wanted);
    });
    return () => {
      isOver = true;
    };
  }, [wanted, router]);
  return (
    <p className={wanted === null ? 'visually-hidden' : 'back'} role="status">
      {wanted !== null && (
        <>
          No connection: the screen you asked for opens as soon as it is back.{' '}
          <button type="button" className="btn btn-quiet" onClick={() => setWanted(null)}>
            Stay here
          </button>
        </>
      )}
    </p>
  );
}
