'use client';

import type { EntryLine } from '@/ui/entryLine';
import { ReadingBar } from '@/ui/ReadingBar';
import { useMemo } from 'react';
import { fileSheetLine } from './actions';
import { redoEntry, undoEntry } from '@/stations/entryActions';
import { type SheetInstrument, shownKey, understandSheetLine } from './sheetLine';

interface SheetBarProps {
  sheetId: number;
  position: number;
  batteries: string[];
  /** The batteries are the groups of a pack. */
  isPack: boolean;
  instruments: SheetInstrument[];
  /** The median of what was read on each battery so far, by position from 1. */
  othersV: (number | null)[];
  /** What each channel showed on each battery, in words, by battery, code and channel. */
  standing: Record<string, string>;
}

/** The reading bar of a sheet: an instrument and what it shows, or another battery. */
export function SheetBar({
  sheetId,
  position,
  batteries,
  isPack,
  instruments,
  othersV,
  standing: earlier,
}: SheetBarProps) {
  const filing = useMemo(
    () => ({
      place: `check ${sheetId}`,
      file: (line: EntryLine) => fileSheetLine(sheetId, line),
      undo: undoEntry,
      redo: redoEntry,
    }),
    [sheetId],
  );
  const [first] = instruments;
  const figures = isPack ? batteries.length : (first?.channels ?? 0);
  const shown = Array.from({ length: Math.min(figures, 3) }, () => '3.71');
  const example = first
    ? [first.code, ...shown, ...(figures > 3 ? ['…'] : [])].join(' ')
    : 'put an instrument on the bench first';
  return (
    <ReadingBar
      label={`Readings on B${position}, ${batteries[position - 1] ?? ''}`}
      placeholder={`${example}, or B2`}
      figures={instruments.slice(0, 4).map((one) => `${one.code} `)}
      current={`B${position}`}
      understand={(text, corrects) => {
        const line = understandSheetLine(text, position, instruments, batteries.length, {
          othersV: (at) => othersV[at - 1] ?? null,
          standing: (at, code, channel) => earlier[shownKey(at, code, channel)] ?? null,
          corrects,
          isPack,
        });
        if (line.kind === 'battery')
          return {
            kind: 'go',
            said: `go to B${line.position}, ${batteries[line.position - 1]}`,
            href: `/instruments/check/${sheetId}?at=${line.position}`,
          };
        return line.kind === 'readings' ? { ...line, kind: 'reading' } : line;
      }}
      filing={filing}
    />
  );
}
