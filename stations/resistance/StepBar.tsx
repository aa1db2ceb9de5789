'use client';

import { ReadingBar } from '@/ui/ReadingBar';
import { fileStep, undoStep } from './actions';
import { type RoundCell, type RoundContext, understandStep } from './entry';

/** The reading bar of a resistance round. */
export function StepBar({ roundId, round, currentCode, cells }: { roundId: number; round: RoundContext; currentCode: string | null; cells: RoundCell[] }) {
  const cellOf = (code: string | null) => cells.find((cell) => cell.code === code) ?? null;
  return (
    <ReadingBar
      label={currentCode ? `Open and loaded voltage of ${currentCode}` : 'Reading'}
      placeholder={round.method === 'resistor' ? '4.03 3.91: open, loaded' : '4.03 3.91 1.74: with amps'}
      understand={(text) => {
        const line = understandStep(text, round, cellOf(currentCode), cellOf);
        if (line.kind === 'go') return { kind: 'go', said: `go to ${line.code}`, href: `/resistance/${roundId}?at=${line.code}` };
        return line.kind === 'step' ? { kind: 'reading', said: line.said, asks: line.asks } : line;
      }}
      file={(text, entry, confirmed) => fileStep(roundId, currentCode, text, entry, confirmed)}
      undo={undoStep}
    />
  );
}
