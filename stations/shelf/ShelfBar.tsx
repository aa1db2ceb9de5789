'use client';

import { cellCodeOf } from '@/ui/tokens';
import { ReadingBar } from '@/ui/ReadingBar';
import { readQuery } from './query';

/** The reading bar of the shelf: a filter, or the code of a cell. */
export function ShelfBar({ view, model }: { view: string; model: string }) {
  return (
    <ReadingBar
      label="Filter the shelf or open a cell"
      placeholder="trickle > 2 Ah"
      understand={(text) => {
        const code = cellCodeOf(text.trim());
        if (code) return { kind: 'go', said: `open cell ${code}`, href: `/cells/${code}` };
        const read = readQuery(text);
        if (!read.ok) return { kind: 'wrong', said: read.said };
        if (text.trim() === '') return { kind: 'nothing' };
        return {
          kind: 'go',
          said: `show only: ${text.trim()}`,
          href: `/shelf?${new URLSearchParams({ view, q: text.trim(), ...(model ? { model } : {}) })}`,
        };
      }}
    />
  );
}
