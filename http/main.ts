import { clearTemporary } from '@/records/temporary';
import { setClockAhead } from '@/workshop/clock';
import next from 'next';
import cluster from 'node:cluster';
import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { createBuiltFiles } from './builtFiles';
import { createDoor } from './door';
import { sensibleUrl, turnAway } from './gate';
import { contentSecurityPolicy, usualHeaders } from './headers';
import { createKnownAddresses } from './knownAddresses';
import { readLock } from './passphrase';
import { processCount, runProcesses } from './processes';
import { readSettings } from './settings';

/** How long a connection without a request stays open. */
const idleConnectionMs = 30_000;
/** How long a log may take to arrive over a slow network. */
const longestRequestMs = 30 * 60_000;

const longestDrainMs = 30_000;

/** What only a proxy may say of the one who asks; anybody else's word is not taken. */
const saidByProxies = ['x-forwarded-host', 'x-forwarded-proto', 'x-forwarded-for', 'x-forwarded-port', 'forwarded'];

/** The server: what may not come in is turned away here; everything else goes to the screens and the API. */
async function serve(): Promise<void> {
  const lock = readLock(process.env);
  const settings = readSettings(process.env, lock !== null);
  await clearTemporary();
  const door = createDoor(lock, settings);
  const build = process.env.NEXT_DIST_DIR ?? '.next';
  const isBuilt = settings.hotReload ? () => false : createBuiltFiles(join(build, 'static'));
  const isKnown = settings.hotReload ? async () => true : createKnownAddresses(build);

  const answer = async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    for (const [name, value] of Object.entries(usualHeaders)) response.setHeader(name, value);
    const { method = 'GET', url = '/', headers } = request;
    const turned = turnAway({ method, url, headers }, settings);
    if (turned) {
      // A client that is still sending hears why only if the connection stays open. What it sends is not kept.
      request.resume();
      const drain = setTimeout(() => request.destroy(), longestDrainMs).unref();
      // The connection may serve other requests by then.
      request.once('end', () => clearTimeout(drain));
      return refuse(response, turned.status, turned.code, turned.message);
    }
    if (!settings.behindProxy) for (const name of saidByProxies) headers[name] = undefined;
    request.url = sensibleUrl(url);
    if (isBuilt(request, response)) return undefined;
    const [path = '/'] = request.url.split('?', 1);
    if (method === 'POST' && path === '/login') return door.signIn(request, response);
    if (method === 'POST' && path === '/logout') return door.signOut(request, response);
    if (!(await door.admits(request))) {
      if (path.startsWith('/api/') || method === 'POST')
        return refuse(
          response,
          401,
          'passphrase',
          'This workshop is locked: sign in, or send a key as Authorization: Bearer.',
        );
      response
        .writeHead(303, { Location: `/login?${new URLSearchParams({ to: request.url })}`, 'Cache-Control': 'no-store' })
        .end();
      return;
    }
    const isOfApi = path.startsWith('/api/');
    // A page that is open takes any status but 200 for a reason to load the address as a whole.
    const isStatusSeen = isOfApi || (headers.rsc === undefined && method !== 'POST');
    // Without its database a page says so itself.
    if (isStatusSeen && !(await isKnown(path).catch(() => true))) {
      if (isOfApi)
        return refuse(
          response,
          404,
          'no-such-address',
          'There is nothing at this address; /api/v1/openapi.json lists all.',
        );
      answerAs(response, 404);
    }
    if (!isOfApi) {
      const policy = contentSecurityPolicy(randomBytes(16).toString('base64'), settings);
      response.setHeader('Content-Security-Policy', policy);
      // The framework takes the nonce for its own scripts from here.
      headers['content-security-policy'] = policy;
    }
    await (
      await screens
    )(request, response);
  };

  const server = createServer((request, response) => {
    answer(request, response).catch((error: unknown) => {
      console.error(error);
      if (!response.headersSent)
        refuse(response, 503, 'fault', 'The workshop cannot answer now. If its database was restarted, try again.');
      else response.destroy();
    });
  });
  server.requestTimeout = longestRequestMs;
  // A busy machine answers late: a connection that a client means to use again is not closed under it.
  server.keepAliveTimeout = idleConnectionMs;
  server.listen(settings.port, settings.address);
  // The framework asks itself where an action leads elsewhere, so it has to know the port that was found.
  const screens = once(server, 'listening').then(async () => {
    const { port } = server.address() as AddressInfo;
    const app = next({ dev: settings.hotReload, hostname: settings.address, port });
    await app.prepare();
    // A parent process with a channel, such as a test, hears where the server answers, and moves its clock.
    process.send?.(port);
    return app.getRequestHandler();
  });
  const stop = (): void => {
    server.close(() => process.exit(0));
    server.closeAllConnections();
  };
  process.once('SIGTERM', stop);
  process.once('SIGINT', stop);
  process.on('message', (aheadS) => {
    setClockAhead(1000 * Number(aheadS));
    process.send?.(aheadS);
  });
  await screens;
}

/** Sends what would be answered with 200 with another status. */
function answerAs(response: ServerResponse, status: number): void {
  const writeHead = response.writeHead.bind(response) as (status: number, ...more: unknown[]) => ServerResponse;
  response.writeHead = (given: number, ...more: unknown[]) => writeHead(given === 200 ? status : given, ...more);
}

/** An error in the API's shape. */
function refuse(response: ServerResponse, status: number, code: string, message: string): void {
  response.writeHead(status, { 'Content-Type': 'application/json', 'Cache-Control': 'no-store' });
  response.end(JSON.stringify({ error: { code, message, issues: [] } }));
}

async function main(): Promise<void> {
  const count = processCount(process.env);
  if (count > 1 && cluster.isPrimary) runProcesses(count);
  else await serve();
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});
