import { type GateRequest, sensibleUrl, turnAway } from './gate';
import { readSettings } from './settings';

const settings = readSettings({ BOLD_EMBER_HOSTS: 'bench.example, Attic', NODE_ENV: 'test' }, false);
const own = { host: '127.0.0.1:3000' };
const json = { ...own, 'content-type': 'application/json' };
const ask = (change: Partial<GateRequest>) =>
  turnAway({ method: 'GET', url: '/shelf', headers: own, ...change }, settings)?.code ?? 'let in';

describe('names', () => {
  test.each([
    ['127.0.0.1:3000', 'let in'],
    ['localhost', 'let in'],
    ['[::1]:3000', 'let in'],
    ['bench.example', 'let in'],
    ['ATTIC:3000', 'let in'],
    ['rebound.example:3000', 'host'],
    ['127.0.0.1.example', 'host'],
    ['', 'host'],
    [undefined, 'host'],
  ])('%s: %s', (host, code) => {
    expect(ask({ headers: { host } })).toBe(code);
    expect(ask({ url: '/api/v1/health', headers: { host } })).toBe(code);
  });
});

describe('what is sent', () => {
  test.each<[string, Partial<GateRequest>, string]>([
    ['a program', { url: '/api/v1/compute/match', headers: json }, 'let in'],
    ['an own page', { url: '/api/v1/compute/match', headers: { ...json, 'sec-fetch-site': 'same-origin' } }, 'let in'],
    [
      'an own page of an older browser',
      { url: '/api/v1/compute/match', headers: { ...json, origin: 'http://127.0.0.1:3000' } },
      'let in',
    ],
    [
      'a foreign page',
      { url: '/api/v1/compute/match', headers: { ...json, 'sec-fetch-site': 'cross-site' } },
      'foreign',
    ],
    [
      'a page of another port',
      { url: '/api/v1/compute/match', headers: { ...json, 'sec-fetch-site': 'same-site' } },
      'foreign',
    ],
    [
      'a foreign page of an older browser',
      { url: '/api/v1/compute/match', headers: { ...json, origin: 'http://other.example' } },
      'foreign',
    ],
    ['a page without an origin', { url: '/api/v1/compute/match', headers: { ...json, origin: 'null' } }, 'foreign'],
    [
      'plain text, which any page may send',
      { url: '/api/v1/compute/resistance', headers: { ...own, 'content-type': 'text/plain' } },
      'content-type',
    ],
    ['no type at all', { url: '/api/v1/compute/resistance', headers: own }, 'content-type'],
    [
      'a log as a form',
      { url: '/api/v1/runs?subject=A', headers: { ...own, 'content-type': 'multipart/form-data; boundary=x' } },
      'content-type',
    ],
    [
      'a log',
      { url: '/api/v1/runs?subject=A', headers: { ...own, 'content-type': 'text/csv; charset=utf-8' } },
      'let in',
    ],
    ['a reading', { url: '/resistance/7/readings', headers: json }, 'let in'],
    [
      'an action of a page',
      { url: '/intake', headers: { ...own, 'next-action': 'abc', 'content-type': 'text/plain' } },
      'let in',
    ],
    [
      'a form without an action',
      { url: '/intake', headers: { ...own, 'content-type': 'multipart/form-data; boundary=x' } },
      'method',
    ],
    [
      'too large a log',
      { url: '/api/v1/runs', headers: { ...own, 'content-type': 'text/csv', 'content-length': String(201 * 2 ** 20) } },
      'too-large',
    ],
    [
      'too large a question',
      { url: '/api/v1/compute/match', headers: { ...json, 'content-length': String(2 ** 20 + 1) } },
      'too-large',
    ],
    [
      'too large a reading',
      { url: '/resistance/7/readings', headers: { ...json, 'content-length': '17000' } },
      'too-large',
    ],
    [
      'too large an action',
      { url: '/rules', headers: { ...own, 'next-action': 'abc', 'content-length': '2000000' } },
      'too-large',
    ],
  ])('%s: %#', (_, change, code) => {
    expect(ask({ method: 'POST', ...change })).toBe(code);
  });

  test.each(['PUT', 'DELETE', 'OPTIONS', 'TRACE'])('%s is not understood', (method) =>
    expect(ask({ method })).toBe('method'),
  );
});

test.each([
  ['/shelf?q=1&q=2', '/shelf?q=2'],
  ['/shelf?q=a%00b', '/shelf?q=ab'],
  ['/shelf?', '/shelf'],
  ['/cells/%ff', '/nothing-here'],
  ['/cells/a%00', '/nothing-here'],
  ['//other.example/x', '/nothing-here'],
  ['/_next/static/../../shelf', '/nothing-here'],
  ['/_next/static/%2e%2e/%2E%2e/shelf', '/nothing-here'],
  ['/_next/static/..%2f..%2fshelf', '/nothing-here'],
  ['/_next/static/..\\..\\shelf', '/nothing-here'],
  ['/login/./x', '/nothing-here'],
  ['/cells/a..b', '/cells/a..b'],
  ['/cells/S1-014?amps=2', '/cells/S1-014?amps=2'],
  ['/api/v1/runs?subject=a%00', '/api/v1/runs?subject=a%00'],
])('%s is read as %s', (url, read) => {
  expect(sensibleUrl(url)).toBe(read);
});

test('without a passphrase it listens on this machine only, and says so', () => {
  expect(() => readSettings({ BOLD_EMBER_LISTEN: '0.0.0.0', NODE_ENV: 'test' }, false)).toThrow(
    'listens on this machine only',
  );
  expect(readSettings({ BOLD_EMBER_LISTEN: '0.0.0.0', NODE_ENV: 'test' }, true).address).toBe('0.0.0.0');
  expect(readSettings({ NODE_ENV: 'test' }, true)).toMatchObject({
    address: '127.0.0.1',
    port: 3000,
    behindProxy: false,
  });
  expect(() => readSettings({ PORT: 'x', NODE_ENV: 'test' }, false)).toThrow('PORT');
});
