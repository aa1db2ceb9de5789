'use client';

import type { Voltmeter } from '@/core/judging/instrumentBook';
import { redoEntry, undoEntry } from '@/stations/entryActions';
import { Elsewhere } from '@/stations/frame/Elsewhere';
import type { EntryLine } from '@/ui/entryLine';
import { MeterChoice } from '@/ui/MeterChoice';
import { ReadingBar } from '@/ui/ReadingBar';
import { useChoice } from '@/ui/stored';
import { useMemo } from 'react';
import { type BatchMedian, type LineCell, parseIntakeLine } from '../intake/intakeLine';
import { fileBuildReading } from './actions';
import { packLine } from './need';

interface BuildBarProps {
  build: number;
  /** The one to read next; null where all were read today. */
  current: string | null;
  cells: LineCell[];
  median: BatchMedian;
  /** What another pack would be matched of. */
  model: string;
  meters: Voltmeter[];
}

/** The reading bar of a saved build: the voltage of each cell before it is joined, or what the next pack must be. */
export function BuildBar({ build, current: currentCode, cells, median, model, meters }: BuildBarProps) {
  const place = `build ${build}`;
  const [meter, setMeter] = useChoice(
    'meter',
    meters.map((one) => one.code),
  );
  const cellOf = (code: string | null) => cells.find((cell) => cell.code === code) ?? null;
  const current = cellOf(currentCode);
  const filing = useMemo(
    () => ({
      place,
      circumstances: { meter },
      file: (line: EntryLine) => fileBuildReading(build, line),
      undo: undoEntry,
      redo: redoEntry,
    }),
    [place, build, meter],
  );
  return (
    <div className="no-print">
      {meters.length > 0 && (
        <div className="d-flex flex-wrap align-items-center gap-2 mt-3">
          <MeterChoice label="Instrument for voltages" meters={meters} value={meter} choose={setMeter} />
        </div>
      )}
      <Elsewhere
        key={currentCode}
        place={place}
        concerns={(codes, roundId) => roundId === null && codes.some((code) => cellOf(code) !== null)}
      />
      <ReadingBar
        label={current ? `Voltage of ${current.code}` : 'A code and its voltage'}
        placeholder={current ? `3.712, volts of ${current.code}` : `${cells[0]?.code ?? 'S1-014'} 3.712`}
        figures={['-']}
        current={current?.code ?? null}
        understand={(text) => {
          const next = packLine(text, model);
          if (next) return next;
          const line = parseIntakeLine(text, current, cellOf, median, {
            meter: meters.find((one) => one.code === meter) ?? null,
            corrects: false,
          });
          if (line.kind === 'go') return { kind: 'go', said: `open ${line.code}`, href: `/cells/${line.code}` };
          return line.kind === 'readings' ? { ...line, kind: 'reading' } : line;
        }}
        filing={filing}
      />
    </div>
  );
}
