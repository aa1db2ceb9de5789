'use client';

import type { EntryLine } from '@/ui/entryLine';
import { useWaiting, type WaitingEntry } from '@/ui/entryQueue';
import { ReadingBar } from '@/ui/ReadingBar';
import { useMemo, useState } from 'react';
import { fileIntake, redoIntake, undoIntake } from './actions';
import { type EntryCell, type IntakeField, understandIntake } from './entry';

const fieldOf = { voltage: 'voltage', mass: 'weight', inspection: 'inspection' } as const satisfies Record<string, IntakeField>;

/** The cells as they will be once the entries that wait for the connection are filed. */
function afterWaiting(cells: EntryCell[], waiting: readonly WaitingEntry[]): EntryCell[] {
  return waiting.reduce((now, one) => {
    const line = understandIntake(one.text, now.find((cell) => cell.code === one.current) ?? null, (code) => now.find((cell) => cell.code === code) ?? null);
    if (line.kind !== 'readings') return now;
    const read = line.readings.map((reading) => fieldOf[reading.kind]);
    return now.map((cell) => (cell.code === line.code ? { ...cell, missing: cell.missing.filter((field) => !read.includes(field)) } : cell));
  }, cells);
}

interface IntakeBarProps {
  batchCode: string;
  currentCode: string | null;
  cells: EntryCell[];
  /** Code and name of what measures voltage. */
  instruments: [string, string][];
  batchV: number | null;
}

/** The reading bar of a batch's intake. */
export function IntakeBar({ batchCode, currentCode, cells: stored, instruments, batchV }: IntakeBarProps) {
  const place = `intake ${batchCode}`;
  const waiting = useWaiting(place);
  const [meter, setMeter] = useState('');
  const cells = useMemo(() => afterWaiting(stored, waiting), [stored, waiting]);
  const cellOf = (code: string | null) => cells.find((cell) => cell.code === code) ?? null;
  const shown = cellOf(currentCode);
  const current = waiting.length > 0 && shown?.missing.length === 0 ? (cells.find((cell) => cell.missing.length > 0) ?? null) : shown;
  const next = current?.missing[0];
  const placeholder = next === 'voltage' ? '3.712, its volts' : next === 'weight' ? '44.6, its grams' : next === 'inspection' ? 'ok, or letters' : `${batchCode}-001 3.712`;
  const filing = useMemo(
    () => ({
      place,
      circumstances: { meter },
      file: (line: EntryLine) => fileIntake(batchCode, line),
      undo: undoIntake,
      redo: redoIntake,
    }),
    [place, batchCode, meter],
  );
  return (
    <>
      {instruments.length > 0 && (
        <label className="d-flex flex-wrap align-items-center gap-2 mt-3">
          <span className="form-label mb-0">Voltages are read with</span>
          <select className="form-select" style={{ width: 'auto', maxWidth: '100%' }} value={meter} onChange={(event) => setMeter(event.target.value)}>
            <option value="">some meter</option>
            {instruments.map(([code, name]) => (
              <option key={code} value={code}>
                {code}: {name}
              </option>
            ))}
          </select>
        </label>
      )}
      {waiting.length > 0 && current && (
        <p className="ask mt-2" role="status">
          No connection: what you type is kept here. Next is <b className="num">{current.code}</b>, {next ?? 'again'}.
        </p>
      )}
      <ReadingBar
        label={current ? `Reading of ${current.code}: ${next ?? 'again'}` : 'Reading'}
        placeholder={placeholder}
        current={current?.code ?? null}
        understand={(text) => {
          const line = understandIntake(text, current, cellOf, batchV);
          if (line.kind === 'go') return { kind: 'go', said: `go to ${line.code}`, href: `/intake/${batchCode}?at=${line.code}` };
          return line.kind === 'readings' ? { ...line, kind: 'reading' } : line;
        }}
        filing={filing}
      />
    </>
  );
}
