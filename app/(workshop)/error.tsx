'use client';

import Button from 'react-bootstrap/Button';

export default function ScreenError({ retry, reset }: { error: Error; retry?: () => void; reset: () => void }) {
  return (
    <div className="sheet lead-ember empty" role="alert">
      <h1>This screen could not be made</h1>
      <p>
        Nothing that you entered is lost: every entry is stored before the next is asked for. If the database was
        restarted, trying again is enough.
      </p>
      <Button variant="ember" onClick={() => (retry ?? reset)()}>
        Try again
      </Button>
    </div>
  );
}
