'use client';

import { Link } from '@/ui/Link';
import type { FrameFacts } from '@/workshop/frame';
import { When } from '@/ui/When';
import { Judging } from './Judging';
import { useFollowing, useFrame } from './stream';
import { Watch } from './Watch';

/** Beside every screen: what rests, how far the judging is, when a backup was made. */
export const WatchPlace = ({ drawn }: { drawn: FrameFacts | null }) => (
  <aside className="watch" aria-label="Watch">
    <div tabIndex={0} role="group" aria-label="On the watch">
      <h2>Watch</h2>
      {drawn ? <OnWatch drawn={drawn} /> : <p className="soft">Rests and jobs are not known.</p>}
    </div>
  </aside>
);

function OnWatch({ drawn }: { drawn: FrameFacts }) {
  const { watch, due, judging, backupAt, atMs } = useFrame(drawn);
  const { aheadMs, isConnected } = useFollowing();
  return (
    <>
      <Watch resting={watch} due={due} aheadMs={aheadMs} />
      {judging && <Judging {...judging} />}
      {!isConnected && (
        <p className="soft" role="status">
          No connection: this is how it was at <When at={atMs} as="HH:mm" />.
        </p>
      )}
      <p className="backup soft">
        <Link href="/access">
          {backupAt === null ? (
            'No backup yet'
          ) : (
            <>
              Last backup <When at={backupAt} as="d MMM HH:mm" />
            </>
          )}
        </Link>
      </p>
    </>
  );
}
