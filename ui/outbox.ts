'use client';

import Dexie, { type EntityTable, liveQuery, type Subscription } from 'dexie';
import { useMemo, useSyncExternalStore } from 'react';
import { v4 as newId } from 'uuid';
import { z } from 'zod';
import { entryLine, type Filed, mostWaitedS, unanswered } from './entryLine';
import { noteSentHere } from './sentHere';

/** A line that could not be filed yet, with all it takes to file it from any page. */
const waitingLine = entryLine.extend({
  /** Where it is filed: a round, a batch, a sheet, the clinic. */
  place: z.string(),
  /** The cell or pack it is for. */
  code: z.string().nullable(),
  /** The line as it means the same whatever is shown. */
  inFull: z.string(),
  /** When it was typed, ms by the clock of this browser; null where an earlier version kept it. */
  typedAt: z.number().nullable().default(null),
  /** What the server said against it; it waits for a person then. */
  refused: z.string().nullable(),
  /** What was said is a question: filed as read, it is answered with yes. */
  asks: z.boolean().default(false),
  /** It is filed; the pages that count it are being redrawn. */
  filed: z.boolean().default(false),
  /** When a tab last said that it is sending it, ms; null: no tab is. It cannot be changed or dropped meanwhile. */
  sentSince: z.number().nullable().default(null),
});
export type WaitingLine = z.infer<typeof waitingLine>;

/** For how long a line has waited, s; a clock that was set back meanwhile says nothing. */
export const waitedS = ({ typedAt }: WaitingLine, nowMs: number): number =>
  typedAt === null ? 0 : Math.min(mostWaitedS, Math.max(0, (nowMs - typedAt) / 1000));

/** As kept: whatever another version of the application made of a line. */
interface Row {
  id: number;
  entry: string;
  line: unknown;
}

export interface Outbox {
  /** In the order in which they were typed. */
  lines: readonly WaitingLine[];
  /** Kept by another version, which this one cannot file. */
  unreadable: readonly { entry: string; text: string }[];
}

const empty: Outbox = { lines: [], unreadable: [] };
/** How earlier versions kept lines, by place. */
const oldKey = 'bold-ember-waiting ';

type Database = Dexie & { waiting: EntityTable<Row, 'id'> };
let opened: Promise<Database> | null = null;

async function open(): Promise<Database> {
  const database = new Dexie('bold-ember') as Database;
  // A later version of these tables is added below this one, which stays.
  database.version(1).stores({ waiting: '++id, &entry' });
  await database.open();
  await takeOver(database);
  return database;
}

const waiting = async (): Promise<Database['waiting']> => {
  opened ??= open();
  opened.catch(() => {
    opened = null;
  });
  return (await opened).waiting;
};

/** Moves what an earlier version kept, and forgets it there only once it is here. */
async function takeOver(database: Database): Promise<void> {
  for (const key of Object.keys(localStorage).filter((one) => one.startsWith(oldKey))) {
    const text = localStorage.getItem(key) ?? '[]';
    const lines = linesOf(text).map((line) => ({ ...line, place: key.slice(oldKey.length) }));
    await database.transaction('rw', database.waiting, async () => {
      for (const line of lines) {
        const entry = z.uuid().safeParse((line as { entry?: unknown }).entry).data ?? newId();
        if (!(await database.waiting.get({ entry }))) await database.waiting.add({ entry, line });
      }
    });
    localStorage.removeItem(key);
  }
}

function linesOf(text: string): object[] {
  try {
    const read: unknown = JSON.parse(text);
    return Array.isArray(read) ? read.filter((one) => typeof one === 'object' && one !== null) : [];
  } catch {
    return [{ text }];
  }
}

function outboxOf(rows: readonly Row[]): Outbox {
  const lines: WaitingLine[] = [];
  const unreadable: { entry: string; text: string }[] = [];
  for (const { entry, line } of rows) {
    const read = waitingLine.safeParse(line);
    if (read.success) lines.push(read.data);
    else unreadable.push({ entry, text: String((line as { text?: unknown } | null)?.text ?? JSON.stringify(line)) });
  }
  return { lines, unreadable };
}

const readAll = async (): Promise<Outbox> => outboxOf(await (await waiting()).orderBy('id').toArray());

let shown = empty;
let stopWatching: (() => void) | null = null;
const drawers = new Set<() => void>();

/** What another tab keeps or files is heard of, too. A browser that keeps nothing has nothing to show. */
function watch(): () => void {
  let subscription: Subscription | null = null;
  let isOver = false;
  waiting().then(
    (table) => {
      if (isOver) return;
      subscription = liveQuery(() => table.orderBy('id').toArray()).subscribe((rows) => {
        shown = outboxOf(rows);
        for (const draw of drawers) draw();
      });
    },
    () => undefined,
  );
  return () => {
    isOver = true;
    subscription?.unsubscribe();
  };
}

function subscribe(draw: () => void): () => void {
  drawers.add(draw);
  stopWatching ??= watch();
  return () => {
    drawers.delete(draw);
    if (drawers.size > 0) return;
    stopWatching?.();
    stopWatching = null;
  };
}

/** What waits in this browser, in whatever tab it was typed. */
export const useOutbox = (): Outbox =>
  useSyncExternalStore(
    subscribe,
    () => shown,
    () => empty,
  );

/** Which lines of a place (a round, a batch) wait: a screen goes on to the next cell by them. */
export function useWaiting(place: string): WaitingLine[] {
  const { lines } = useOutbox();
  return useMemo(() => lines.filter((one) => one.place === place), [lines, place]);
}

