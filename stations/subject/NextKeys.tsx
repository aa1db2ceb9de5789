'use client';

import { Link } from '@/ui/Link';
import { useRouter } from 'next/navigation';
import { useHotkeys } from 'react-hotkeys-hook';

/** Something that can be done with a cell or pack: a letter with Alt, and the way there; `#…` on its own page. */
export interface Act {
  key: string;
  does: string;
  href: string;
}

/** What can be done next, one key each. */
export function NextKeys({ acts }: { acts: Act[] }) {
  const router = useRouter();
  const go = (href: string) => {
    if (!href.startsWith('#')) return router.push(href);
    const place = document.getElementById(href.slice(1));
    place?.closest('details')?.setAttribute('open', '');
    place?.scrollIntoView({ block: 'center' });
    const first = 'input:not([type=hidden]), select';
    (place?.matches(first) ? place : place?.querySelector<HTMLElement>(first))?.focus();
  };
  useHotkeys(
    acts.map(({ key }) => `alt+${key}`),
    (_, { keys }) => {
      const act = acts.find(({ key }) => key === keys?.at(-1));
      if (act) go(act.href);
    },
    { enableOnFormTags: true, preventDefault: true },
  );
  return (
    <ul className="acts" aria-label="What can be done next">
      {acts.map(({ key, does, href }) => (
        <li key={key}>
          <Link
            href={href}
            onClick={(event) => {
              if (!href.startsWith('#')) return;
              event.preventDefault();
              go(href);
            }}
          >
            <kbd>Alt {key.toUpperCase()}</kbd> {does}
          </Link>
        </li>
      ))}
    </ul>
  );
}
