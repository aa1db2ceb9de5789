'use client';

import type { Answer } from '@/stations/answer';
import { useState, useTransition } from 'react';
import Button from 'react-bootstrap/Button';
import { display, formatRead } from '@/core/quantity/format';
import type { Adjustment } from '@/core/judging/judgeSheet';
import { adjustedAction, calibrateAction } from './actions';

interface CalibrateButtonsProps {
  sheetId: number;
  name: string;
  /** Where the device itself can be set instead; null where the reference is not known. */
  adjustment: Omit<Adjustment, 'correction'> | null;
  /** Its last digit, V. */
  stepV: number;
}

/** Corrects one channel by the sheet shown, by an offset or a line; or notes that the device itself was adjusted. */
export function CalibrateButtons({ sheetId, name, adjustment, stepV }: CalibrateButtonsProps) {
  const [refused, setRefused] = useState<string | null>(null);
  const [pending, start] = useTransition();
  const act = (work: () => Promise<Answer>) =>
    start(async () => {
      const answer = await work();
      setRefused(answer.ok ? null : answer.said);
    });
  const correct = (kind: 'offset' | 'line') => act(() => calibrateAction(sheetId, name, kind));
  return (
    <div className="d-flex flex-wrap gap-2 align-items-center">
      <Button variant="ember" disabled={pending} onClick={() => correct('offset')}>
        Correct {name} by an offset
      </Button>
      <Button variant="plain" disabled={pending} onClick={() => correct('line')}>
        by offset and gain
      </Button>
      {adjustment && (
        <p className="w-100 mb-0">
          Or adjust the device itself: on B{adjustment.position} set {name} to show{' '}
          <b className="num">{formatRead(adjustment.setToV, stepV, display.voltage)}</b> (it showed{' '}
          <span className="num">{formatRead(adjustment.showedV, stepV, display.voltage)}</span>).{' '}
          <Button variant="quiet" disabled={pending} onClick={() => act(() => adjustedAction(sheetId, name))}>
            Mark as adjusted
          </Button>
        </p>
      )}
      {refused && (
        <p className="hot mb-0" role="alert">
          ◆ {refused}
        </p>
      )}
    </div>
  );
}
