import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { type AddressInfo, createServer, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { expect, test } from '@playwright/test';

/** The commands of the README, on a workshop of their own. */
test.describe.configure({ mode: 'serial' });

const root = process.cwd();
const workshop = `commands-${process.pid}`;
const state =
  process.getuid?.() === 0
    ? join('/var/lib/bold-ember', createHash('sha256').update(root).digest('hex').slice(0, 12), workshop)
    : join(root, '.bold-ember', workshop);
const env = (more: Record<string, string> = {}): NodeJS.ProcessEnv => ({
  ...process.env,
  DATABASE_URL: '',
  BOLD_EMBER_WORKSHOP: workshop,
  ...more,
});
let serving: ChildProcess | undefined;
let printed = '';
const folder = mkdtempSync(join(tmpdir(), 'bold-ember-commands-'));

/** What a command says, on both its outputs; a command that fails says so too. */
function say(command: string, given: string[], cwd = root): string {
  try {
    return execFileSync('bash', ['-c', '"$0" "$@" 2>&1', resolve(root, command), ...given], {
      env: env(),
      cwd,
      encoding: 'utf8',
    });
  } catch (error) {
    return `failed: ${(error as { stdout: string }).stdout}`;
  }
}
const databasePort = () => Number(readFileSync(join(state, 'port'), 'utf8'));

async function occupy(port: number): Promise<Server> {
  const server = createServer().listen(port, '127.0.0.1');
  await once(server, 'listening');
  return server;
}

test.afterAll(() => {
  serving?.kill('SIGINT');
  say('bin/db', ['stop']);
  rmSync(state, { recursive: true, force: true });
  rmSync(folder, { recursive: true });
});

test('the database starts, tells its state, and waits for a real start after a crash', () => {
  expect(say('bin/db', ['start'])).toContain(`answers on 127.0.0.1:`);
  expect(say('bin/db', ['psql', '-Atc', 'select 40 + 2'])).toContain('42');
  process.kill(Number(readFileSync(join(state, 'cluster', 'postmaster.pid'), 'utf8').split('\n')[0]), 'SIGKILL');
  expect(() => {
    while (existsSync(`/proc/${readFileSync(join(state, 'cluster', 'postmaster.pid'), 'utf8').split('\n')[0]}`));
  }).not.toThrow();
  say('bin/db', ['start']);
  expect(say('bin/db', ['psql', '-Atc', 'select 40 + 2'])).toContain('42');
});

test('a port that was taken meanwhile is exchanged for another, and noted', async () => {
  say('bin/db', ['stop']);
  const before = databasePort();
  const server = await occupy(before);
  expect(say('bin/db', ['start'])).toContain('Its port was taken');
  expect(databasePort()).not.toBe(before);
  expect(say('bin/db', ['psql', '-Atc', 'show port'])).toContain(String(databasePort()));
  server.close();
});

test('no password stands on a command line', async () => {
  const asking = spawn('bin/db', ['psql', '-c', 'select pg_sleep(600) /* who looks */'], {
    env: env(),
    stdio: 'ignore',
  });
  const lines = () =>
    readdirSync('/proc')
      .filter((name) => /^\d+$/.test(name))
      .flatMap((pid) => {
        try {
          return readFileSync(`/proc/${pid}/cmdline`, 'utf8');
        } catch {
          return [];
        }
      });
  await expect
    .poll(() => lines().some((line) => line.split('\0')[0]?.endsWith('psql') === true && line.includes('who looks')))
    .toBe(true);
  const password = readFileSync(join(state, 'password'), 'utf8').trim();
  expect(lines().filter((line) => line.includes(password))).toEqual([]);
  say('bin/db', [
    'psql',
    '-c',
    "select pg_terminate_backend(pid) from pg_stat_activity where query like '%who looks%' and pid <> pg_backend_pid()",
  ]);
  await once(asking, 'exit');
});

const openAt = () => /open at (http:\S+)/.exec(printed)?.[1];

test('the workshop is served on another port where its own is taken', async () => {
  // What it starts itself it stops itself.
  say('bin/db', ['stop']);
  const server = await occupy(0);
  const { port } = server.address() as AddressInfo;
  serving = spawn('bash', ['-c', 'exec bin/start 2>&1'], {
    env: env({ PORT: String(port) }),
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  serving.stdout?.on('data', (text: Buffer) => {
    printed += text.toString();
  });
  await expect.poll(openAt, { message: printed }).toBeTruthy();
  expect(printed).toContain(`Port ${port} is taken`);
  expect((await fetch(`${openAt()}/api/v1/health`)).status).toBe(200);
  expect(say('bin/db', ['status'])).toContain('workshop:');
  expect(statSync(join(state, 'temporary')).mode & 0o777).toBe(0o700);
  server.close();
});

test('backups are for their owner, in the folder where one stands; what is no backup is refused in words', () => {
  expect(say('bin/db', ['backup', 'mine.backup'], folder)).toContain(`to ${join(folder, 'mine.backup')}`);
  expect(statSync(join(folder, 'mine.backup')).mode & 0o777).toBe(0o600);
  expect(say('bin/db', ['restore', '/proc/version'], folder)).toMatch(
    /failed:[^]*no backup of a workshop[^]*Nothing was changed/,
  );
  expect(say('bin/db', ['restore', 'mine.backup'], folder)).toMatch(
    /In the file: 0 cells[^]*Here until now: 0 cells[^]*Exchanged[^]*--undo/,
  );
  expect(say('bin/db', ['restore', '--undo'], folder)).toContain('Brought back');
});

test('an export takes the place of the one before once it is whole; errors are in words', () => {
  expect(say('bin/db', ['export', 'all.zip'], folder)).toMatch(/Written 0 cells and packs, 0 entries, 0 runs to/);
  expect(statSync(join(folder, 'all.zip')).mode & 0o777).toBe(0o600);
  expect(say('bin/db', ['export', '.'], folder)).toMatch(/failed:[^]*This is a folder[^]*Nothing was changed/);
  expect(say('bin/db', ['export', 'nowhere/all.zip'], folder)).toMatch(/failed:[^]*no such file or folder/);
  expect(say('bin/db', ['import', '/proc/version'], folder)).toMatch(
    /failed:[^]*no zip archive[^]*Nothing was changed/,
  );
  expect(say('bin/db', ['import', 'all.zip'], folder)).toContain('Read 0 cells and packs, 0 entries, 0 runs');
  expect(readdirSync(folder).filter((name) => name.endsWith('.part'))).toEqual([]);
});

test('a server that starts before its database exists brings it up to date when it comes', async () => {
  const address = new URL('postgres://127.0.0.1');
  [address.username, address.password] = ['bold_ember', readFileSync(join(state, 'password'), 'utf8').trim()];
  [address.port, address.pathname] = [String(databasePort()), '/later'];
  const early = spawn('node', ['--import', 'tsx', 'http/main.ts'], {
    env: { ...env(), NODE_ENV: 'production', PORT: '0', DATABASE_URL: address.href },
    stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
  });
  try {
    const [port] = (await once(early, 'message')) as [number];
    const health = async () => {
      const answer = await fetch(`http://127.0.0.1:${port}/api/v1/health`);
      return [answer.status, await answer.json()];
    };
    expect(await health()).toMatchObject([503, { status: 'degraded', schema: 'behind' }]);
    say('bin/db', ['psql', '-c', 'create database later']);
    await expect.poll(health).toMatchObject([200, { status: 'ok', database: 'ok', schema: 'ok' }]);
    expect((await fetch(`http://127.0.0.1:${port}/shelf`)).status).toBe(200);
  } finally {
    early.kill();
    await once(early, 'exit');
  }
});

test('a server ended by kill −9 takes its database down in order', async () => {
  expect((await fetch(`${openAt()}/shelf`)).status).toBe(200);
  const children = execFileSync('pgrep', ['-P', String(serving?.pid)], { encoding: 'utf8' })
    .trim()
    .split('\n');
  const server = children.find((pid) => readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('http/main.ts'));
  process.kill(Number(server), 'SIGKILL');
  await expect.poll(() => serving?.exitCode).toBe(1);
  expect(printed).toContain('The server ended unasked.');
  expect(printed).not.toContain('unbound variable');
  expect(existsSync(join(state, 'cluster', 'postmaster.pid'))).toBe(false);
});
