'use client';

import { useState, useTransition } from 'react';
import Button from 'react-bootstrap/Button';
import { calibrateAction } from './actions';

/** Corrects one channel by the sheet shown: by an offset, or by offset and gain. */
export function CalibrateButtons({ sheetId, name }: { sheetId: number; name: string }) {
  const [refused, setRefused] = useState<string | null>(null);
  const [pending, start] = useTransition();
  const correct = (kind: 'offset' | 'line') =>
    start(async () => {
      const answer = await calibrateAction(sheetId, name, kind);
      setRefused(answer.ok ? null : answer.said);
    });
  return (
    <div className="d-flex flex-wrap gap-2 align-items-center">
      <Button variant="ember" disabled={pending} onClick={() => correct('offset')}>
        Correct {name} by an offset
      </Button>
      <Button variant="plain" disabled={pending} onClick={() => correct('line')}>
        by offset and gain
      </Button>
      {refused && (
        <p className="hot mb-0" role="alert">
          ◆ {refused}
        </p>
      )}
    </div>
  );
}
