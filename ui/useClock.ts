'use client';

import { useEffect, useState } from 'react';

/**
 * The workshop's clock, second by second; null until it is known.
 *
 * @param aheadMs of this browser's; null while that is not known
 */
export function useClock(aheadMs: number | null): number | null {
  const [now, setNow] = useState<number | null>(null);
  useEffect(() => {
    if (aheadMs === null) return;
    const tick = () => setNow(Date.now() + aheadMs);
    tick();
    const timer = setInterval(tick, 1000);
    return () => clearInterval(timer);
  }, [aheadMs]);
  return now;
}
