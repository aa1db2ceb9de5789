import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type IncomingHttpHeaders, request, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { text } from 'node:stream/consumers';
import { gzipSync } from 'node:zlib';
import { createBuiltFiles } from './builtFiles';

const folder = mkdtempSync(join(tmpdir(), 'bold-ember-built-'));
let server: Server;

beforeAll(async () => {
  writeFileSync(join(folder, 'a.js'), 'plain');
  writeFileSync(join(folder, 'a.js.gz'), gzipSync('packed'));
  const isBuilt = createBuiltFiles(folder);
  server = createServer((asked, response) => {
    if (!isBuilt(asked, response)) response.writeHead(401).end(asked.url);
  }).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
});

afterAll(() => {
  server.close();
  rmSync(folder, { recursive: true });
});

/** What is answered to an address that is sent unchanged. */
async function answerTo(path: string, method = 'GET', headers: IncomingHttpHeaders = {}) {
  const { port } = server.address() as AddressInfo;
  return new Promise<{ status: number | undefined; told: IncomingHttpHeaders; body: string }>((resolve, reject) => {
    request({ port, path, method, headers, agent: false }, (answer) => {
      text(answer).then((body) => resolve({ status: answer.statusCode, told: answer.headers, body }), reject);
    })
      .on('error', reject)
      .end();
  });
}

test('a file of the build goes out as the build packed it, to who understands that', async () => {
  const plain = await answerTo('/_next/static/a.js?dpl=1');
  expect(plain).toMatchObject({ status: 200, body: 'plain', told: { 'content-type': 'text/javascript' } });
  expect(plain.told['cache-control']).toContain('immutable');
  const packed = await answerTo('/_next/static/a.js', 'GET', { 'accept-encoding': 'gzip, br' });
  expect(packed.told).toMatchObject({ 'content-encoding': 'gzip', 'content-type': 'text/javascript' });
  expect(packed.told.vary).toContain('Accept-Encoding');
});

test.each(['bytes=3-1', 'bytes=9-', 'bytes=x', 'lines=1-2'])('whole, whatever part is asked for: %s', async (range) => {
  expect(await answerTo('/_next/static/a.js', 'GET', { range })).toMatchObject({ status: 200, body: 'plain' });
});

test.each([
  ['/_next/static/no-such-file.js', 'GET'],
  ['/_next/static/', 'GET'],
  ['/_next/static/../a.js', 'GET'],
  ['/_next/static/..%2fa.js', 'GET'],
  ['/_next/static/%e0%a4%a', 'GET'],
  ['/elsewhere/_next/static/a.js', 'GET'],
  ['/_next/static/a.js', 'POST'],
])('%s by %s is none, and goes on as it came', async (path, method) => {
  expect(await answerTo(path, method)).toMatchObject({ status: 401, body: path });
});
