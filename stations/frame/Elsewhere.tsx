'use client';

import { remembered } from '@/ui/barMemory';
import { useState } from 'react';
import { useFiledElsewhere, useHoldStill } from './stream';

interface ElsewhereProps {
  /** Where this screen files. */
  place: string;
  /** Whether a line about these cells, filed in that round or in none, is about what this screen shows. */
  concerns(codes: readonly string[], roundId: number | null): boolean;
}

/**
 * For a screen that names the cell to read next: it holds still while others work, and says what they read. Give it the
 * cell shown as its key: what was said is over once the next one is up.
 */
export function Elsewhere({ place, concerns }: ElsewhereProps) {
  const [read, setRead] = useState<string[]>([]);
  useHoldStill();
  useFiledElsewhere(({ codes, roundId }) => {
    if (concerns(codes, roundId)) setRead((before) => [...new Set([...before, ...codes])]);
  });
  if (read.length === 0) return <p className="visually-hidden" role="status" />;
  const own = remembered(place).filed.map((line) => line.inFull);
  return (
    <p className="ask mt-2" role="status">
      {read
        .map((code) =>
          own.some((line) => line.startsWith(code))
            ? `${code} was also measured on another screen. Check both readings.`
            : `${code} was just measured on another screen.`,
        )
        .join(' ')}
    </p>
  );
}
