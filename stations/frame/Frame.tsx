import { isDatabaseAway } from '@/records/database';
import { Settings2 } from 'lucide-react';
import { format } from 'date-fns';
import Link from 'next/link';
import type { ReactNode } from 'react';
import { type FrameFacts, frameFacts } from '@/workshop/frame';
import { Judging } from './Judging';
import { KeysHelp } from './KeysHelp';
import { Stops } from './Stops';
import { ThemeSwitch } from './ThemeSwitch';
import { Watch } from './Watch';

/** What surrounds every screen: bench line, watch, keys. Without its database it says so and how to go on. */
export async function Frame({ theme, children }: { theme: 'light' | 'dark'; children: ReactNode }) {
  const facts = await frameFacts().catch((error: unknown) => {
    if (isDatabaseAway(error)) return null;
    throw error;
  });
  return (
    <div className="frame">
      <a className="skip" href="#work">
        To the work
      </a>
      <header className="bench-line">
        <Link className="brand" href="/">
          Bold
          <br />
          Ember
          <i />
        </Link>
        <Stops stops={facts?.stops ?? []} />
        <div className="quiet">
          <Link className="btn btn-quiet" href="/rules">
            <Settings2 size={16} aria-hidden /> <span>House rules</span>
          </Link>
          <ThemeSwitch theme={theme} />
        </div>
      </header>
      <main className="work" id="work">
        {facts ? children : <DatabaseAway />}
      </main>
      <WatchPlace facts={facts} />
      <KeysHelp />
    </div>
  );
}

const WatchPlace = ({ facts }: { facts: FrameFacts | null }) => (
  <aside className="watch" aria-label="Watch">
    <div tabIndex={0} role="group" aria-label="On the watch">
      <h2>Watch</h2>
      <Watch resting={(facts?.resting ?? []).map((rest) => ({ ...rest, dueAt: rest.dueAt.getTime() }))} />
      {facts?.judging && <Judging {...facts.judging} />}
      {facts && (
        <p className="backup soft">
          <Link href="/access">
            {facts.backupAt ? `Last backup ${format(facts.backupAt, 'd MMM HH:mm')}` : 'No backup yet'}
          </Link>
        </p>
      )}
    </div>
  </aside>
);

const DatabaseAway = () => (
  <div className="sheet lead-ember empty" role="alert">
    <h1>The database cannot be reached</h1>
    <p>Everything that was filed is safe there. Start it again with bin/db start, then load this page anew.</p>
  </div>
);
