'use client';

import { useTransition } from 'react';
import Button from 'react-bootstrap/Button';
import { withdrawAction } from './actions';

/** Withdraws a calibration with one act. */
export function WithdrawCalibration({ id, name }: { id: number; name: string }) {
  const [pending, start] = useTransition();
  return (
    <Button
      variant="quiet"
      disabled={pending}
      aria-label={`Withdraw the calibration of ${name}`}
      onClick={() => start(() => withdrawAction(id, 'withdrawn at the bench'))}
    >
      Withdraw
    </Button>
  );
}
