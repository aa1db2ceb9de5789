'use client';

import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { z } from 'zod';
import { type EntryLine, entryLine, type Filed, unanswered } from './entryLine';
import { noteSentHere } from './sentHere';
import { store, useStored } from './stored';

/** A line that could not be filed yet. */
const waitingEntry = entryLine.extend({
  /** The cell or pack it is for. */
  code: z.string().nullable(),
  /** The line as it means the same whatever is shown. */
  inFull: z.string(),
  /** What the server said against it; it waits for a person then. */
  refused: z.string().nullable(),
});
export type WaitingEntry = z.infer<typeof waitingEntry>;

/** The first pause before a line is tried again; each after it is longer, up to the longest. */
const firstPauseMs = 2000;
const longestPauseMs = 60_000;
const keyOf = (place: string): string => `bold-ember-waiting ${place}`;

function parsed(text: string | null): WaitingEntry[] {
  try {
    const read = z.array(waitingEntry).safeParse(JSON.parse(text ?? '[]'));
    return read.success ? read.data : [];
  } catch {
    return [];
  }
}

const stored = (place: string): WaitingEntry[] => parsed(localStorage.getItem(keyOf(place)));
const keep = (place: string, waiting: readonly WaitingEntry[]): void =>
  store(keyOf(place), waiting.length === 0 ? null : JSON.stringify(waiting));

/** Which entries of a place (a round, a batch) wait for the connection: a screen goes on to the next cell by them. */
export function useWaiting(place: string): WaitingEntry[] {
  const text = useStored(keyOf(place));
  return useMemo(() => parsed(text), [text]);
}

/**
 * Entries of one place that the server did not take for want of a connection. They stay in this browser and are filed
 * in order once it is back, each once, since an entry's id is filed once only. One that is refused waits for a person
 * and holds nothing back.
 */
export function useEntryQueue(
  place: string,
  file: (line: EntryLine) => Promise<Filed>,
  filed: (waiting: WaitingEntry) => void,
) {
  const waiting = useWaiting(place);
  const busy = useRef(false);
  const [tries, setTries] = useState(0);

  const flush = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    try {
      for (let next = firstOpen(stored(place)); next; next = firstOpen(stored(place))) {
        const one = next;
        noteSentHere(one.entry);
        const answer = await file(entryLine.parse(one)).catch(unanswered);
        if (!answer.ok && answer.away) return setTries((before) => before + 1);
        setTries(0);
        const rest = stored(place);
        keep(
          place,
          answer.ok
            ? rest.filter((other) => other.entry !== one.entry)
            : rest.map((other) => (other.entry === one.entry ? { ...other, refused: answer.said } : other)),
        );
        if (answer.ok) filed(one);
      }
    } finally {
      busy.current = false;
    }
  }, [place, file, filed]);

  const open = firstOpen(waiting) !== undefined;
  useEffect(() => {
    if (!open) return;
    const timer = setInterval(() => void flush(), Math.min(longestPauseMs, firstPauseMs * 2 ** tries));
    const now = () => void flush();
    window.addEventListener('online', now);
    return () => {
      clearInterval(timer);
      window.removeEventListener('online', now);
    };
  }, [open, flush, tries]);

  return {
    waiting,
    add: (entry: WaitingEntry) => keep(place, [...stored(place), entry]),
    drop: (entry: string) =>
      keep(
        place,
        stored(place).filter((other) => other.entry !== entry),
      ),
    tryNow: () => void flush(),
  };
}

const firstOpen = (waiting: readonly WaitingEntry[]): WaitingEntry | undefined =>
  waiting.find((entry) => entry.refused === null);