/** @throws Error where this browser cannot keep it: its storage is full, or forbidden */
export async function keepWaiting(line: Omit<WaitingLine, 'typedAt' | 'sentSince'>): Promise<void> {
  const typed: WaitingLine = { ...line, typedAt: Date.now(), sentSince: null };
  await (await waiting()).add({ entry: line.entry, line: typed });
}

/** What becomes of a kept row: another line, the row dropped, or nothing. */
type Becomes = WaitingLine | 'dropped' | 'same';

/**
 * Decides on a row as it is now, whatever another tab does meanwhile. A row of another version can only be dropped.
 * Returns whether the row changed.
 */
async function decide(entry: string, decision: (line: WaitingLine | null) => Becomes): Promise<boolean> {
  const table = await waiting();
  return await table.db.transaction('rw', table, async () => {
    const row = await table.get({ entry });
    if (!row) return false;
    const becomes = decision(waitingLine.safeParse(row.line).data ?? null);
    if (becomes === 'dropped') await table.delete(row.id);
    else if (becomes !== 'same') await table.put({ id: row.id, entry: becomes.entry, line: becomes });
    return becomes !== 'same';
  });
}

/** A change by hand: never of a line that is being sent, which may be filed already. Returns whether it was made. */
const changeByHand = (entry: string, change: (line: WaitingLine) => WaitingLine): Promise<boolean> =>
  decide(entry, (line) => (line === null || line.sentSince !== null ? 'same' : change(line)));

/** Drops a line; one that is being sent stays. */
export const dropWaiting = (entry: string): Promise<boolean> =>
  decide(entry, (line) => (line !== null && line.sentSince !== null ? 'same' : 'dropped'));

/** What a line in a person's hands says of itself; it is not sent until it is put back. */
export const beingChanged = 'being changed';

/** Takes a line into a person's hands, so that it is not sent while they change it. False: it is being sent already. */
export const holdWaiting = (entry: string): Promise<boolean> =>
  changeByHand(entry, (line) => ({ ...line, refused: line.refused ?? beingChanged }));

/** Puts a line back as it was. */
export const putBackWaiting = (entry: string): Promise<boolean> =>
  changeByHand(entry, (line) => ({ ...line, refused: line.refused === beingChanged ? null : line.refused }));

/** Another text for a waiting line, under the same id: if the first was filed after all, the server says so. */
export const changeWaiting = (entry: string, text: string): Promise<boolean> =>
  changeByHand(entry, (line) => ({
    ...line,
    text,
    inFull: text,
    // What was answered with yes was the text before.
    confirmed: false,
    seen: null,
    refused: null,
    asks: false,
  }));

/** Answers the question about a line with yes. */
export const confirmWaiting = (entry: string): Promise<boolean> =>
  changeByHand(entry, (line) => ({ ...line, confirmed: true, refused: null, asks: false }));

const isOpen = (line: WaitingLine): boolean => line.refused === null && !line.filed;

/** A tab says again and again that it is sending a line; one that was closed or loaded again meanwhile does not. */
const stillSendingMs = 2000;
/** After this silence another tab, or the same page loaded again, may send the line: an entry is filed once. */
const silentMs = 8000;

/** Marks the first open line as being sent. Null where no line is open, or another tab sends the first one. */
async function takeFirst(): Promise<WaitingLine | null> {
  const first = (await readAll()).lines.find(isOpen);
  if (!first) return null;
  const taken: WaitingLine[] = [];
  await decide(first.entry, (line) => {
    const isFree = line !== null && isOpen(line) && Date.now() - (line.sentSince ?? 0) > silentMs;
    if (!isFree) return 'same';
    const sending = { ...line, sentSince: Date.now() };
    taken.push(sending);
    return sending;
  });
  return taken[0] ?? null;
}

/** What a sent line becomes by its answer. One that was changed meanwhile corrects what was filed. */
function answeredLine(now: WaitingLine, sent: WaitingLine, answer: Filed): WaitingLine {
  const free = { ...now, sentSince: null };
  const isChanged = now.text !== sent.text || now.confirmed !== sent.confirmed;
  if (!answer.ok && answer.away) return free;
  if (isChanged) return answer.ok ? { ...free, entry: newId(), replaces: sent.entry } : free;
  return answer.ok ? { ...free, filed: true } : { ...free, refused: answer.said, asks: answer.asks === true };
}

/**
 * Sends what waits, one after the other in the order of typing; one that is refused waits for a person, and holds
 * nothing back. A line that two tabs send is filed once, since an entry's id is. Returns those filed, and whether the
 * connection is still away.
 */
export async function sendWaiting(
  send: (line: WaitingLine) => Promise<Filed>,
): Promise<{ filed: WaitingLine[]; isAway: boolean }> {
  const filed: WaitingLine[] = [];
  for (;;) {
    const line = await takeFirst();
    if (!line) return { filed, isAway: false };
    noteSentHere(line.entry);
    const renewing = setInterval(
      () => void decide(line.entry, (now) => (now?.sentSince ? { ...now, sentSince: Date.now() } : 'same')),
      stillSendingMs,
    );
    const answer = await send(line).catch(unanswered);
    clearInterval(renewing);
    await decide(line.entry, (now) => (now === null ? 'same' : answeredLine(now, line, answer)));
    if (!answer.ok && answer.away) return { filed, isAway: true };
    if (answer.ok) filed.push(line);
  }
}

/** Lets go of what is filed, once no page counts it any more. */
export async function dropFiled(): Promise<void> {
  for (const { entry } of (await readAll()).lines.filter((line) => line.filed)) await dropWaiting(entry);
}

/** True while earlier lines wait: later ones wait behind them. */
export const someWait = ({ lines }: Outbox): boolean => lines.some(isOpen);
