import { addApiKey, endSessions, listApiKeys, listSessions, withdrawApiKey } from '@/records/access';
import { database } from '@/records/database';
import { type Scratch, scratchWorkshop } from '@/records/scratchDatabase';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { createDoor, type Door } from './door';
import { adopt, hashPassphrase, isRight } from './passphrase';
import { readSettings } from './settings';

const passphrase = 'four lanterns by the quay';
let scratch: Scratch;
let server: Server;
let door: Door;
let url: string;

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  door = createDoor({ passphrase }, readSettings({ NODE_ENV: 'test' }, true));
  server = createServer(async (request, response) => {
    if (request.url === '/login' && request.method === 'POST') return door.signIn(request, response);
    if (request.url === '/logout') return door.signOut(request, response);
    return response.writeHead((await door.admits(request)) ? 200 : 401).end();
  }).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});

afterAll(async () => {
  server.closeAllConnections();
  server.close();
  await database().end();
  await scratch.drop();
});

const signIn = (words: string, to = '/shelf') =>
  fetch(`${url}/login`, {
    method: 'POST',
    redirect: 'manual',
    headers: { 'user-agent': 'Test (Phone; x)' },
    body: new URLSearchParams({ passphrase: words, to }),
  });
const status = async (path: string, headers: Record<string, string> = {}) =>
  (await fetch(url + path, { headers })).status;

test('nobody comes in without the passphrase, but for the page that asks for it', async () => {
  expect(await status('/shelf')).toBe(401);
  expect(await status('/api/v1/health')).toBe(401);
  expect(await status('/shelf', { cookie: 'bold-ember=guess' })).toBe(401);
  expect(await status('/login?to=%2F')).toBe(200);
  expect(await status('/loginx')).toBe(401);
  expect(await status('/icon.svg')).toBe(200);
  expect(await status('/calendar/known-by-its-secret.ics')).toBe(200);
  expect(await status('/calendar/')).toBe(401);
  expect(await status('/_next/static/no-such-file.js')).toBe(401);
  expect((await fetch(`${url}/icon.svg`, { method: 'POST', headers: { 'next-action': 'x' } })).status).toBe(401);
});

test('the passphrase begins a session of bounded life that only this site can send, and that can be ended', async () => {
  const answer = await signIn(passphrase);
  expect([answer.status, answer.headers.get('location')]).toEqual([303, '/shelf']);
  const set = answer.headers.get('set-cookie') ?? '';
  expect(set).toMatch(/^bold-ember=[\w-]{43}; Path=\/; HttpOnly; SameSite=Strict; Max-Age=604800$/);
  const cookie = set.split(';')[0] as string;
  expect(await status('/shelf', { cookie })).toBe(200);
  expect(await status('/api/v1/health', { cookie })).toBe(200);
  expect(await listSessions(database())).toMatchObject([{ agent: 'Test (Phone; x)' }]);
  expect(
    (await database().query('select 1 from session where token_hash = convert_to($1, $2)', [cookie.slice(11), 'utf8']))
      .rows,
  ).toEqual([]);
  await fetch(`${url}/logout`, { method: 'POST', redirect: 'manual', headers: { cookie } });
  expect(await status('/shelf', { cookie })).toBe(401);
  const again = (await signIn(passphrase)).headers.get('set-cookie')?.split(';')[0] as string;
  await database().query("update session set ends_at = now() - interval '1 second'");
  expect(await status('/shelf', { cookie: again })).toBe(401);
});

test('a key opens the API alone, until it is withdrawn', async () => {
  const authorization = `Bearer ${await addApiKey(database(), 'logger')}`;
  expect(await status('/api/v1/health', { authorization })).toBe(200);
  expect(await status('/shelf', { authorization })).toBe(401);
  const [key] = await listApiKeys(database());
  expect(await withdrawApiKey(database(), key?.id ?? 0)).toBe(true);
  expect(await status('/api/v1/health', { authorization })).toBe(401);
});

test.each(['//other.example', '/\\other.example', 'http://other.example', '/login?to=/login'])(
  'it never leads elsewhere: %s',
  async (to) => {
    expect((await signIn(passphrase, to)).headers.get('location')).toBe('/');
  },
);

test.each([
  ['/shelf?q=Ω µ', '/shelf?q=%CE%A9%20%C2%B5'],
  ['/cells/Ä1-001', '/cells/%C3%841-001'],
  ['/shelf\u0000\r\nSet-Cookie: x', '/shelf%00Set-Cookie:%20x'],
  ['/..//other.example', '/'],
])('wherever %s leads, a header can hold it', async (to, led) => {
  const answer = await signIn(passphrase, to);
  expect([answer.status, answer.headers.get('location')]).toEqual([303, led]);
});

test('hashes of the package that was here before, and of the reference implementation, are read', async () => {
  // The second: test of the reference implementation of Argon2, from memory.
  const before = '$argon2id$v=19$m=65536,p=4,t=3$P1H//F6zTtF1sQ+F2YmF1w$7dpKcrE/jcTVvuXh85a3yHxcAFMLLhCwpwWjtdPLtLM';
  const reference = '$argon2id$v=19$m=65536,t=2,p=1$c29tZXNhbHQ$CTFhFdXPJO1aFaMaO6Mm5c8y7cJHAph8ArZWb2GRPPc';
  expect(await isRight(before, 'lantern oil by the quay')).toBe(true);
  expect(await isRight(before, 'lantern oil by the bay')).toBe(false);
  expect(await isRight(reference, 'password')).toBe(true);
  expect(await hashPassphrase(passphrase)).toMatch(/^\$argon2id\$v=19\$m=65536,t=3,p=4\$/);
});

test('wrong tries are told, and slowed down', async () => {
  const said: string[] = [];
  for (let n = 0; n < 5; n++) said.push((await signIn('wrong words here')).headers.get('location') ?? '');
  expect(said.slice(0, 3).every((where) => where.startsWith('/login?wrong=1'))).toBe(true);
  expect(said[4]).toMatch(/^\/login\?wait=\d+/);
  expect((await signIn(passphrase)).headers.get('location')).toMatch(/wait=/);
});

test('another passphrase ends the sessions of the one before; the same one keeps them', async () => {
  await endSessions(database());
  await database().query(
    "insert into session (token_hash, ends_at, agent) values (sha256('x'), now() + interval '1 day', 'x')",
  );
  const before = await adopt({ passphrase });
  expect(await adopt({ hash: before })).toBe(before);
  expect(await listSessions(database())).toHaveLength(1);
  expect(await adopt({ passphrase: 'quite another phrase' })).not.toBe(before);
  expect(await listSessions(database())).toHaveLength(0);
});
