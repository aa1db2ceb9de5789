'use client';

import type { EntryLine } from '@/ui/entryLine';
import { useWaiting, type WaitingLine } from '@/ui/outbox';
import { ReadingBar } from '@/ui/ReadingBar';
import type { Voltmeter } from '@/core/judging/instrumentBook';
import { MeterChoice } from '@/ui/MeterChoice';
import { useChoice } from '@/ui/stored';
import { bodyText } from '@/words/bodies';
import { useRouter } from 'next/navigation';
import { weldText } from '@/ui/tokens';
import { startTransition, useMemo } from 'react';
import { fileIntake } from './actions';
import { redoEntry, undoEntry } from '@/stations/entryActions';
import { Elsewhere } from '@/stations/frame/Elsewhere';
import { type BatchMedian, type LineCell, fieldOf, parseIntakeLine } from './intakeLine';

/** What is typed for what a cell still lacks. */
const examples: Record<LineCell['missing'][number], string> = {
  voltage: '3.712, its volts',
  weight: '44.6, its grams',
  inspection: 'ok, or letters',
};

/** The cells as they will be once the entries that wait for the connection are filed. */
function afterWaiting(cells: LineCell[], waiting: readonly WaitingLine[]): LineCell[] {
  return waiting.reduce((now, one) => {
    const line = parseIntakeLine(
      one.text,
      now.find((cell) => cell.code === one.current) ?? null,
      (code) => now.find((cell) => cell.code === code) ?? null,
    );
    if (line.kind !== 'readings') return now;
    const read = Object.fromEntries(
      line.readings.flatMap((reading) => {
        const field = fieldOf[reading.kind];
        return field ? [[field, bodyText(reading)]] : [];
      }),
    );
    return now.map((cell) =>
      line.cells.includes(cell.code)
        ? { ...cell, has: { ...cell.has, ...read }, missing: cell.missing.filter((field) => !(field in read)) }
        : cell,
    );
  }, cells);
}

interface IntakeBarProps {
  batchCode: string;
  currentCode: string | null;
  /** The address says which cell is shown: for one filing. */
  isVisit: boolean;
  cells: LineCell[];
  /** What measures voltage. */
  meters: Voltmeter[];
  batch: BatchMedian;
}

/** The reading bar of a batch's intake. */
export function IntakeBar({ batchCode, currentCode, isVisit, cells: stored, meters, batch }: IntakeBarProps) {
  const router = useRouter();
  const place = `intake ${batchCode}`;
  const waiting = useWaiting(place);
  const [meter, setMeter] = useChoice(
    'meter',
    meters.map((one) => one.code),
  );
  const cells = useMemo(() => afterWaiting(stored, waiting), [stored, waiting]);
  const cellOf = (code: string | null) => cells.find((cell) => cell.code === code) ?? null;
  const shown = cellOf(currentCode);
  const current =
    waiting.length > 0 && shown?.missing.length === 0 ? (cells.find((cell) => cell.missing.length > 0) ?? null) : shown;
  const next = current?.missing[0];
  const placeholder = next ? examples[next] : `${batchCode}-001 3.712`;
  const filing = useMemo(
    () => ({
      place,
      circumstances: { meter },
      file: (line: EntryLine) => fileIntake(batchCode, line),
      filed: () => {
        // The cell stays until its steps are done, whatever the address says.
        if (isVisit) startTransition(() => router.replace(`/intake/${batchCode}`, { scroll: false }));
      },
      undo: undoEntry,
      redo: redoEntry,
    }),
    [place, batchCode, meter, isVisit, router],
  );
  return (
    <>
      {meters.length > 0 && (
        <div className="d-flex flex-wrap align-items-center gap-2 mt-3">
          <MeterChoice label="Instrument for voltages" meters={meters} value={meter} choose={setMeter} />
        </div>
      )}
      {waiting.length > 0 && current && (
        <p className="ask mt-2" role="status">
          No connection: what you type is kept here. Next is <b className="num">{current.code}</b>, {next ?? 'again'}.
        </p>
      )}
      <Elsewhere
        key={currentCode}
        place={place}
        concerns={(codes, roundId) => roundId === null && codes.some((code) => cellOf(code) !== null)}
      />
      <ReadingBar
        label={current ? `Reading of ${weldText([current.code, ...current.weldedTo])}: ${next ?? 'again'}` : 'Reading'}
        placeholder={placeholder}
        figures={['ok', '-', '+']}
        current={current?.code ?? null}
        understand={(text, corrects) => {
          if (current && isSkip(text))
            return {
              kind: 'go',
              said: `leave ${current.code} for later`,
              href: `/intake/${batchCode}?after=${current.code}`,
            };
          const line = parseIntakeLine(text, current, cellOf, batch, {
            meter: meters.find((one) => one.code === meter) ?? null,
            corrects,
          });
          if (line.kind === 'go')
            return { kind: 'go', said: `go to ${line.code}`, href: `/intake/${batchCode}?at=${line.code}` };
          return line.kind === 'readings' ? { ...line, kind: 'reading' } : line;
        }}
        filing={filing}
      />
    </>
  );
}

/** The line that leaves the cell shown for later. */
const isSkip = (text: string): boolean => text.trim() === '-' || text.trim().toLowerCase() === 'skip';
