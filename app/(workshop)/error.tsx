'use client';

import { useFollowing } from '@/stations/frame/stream';
import { useEffect, useEffectEvent, useRef } from 'react';
import Button from 'react-bootstrap/Button';

/** In place of a screen that could not be made. One that only lacked the connection comes by itself when it is back. */
export default function ScreenError({ retry, reset }: { error: Error; retry?: () => void; reset: () => void }) {
  const { isConnected } = useFollowing();
  const tryAgain = retry ?? reset;
  const comeBack = useEffectEvent(tryAgain);
  const wasAway = useRef(false);
  useEffect(() => {
    if (isConnected && wasAway.current) comeBack();
    wasAway.current = !isConnected;
  }, [isConnected]);
  return (
    <div className="sheet lead-ember empty" role="alert">
      <h1>{isConnected ? 'This screen could not be made' : 'No connection'}</h1>
      <p>
        Nothing that you entered is lost: every entry is stored before the next is asked for.{' '}
        {isConnected
          ? 'If the database was restarted, trying again is enough.'
          : 'This screen comes by itself when the connection is back.'}
      </p>
      <Button variant="ember" onClick={() => tryAgain()}>
        Try again
      </Button>
    </div>
  );
}
