'use client';

import { redoEntry, undoEntry } from '@/stations/entryActions';
import { ReadingBar } from '@/ui/ReadingBar';
import { useMemo } from 'react';
import { fileRescueReading } from './actions';
import { understandRescue } from './rescueLine';

/** The reading bar of a rescue: every group, the skin, the hand. */
export function RescueBar({ code, series }: { code: string; series: number }) {
  const filing = useMemo(
    () => ({ place: `rescue ${code}`, file: fileRescueReading, undo: undoEntry, redo: redoEntry }),
    [code],
  );
  return (
    <ReadingBar
      label={`Every group of ${code} now`}
      placeholder={`${series} volts, 24C on its surface, warm`}
      figures={[' 24C', ' warm']}
      current={code}
      understand={(text) => {
        const line = understandRescue(text, code, series);
        return line.kind === 'reading' ? { kind: 'reading', said: line.said, asks: null, code, inFull: text } : line;
      }}
      filing={filing}
    />
  );
}
