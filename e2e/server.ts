import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { setTimeout } from 'node:timers/promises';

const longestMs = 120_000;

export interface Served {
  url: string;
  /** Resident memory now, bytes. */
  memory(): number;
  /** Moves its clock, this many seconds ahead of what it is. */
  later(aheadS: number): Promise<void>;
  /** Waits until it answers, with its database. */
  ready(): Promise<void>;
  stop(): Promise<void>;
  /** Ends it without a word. */
  kill(): void;
}

/**
 * The built application on a port that it finds itself.
 *
 * @throws Error with what it printed when it ends first, or does not answer in two minutes
 */
export async function serve(databaseUrl: string, env: Record<string, string> = {}): Promise<Served> {
  const server = spawn(process.execPath, ['--import', 'tsx', 'http/main.ts'], {
    env: { ...process.env, NODE_ENV: 'production', PORT: '0', DATABASE_URL: databaseUrl, ...env },
    stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
  });
  let printed = '';
  for (const stream of [server.stdout, server.stderr])
    stream?.on('data', (text: Buffer) => {
      printed += text.toString();
    });
  const ready = async (address: string, signal: AbortSignal): Promise<string> => {
    // The first question waits until its database is up to date; that of a stranger is answered with 503 meanwhile.
    while ((await fetch(`${address}/api/v1/health`, { signal })).status === 503)
      await setTimeout(100, undefined, { signal });
    return address;
  };
  const signal = AbortSignal.timeout(longestMs);
  const answers = async (): Promise<string> => {
    const [port] = await once(server, 'message', { signal });
    return ready(`http://127.0.0.1:${port}`, signal);
  };
  const url = await Promise.race([
    answers(),
    once(server, 'exit', { signal }).then(() => Promise.reject(new Error('it ended'))),
  ]).catch((cause: unknown) => {
    server.kill('SIGKILL');
    throw new Error(`The server does not answer. It printed: ${printed}`, { cause });
  });
  return {
    url,
    memory: () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, 'utf8'))?.[1] ?? 0) * 1024,
    later: async (aheadS) => {
      const moved = once(server, 'message');
      server.send(aheadS);
      await moved;
    },
    ready: async () => {
      await ready(url, AbortSignal.timeout(longestMs));
    },
    kill: () => {
      server.kill('SIGKILL');
    },
    stop: async () => {
      server.kill();
      await once(server, 'exit');
    },
  };
}
