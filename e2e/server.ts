import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';

export interface BenchServer {
  url: string;
  /** Resident memory now, bytes. */
  memory(): number;
  stop(): Promise<void>;
  /** Ends it without a word. */
  kill(): void;
}

/** The built application on a free port. */
export async function serve(databaseUrl: string): Promise<BenchServer> {
  const probe = createServer().listen(0, '127.0.0.1');
  await once(probe, 'listening');
  const { port } = probe.address() as AddressInfo;
  probe.close();
  const server: ChildProcess = spawn(process.execPath, ['--import', 'tsx', 'http/main.ts'], {
    env: { ...process.env, NODE_ENV: 'production', PORT: String(port), DATABASE_URL: databaseUrl },
    stdio: 'ignore',
  });
  const url = `http://127.0.0.1:${port}`;
  for (let tries = 0; tries < 200; tries++) {
    if (
      await fetch(`${url}/api/v1/health`).then(
        (answer) => answer.ok,
        () => false,
      )
    )
      break;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return {
    url,
    memory: () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, 'utf8'))?.[1] ?? 0) * 1024,
    kill: () => {
      server.kill('SIGKILL');
    },
    stop: async () => {
      server.kill();
      await once(server, 'exit');
    },
  };
}
