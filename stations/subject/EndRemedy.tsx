'use client';

import { useState, useTransition } from 'react';
import Button from 'react-bootstrap/Button';
import { endRemedyAction } from '../clinic/remedyActions';

/** Says that a pack is balanced, or was stopped. */
export function EndRemedy({ code, entry }: { code: string; entry: string }) {
  const [pending, start] = useTransition();
  const [said, setSaid] = useState('');
  const end = () =>
    start(async () => {
      const answer = await endRemedyAction(code, entry);
      setSaid(answer.ok ? '' : answer.said);
    });
  return (
    <>
      <Button variant="ember" disabled={pending} onClick={end}>
        It is done, or stopped
      </Button>
      {said !== '' && (
        <p role="status" className="mb-0">
          {said}
        </p>
      )}
    </>
  );
}
