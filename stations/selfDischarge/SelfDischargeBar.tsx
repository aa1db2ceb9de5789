'use client';

import type { Voltmeter } from '@/core/judging/instrumentBook';
import { redoEntry, undoEntry } from '@/stations/entryActions';
import { Elsewhere } from '@/stations/frame/Elsewhere';
import type { EntryLine } from '@/ui/entryLine';
import { MeterChoice } from '@/ui/MeterChoice';
import { ReadingBar } from '@/ui/ReadingBar';
import { useChoice } from '@/ui/stored';
import { useRouter } from 'next/navigation';
import { startTransition, useMemo } from 'react';
import { fileSelfDischarge } from './actions';
import { type SelfDischargeSubject, parseSelfDischargeLine } from './selfDischargeLine';

interface SelfDischargeBarProps {
  holdId: number;
  /** The one to read next; null where all were read. */
  current: SelfDischargeSubject | null;
  /** The address says which is shown: for one filing. */
  isVisit: boolean;
  subjects: SelfDischargeSubject[];
  meters: Voltmeter[];
}

/** The reading bar of a self-discharge test. */
export function SelfDischargeBar({ holdId, current, isVisit, subjects, meters }: SelfDischargeBarProps) {
  const router = useRouter();
  const place = `hold ${holdId}`;
  const [meter, setMeter] = useChoice(
    'meter',
    meters.map((one) => one.code),
  );
  const subjectOf = (code: string) => subjects.find((one) => one.code === code) ?? null;
  const filing = useMemo(
    () => ({
      place,
      circumstances: { meter },
      file: (line: EntryLine) => fileSelfDischarge(holdId, line),
      filed: () => {
        if (isVisit) startTransition(() => router.replace(`/self-discharge/${holdId}`, { scroll: false }));
      },
      undo: undoEntry,
      redo: redoEntry,
    }),
    [place, holdId, meter, isVisit, router],
  );
  return (
    <>
      {meters.length > 0 && (
        <div className="d-flex flex-wrap align-items-center gap-2 mt-3">
          <MeterChoice label="Instrument, the same each time" meters={meters} value={meter} choose={setMeter} />
        </div>
      )}
      <Elsewhere
        key={current?.code}
        place={place}
        concerns={(codes, roundId) => roundId === null && codes.some((code) => subjectOf(code) !== null)}
      />
      <ReadingBar
        label={current ? `Voltage of ${current.code}` : 'A code and its voltage'}
        placeholder={current ? exampleOf(current) : `${subjects[0]?.code ?? 'S1-014'} 4.143`}
        figures={['-']}
        current={current?.code ?? null}
        understand={(text) => {
          const line = parseSelfDischargeLine(
            text,
            current,
            subjectOf,
            meters.find((one) => one.code === meter) ?? null,
          );
          if (line.kind === 'go')
            return { kind: 'go', said: `go to ${line.code}`, href: `/self-discharge/${holdId}?at=${line.code}` };
          return line;
        }}
        filing={filing}
      />
    </>
  );
}

const exampleOf = ({ series }: SelfDischargeSubject): string =>
  series === 1 ? '4.143, its volts' : `its ${series} groups`;
