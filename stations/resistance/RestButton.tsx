'use client';

import { useTransition } from 'react';
import Button from 'react-bootstrap/Button';
import { beginRestAction } from './actions';

export function RestButton({ batchCode }: { batchCode: string }) {
  const [pending, start] = useTransition();
  return (
    <Button variant="plain" size="sm" disabled={pending} onClick={() => start(() => beginRestAction(batchCode))}>
      Rest {batchCode}
    </Button>
  );
}
