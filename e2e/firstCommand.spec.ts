import { execFileSync, spawn } from 'node:child_process';
import { once } from 'node:events';
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, symlinkSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { homedir, tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';

const root = process.cwd();
const folder = mkdtempSync(join(tmpdir(), 'bold-ember-first-'));
const [clone, home, tools, cache] = ['clone', 'home', 'tools', 'cache'].map((name) => join(folder, name)) as [
  string,
  string,
  string,
  string,
];
/** Debian's user without any rights, where the tests have all of them. */
const nobody = process.getuid?.() === 0 ? { uid: 65_534, gid: 65_534 } : {};

test.afterAll(() => rmSync(folder, { recursive: true, force: true }));

const run = (command: string, ...given: string[]): string => execFileSync(command, given, { encoding: 'utf8' });

/** The tree as it is here, changes that are not committed included. */
function cloneHere(): void {
  run('git', 'clone', '--quiet', root, clone);
  const here = run('git', 'ls-files', '-z').split('\0').filter(existsSync);
  run('cp', '--parents', '--target-directory', clone, ...here);
}

/** Every command of this machine but those that compile. */
function linkTools(): void {
  mkdirSync(tools);
  const compiles =
    /^([\w-]+-linux-gnu-)?(cc|c\+\+|c\d\d|gcc|g\+\+|clang|cpp|tcc|make|gmake|cmake|python|node-gyp)[\d.+-]*$/;
  for (const place of ['/usr/local/bin', '/usr/bin', '/bin'])
    for (const name of readdirSync(place))
      if (!compiles.test(name) && !existsSync(join(tools, name))) symlinkSync(join(place, name), join(tools, name));
}

async function freePort(): Promise<number> {
  const server = createServer().listen(0, '127.0.0.1');
  await once(server, 'listening');
  const { port } = server.address() as AddressInfo;
  server.close();
  return port;
}

test('bin/demo serves a fresh clone for an ordinary user without compiler, Python or settings of npm', async () => {
  // It installs, builds and starts as on a new machine, while other tests keep this one busy.
  test.setTimeout(900_000);
  cloneHere();
  linkTools();
  mkdirSync(home);
  // The packages that this machine already has need no network.
  const known = join(homedir(), '.npm', '_cacache');
  mkdirSync(cache);
  if (existsSync(known)) run('cp', '--recursive', '--reflink=auto', known, cache);
  if ('uid' in nobody) run('chown', '--recursive', `${nobody.uid}:${nobody.gid}`, folder);
  chmodSync(folder, 0o755);

  // Of what this machine sets only the certificates of its network count.
  const kept = ['NODE_EXTRA_CA_CERTS', 'SSL_CERT_FILE', 'LANG'];
  const own = {
    ...Object.fromEntries(kept.flatMap((name) => (process.env[name] ? [[name, process.env[name]]] : []))),
    PATH: tools,
    HOME: home,
    PORT: String(await freePort()),
    npm_config_globalconfig: '/dev/null',
    npm_config_cache: cache,
    npm_config_prefer_offline: 'true',
  };
  const settings = Object.entries(own).map(([name, value]) => `${name}=${value}`);
  const demo = spawn('env', ['-i', ...settings, 'bash', '-c', 'exec bin/demo 2>&1'], {
    ...nobody,
    cwd: clone,
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  let printed = '';
  demo.stdout?.on('data', (text: Buffer) => {
    printed += text.toString();
  });
  const openAt = () => demo.exitCode ?? /open at (http:\S+)/.exec(printed)?.[1];
  await expect.poll(openAt, { timeout: 840_000 }).toBeTruthy();
  expect(printed).not.toMatch(/gyp|warn|error/i);
  expect(openAt()).toMatch(/^http/);
  expect((await fetch(`${openAt()}/api/v1/health`)).status).toBe(200);
  expect(await (await fetch(`${openAt()}/shelf`)).text()).toContain('H1-001');
  demo.kill('SIGINT');
  await once(demo, 'exit');
  expect(existsSync(join(clone, '.bold-ember', 'demo', 'cluster', 'postmaster.pid'))).toBe(false);
});
