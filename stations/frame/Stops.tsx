'use client';

import Link from 'next/link';
import { usePathname, useRouter } from 'next/navigation';
import { useHotkeys } from 'react-hotkeys-hook';
import type { Stop } from '@/workshop/stations';

/** The stations as navigation; Alt and a number goes there. */
export function Stops({ stops }: { stops: Stop[] }) {
  const path = usePathname();
  const router = useRouter();
  useHotkeys(
    stops.map((_, i) => `alt+${i + 1}`),
    (_, handler) => {
      const stop = stops[Number(handler.keys?.at(-1)?.replace(/\D/g, '')) - 1];
      if (stop) router.push(stop.href);
    },
    { enableOnFormTags: true, preventDefault: true },
  );
  return (
    <nav className="stops" aria-label="Stations">
      {stops.map((stop) => {
        const here = path.startsWith(stop.href) || (stop.href === '/shelf' && path.startsWith('/cells'));
        return (
          <Link
            key={stop.href}
            href={stop.href}
            className={`stop${stop.count === 0 ? ' none' : ''}`}
            aria-current={here ? 'page' : undefined}
            prefetch={false}
          >
            <b>{stop.count}</b>
            {stop.name}
            <span className="visually-hidden">, {stop.counts}</span>
            {stop.hot && !here && <span className="flag" />}
          </Link>
        );
      })}
    </nav>
  );
}
