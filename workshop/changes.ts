import 'server-only';
import { Client } from 'pg';

/** The channel that the database's triggers announce on. */
const channel = 'workshop';
const againMs = 500;
const held = globalThis as typeof globalThis & { changesHeard?: number };

/**
 * How many changes this process has heard of, from a number that no process before it reached. What is visible differs
 * after whatever any database of the cluster did: where this is the same, nothing was stored in this one.
 */
export const changesHeard = (): number => (held.changesHeard ??= Date.now());

/**
 * Calls `tell` after every transaction that stored something, whoever made it, and once whenever the database is there
 * again after it was away: what was announced meanwhile was not heard. Returns how to stop.
 */
export function onChange(tell: () => void, away: () => void): () => void {
  const heard = (): void => {
    held.changesHeard = changesHeard() + 1;
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
    own.on('notification', heard);
    try {
      await own.connect();
      await own.query(`listen ${channel}`);
      heard();
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
