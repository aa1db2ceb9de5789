'use client';

import { addressOf, cellCodeOf, packCodeOf } from '@/ui/tokens';
import { ReadingBar } from '@/ui/ReadingBar';
import { readQuery } from './query';

interface ShelfBarProps {
  view: string;
  /** Which tab of the map is open; empty for the first. */
  chemistry: string;
  packs: string[];
}

/** The reading bar of the shelf: a filter, or the code of a cell or pack. */
export function ShelfBar({ view, chemistry, packs }: ShelfBarProps) {
  return (
    <ReadingBar
      label="Filter the shelf or open a cell or pack"
      placeholder="packs > 80 % 4s"
      understand={(text) => {
        const pack = packCodeOf(text.trim());
        // A batch may begin with the same letter.
        const code = cellCodeOf(text.trim()) ?? packs.find((one) => one === pack);
        if (code) return { kind: 'go', said: `open ${code}`, href: addressOf(code) };
        const read = readQuery(text);
        if (!read.ok) return { kind: 'wrong', said: read.said };
        if (text.trim() === '') return { kind: 'nothing' };
        return {
          kind: 'go',
          said: `show only: ${text.trim()}`,
          href: `/shelf?${new URLSearchParams({ view, q: text.trim(), ...(chemistry ? { chemistry } : {}) })}`,
        };
      }}
    />
  );
}
