'use client';

import { useEffect, useState } from 'react';

/**
 * The workshop's clock, second by second; null until the page is in a browser.
 *
 * @param aheadMs of this browser's
 */
export function useClock(aheadMs: number): number | null {
  const [now, setNow] = useState<number | null>(null);
  useEffect(() => {
    const tick = () => setNow(Date.now() + aheadMs);
    tick();
    const timer = setInterval(tick, 1000);
    return () => clearInterval(timer);
  }, [aheadMs]);
  return now;
}
