import { isDatabaseAway } from '@/records/database';
import { Link } from '@/ui/Link';
import { Settings2 } from 'lucide-react';
import type { ReactNode } from 'react';
import { frameFacts } from '@/workshop/frame';
import { Follow } from './Follow';
import { KeysHelp } from './KeysHelp';
import { Outbox } from './Outbox';
import { Stops } from './Stops';
import { ThemeSwitch } from './ThemeSwitch';
import { WatchPlace } from './WatchPlace';

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
        {facts && <Stops drawn={facts} />}
        <div className="quiet">
          <Link className="btn btn-quiet" href="/rules">
            <Settings2 size={16} aria-hidden /> <span>House rules</span>
          </Link>
          <ThemeSwitch theme={theme} />
        </div>
      </header>
      <Outbox />
      <main className="work" id="work">
        {facts ? children : <DatabaseAway />}
      </main>
      <WatchPlace drawn={facts} />
      {facts && (
        <Follow drawn={{ state: facts.state, newest: facts.newest, atMs: facts.atMs, judging: facts.judging }} />
      )}
      <KeysHelp />
    </div>
  );
}

const DatabaseAway = () => (
  <div className="sheet lead-ember empty" role="alert">
    <h1>The database cannot be reached</h1>
    <p>Everything that was filed is safe there. Start it again with bin/db start, then load this page again.</p>
  </div>
);
