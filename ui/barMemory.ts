'use client';

import { useMemo } from 'react';
import { z } from 'zod';
import { store, stored, useStored } from './stored';
import { cellCodeOf, packCodeOf, weldCodesOf } from './tokens';

/** A line that was filed, and what it says wherever it is read. */
const filedLine = z.object({ entry: z.uuid(), inFull: z.string() });
export type FiledLine = z.infer<typeof filedLine>;

/** What a reading bar keeps over a reload and a visit to other stations. */
const barMemory = z.object({
  /** Half typed, for what was shown then. */
  draft: z.object({ text: z.string(), current: z.string().nullable() }),
  /** Lines filed in order, and those taken back that can come again. */
  filed: z.array(filedLine),
  taken: z.array(filedLine),
});
export type BarMemory = z.infer<typeof barMemory>;

export const emptyMemory: BarMemory = { draft: { text: '', current: null }, filed: [], taken: [] };
/** So far back a bar remembers. */
const mostLines = 50;
const keyOf = (place: string): string => `bold-ember-bar ${place}`;

function parsed(text: string | null): BarMemory {
  try {
    const read = barMemory.safeParse(JSON.parse(text ?? 'null'));
    return read.success ? read.data : emptyMemory;
  } catch {
    return emptyMemory;
  }
}

/** Of a bar without a place nothing is kept. */
export const remembered = (place: string): BarMemory =>
  place === '' ? emptyMemory : parsed(stored(keyOf(place), 'session'));

/** The same, followed as it changes. */
export function useMemory(place: string): BarMemory {
  const text = useStored(keyOf(place), 'session');
  return useMemo(() => parsed(text), [text]);
}

export function remember(place: string, change: Partial<BarMemory>): void {
  if (place === '') return;
  const { draft, filed, taken } = { ...remembered(place), ...change };
  store(
    keyOf(place),
    JSON.stringify({ draft, filed: filed.slice(-mostLines), taken: taken.slice(-mostLines) }),
    'session',
  );
}

/** A line was filed there: it is the last one that undoing takes back, and what it corrected is none any more. */
export function rememberFiled(
  place: string,
  { entry, replaces }: { entry: string; replaces: string | null },
  inFull: string,
): void {
  const { filed } = remembered(place);
  remember(place, { filed: [...filed.filter((one) => one.entry !== replaces), { entry, inFull }], taken: [] });
}

const namesOne = (word: string | undefined): boolean =>
  Boolean(cellCodeOf(word) ?? weldCodesOf(word) ?? packCodeOf(word)) || /^b\d{1,2}$/i.test(word ?? '');

/** A draft as it means the same whatever is shown now: typed for another cell, it begins with the code of that one. */
export function draftText({ text, current }: BarMemory['draft'], shown: string | null): string {
  if (text === '' || current === null || current === shown || namesOne(text.trim().split(/\s+/)[0])) return text;
  return `${current} ${text}`;
}
