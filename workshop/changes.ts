import 'server-only';
import { Client } from 'pg';

/** The channel that the database's triggers announce on. */
const channel = 'workshop';
const againMs = 500;

/**
 * Calls `tell` after every transaction that stored something, whoever made it, and once whenever the database is there
 * again after it was away: what was announced meanwhile was not heard. Returns how to stop.
 */
export function onChange(tell: () => void, away: () => void): () => void {
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
    own.on('notification', tell);
    try {
      await own.connect();
      await own.query(`listen ${channel}`);
      tell();
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
