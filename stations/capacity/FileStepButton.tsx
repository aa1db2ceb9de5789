'use client';

import { useState, useTransition } from 'react';
import Button from 'react-bootstrap/Button';
import { fileStepAction } from './actions';

/** Files a step of a log as the ten-second resistance of its cell. */
export function FileStepButton({ runId, atS }: { runId: number; atS: number }) {
  const [refused, setRefused] = useState<string | null>(null);
  const [pending, start] = useTransition();
  return (
    <>
      <Button
        variant="quiet"
        disabled={pending}
        aria-label={`File the step at ${Math.round(atS)} s`}
        onClick={() =>
          start(async () => {
            const answer = await fileStepAction(runId, atS);
            setRefused(answer.ok ? null : answer.said);
          })
        }
      >
        File
      </Button>
      {refused && (
        <span className="hot" role="alert">
          {refused}
        </span>
      )}
    </>
  );
}
