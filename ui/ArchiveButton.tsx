'use client';

import { useTransition } from 'react';
import Button from 'react-bootstrap/Button';

/** Puts something away that is not used any more, or takes it out again; what was done with it stays. */
export function ArchiveButton({ name, away, act }: { name: string; away: boolean; act(): Promise<void> }) {
  const [pending, start] = useTransition();
  return (
    <Button variant="quiet" disabled={pending} aria-label={`${away ? 'Put away' : 'Take out again'} ${name}`} onClick={() => start(act)}>
      {away ? 'Put away' : 'Take out again'}
    </Button>
  );
}
