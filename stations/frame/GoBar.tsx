'use client';

import { cellCodeOf, packCodeOf } from '@/ui/tokens';
import { ReadingBar } from '@/ui/ReadingBar';

/** The reading bar of a screen where nothing is filed: a code opens what it names. */
export function GoBar({ placeholder }: { placeholder: string }) {
  return (
    <ReadingBar
      label="Go to a cell or pack"
      placeholder={placeholder}
      understand={(text) => {
        const word = text.trim();
        if (word === '') return { kind: 'nothing' };
        const cell = cellCodeOf(word);
        if (cell) return { kind: 'go', said: `open cell ${cell}`, href: `/cells/${cell}` };
        const pack = packCodeOf(word);
        if (pack) return { kind: 'go', said: `open pack ${pack}`, href: `/clinic/${pack}` };
        return { kind: 'wrong', said: 'Here a code opens a cell (S1-014) or a pack (PF1).' };
      }}
    />
  );
}
