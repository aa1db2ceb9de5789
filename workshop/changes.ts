import 'server-only';
import { Client } from 'pg';

/** The channel that the database's triggers announce on. */
const channel = 'workshop';
const againMs = 500;
const held = globalThis as typeof globalThis & { newestChange?: string };
/** Says that something may have been stored of which was not heard, as no other time that was said does. */
const unheard = (): string => `since ${Date.now()}`;

/**
 * The number of the transaction that was heard of last: what it stored is visible where its number is, and so is all
 * that was heard of before. A word in its place where none was heard since hearing began.
 */
export const newestChange = (): string => (held.newestChange ??= unheard());

/**
 * Calls `tell` after every transaction that stored something, by any process, and once whenever the database is there
 * again after it was away: what was announced meanwhile was not heard. Returns how to stop.
 */
export function onChange(tell: () => void, away: () => void): () => void {
  const heard = (newest: string): void => {
    held.newestChange = newest;
    tell();
  };
  let client: Client | null = null;
  let isOver = false;
  let timer: NodeJS.Timeout | undefined;

  const listen = async (): Promise<void> => {
    const own = new Client({ connectionString: process.env.DATABASE_URL, keepAlive: true });
    client = own;
    let isLost = false;
    const lost = (): void => {
      if (isLost || isOver) return;
      isLost = true;
      own.end().catch(() => undefined);
      away();
      timer = setTimeout(() => void listen(), againMs);
    };
    own.on('error', lost);
    own.on('end', lost);
    own.on('notification', ({ payload }) => heard(payload || unheard()));
    try {
      await own.connect();
      await own.query(`listen ${channel}`);
      heard(unheard());
    } catch {
      lost();
    }
  };
  void listen();
  return () => {
    isOver = true;
    clearTimeout(timer);
    client?.end().catch(() => undefined);
  };
}
