'use client';

import { ReadingBar } from '@/ui/ReadingBar';
import { fileIntake, undoIntake } from './actions';
import { type EntryCell, understandIntake } from './entry';

/** The reading bar of a batch's intake. */
export function IntakeBar({ batchCode, currentCode, cells }: { batchCode: string; currentCode: string | null; cells: EntryCell[] }) {
  const cellOf = (code: string | null) => cells.find((cell) => cell.code === code) ?? null;
  const current = cellOf(currentCode);
  const next = current?.missing[0];
  const placeholder = next === 'voltage' ? '3.712, its volts' : next === 'weight' ? '44.6, its grams' : next === 'inspection' ? 'ok, or letters' : `${batchCode}-001 3.712`;
  return (
    <ReadingBar
      label={current ? `Reading of ${current.code}: ${next ?? 'again'}` : 'Reading'}
      placeholder={placeholder}
      understand={(text) => {
        const line = understandIntake(text, current, cellOf);
        if (line.kind === 'go') return { kind: 'go', said: `go to ${line.code}`, href: `/intake/${batchCode}?at=${line.code}` };
        return line.kind === 'readings' ? { kind: 'reading', said: line.said, asks: line.asks } : line;
      }}
      file={(text, entry, confirmed) => fileIntake(batchCode, currentCode, text, entry, confirmed)}
      undo={undoIntake}
    />
  );
}
