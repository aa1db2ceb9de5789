'use client';

import { usePathname } from 'next/navigation';
import { useRef } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link } from '@/ui/Link';
import { counted } from '@/words/counted';
import type { FrameFacts } from '@/workshop/frame';
import { stationAt, stations } from '@/workshop/stations';
import { useFrame } from './stream';

/** The stations as navigation; Alt and a number goes there. */
export function Stops({ drawn }: { drawn: FrameFacts }) {
  const { stops } = useFrame(drawn);
  const path = usePathname();
  const place = useRef<HTMLElement>(null);
  useHotkeys(
    stops.map((_, i) => `alt+${i + 1}`),
    (_, handler) => {
      place.current?.querySelectorAll('a')[Number(handler.keys?.at(-1)?.replace(/\D/g, '')) - 1]?.click();
    },
    { enableOnFormTags: true, preventDefault: true },
  );
  return (
    <nav ref={place} className="stops" aria-label="Stations">
      {stops.map(({ key, count, hot }) => {
        const { name, address, waits } = stations[key];
        const here = name === stationAt(path)?.name;
        return (
          <Link
            key={address}
            href={address}
            className={`stop${count === 0 ? ' none' : ''}`}
            aria-current={here ? 'page' : undefined}
          >
            <b>{count}</b>
            {name}
            <span className="visually-hidden">, {counted(count, waits.one, waits.many)}</span>
            {hot && !here && <span className="flag" />}
          </Link>
        );
      })}
    </nav>
  );
}
