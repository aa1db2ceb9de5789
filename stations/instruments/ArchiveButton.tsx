'use client';

import { useTransition } from 'react';
import Button from 'react-bootstrap/Button';
import { archiveInstrumentAction } from './actions';

/** Puts an instrument away, or takes it out again. */
export function ArchiveButton({ id, code, away }: { id: number; code: string; away: boolean }) {
  const [pending, start] = useTransition();
  return (
    <Button variant="quiet" disabled={pending} aria-label={`${away ? 'Put away' : 'Take out again'} ${code}`} onClick={() => start(() => archiveInstrumentAction(id, away))}>
      {away ? 'Put away' : 'Take out again'}
    </Button>
  );
}
