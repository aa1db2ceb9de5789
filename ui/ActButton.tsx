'use client';

import { useTransition } from 'react';
import Button from 'react-bootstrap/Button';

/** A button that does one thing on the server. */
export function ActButton({ label, children, act }: { label: string; children: string; act(): Promise<void> }) {
  const [pending, start] = useTransition();
  return (
    <Button variant="quiet" className="text-nowrap" disabled={pending} aria-label={label} onClick={() => start(act)}>
      {children}
    </Button>
  );
}
