import { beginSession, endSession, isApiKey, isInSession } from '@/records/access';
import { database, isDatabaseAway } from '@/records/database';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { adopt, isRight, type Lock } from './passphrase';
import type { Settings } from './settings';
import { createTries } from './tries';

const cookieName = 'bold-ember';
/** A week at the bench; then the passphrase is asked for again. */
const sessionLifeS = 7 * 86_400;
/** A hash takes half a second: more than this at once is no person typing. */
const mostChecking = 4;

/** Seen by everyone: the page that asks for the passphrase, and calendars by their secret. */
const openToAll = /^\/(login(\?|$)|icon\.svg$|calendar\/[^/]+$)/;

export interface Door {
  /** Whether this request may go on; every one may where no passphrase is set. */
  admits(request: IncomingMessage): Promise<boolean>;
  signIn(request: IncomingMessage, response: ServerResponse): Promise<void>;
  signOut(request: IncomingMessage, response: ServerResponse): Promise<void>;
}

/** Who comes in, where a passphrase is set: by a session, or with a key of the API. */
export function createDoor(lock: Lock, { behindProxy }: Settings): Door {
  let adopting: Promise<string> | undefined;
  const hashInForce = (): Promise<string> => {
    if (!lock) throw new Error('No passphrase is set.');
    // Without its database the server starts all the same; it is asked again then.
    adopting ??= adopt(lock).catch((error: unknown) => {
      adopting = undefined;
      throw error;
    });
    return adopting;
  };
  const tries = createTries();
  let checking = 0;

  const callerOf = (request: IncomingMessage): string =>
    (behindProxy
      ? String(request.headers['x-forwarded-for'] ?? '')
          .split(',')
          .at(-1)
          ?.trim()
      : '') ||
    (request.socket.remoteAddress ?? '');
  const cookie = (request: IncomingMessage, value: string, lifeS: number): string =>
    `${cookieName}=${value}; Path=/; HttpOnly; SameSite=Strict; ` +
    `Max-Age=${lifeS}${behindProxy && request.headers['x-forwarded-proto'] === 'https' ? '; Secure' : ''}`;

  return {
    async admits(request) {
      // To be looked at only: whatever is sent, an action of a page among it, is for those who are in.
      const isLooking = request.method === 'GET' || request.method === 'HEAD';
      if (!lock || (isLooking && openToAll.test(request.url ?? ''))) return true;
      await hashInForce();
      const key = /^Bearer (\S+)$/.exec(request.headers.authorization ?? '')?.[1];
      if (key && request.url?.startsWith('/api/')) return isApiKey(database(), key);
      const token = tokenOf(request);
      return token !== null && isInSession(database(), token);
    },

    async signIn(request, response) {
      const form = new URLSearchParams(await textOf(request));
      const to = ownPath(form.get('to'));
      const back = (why: Record<string, string>) => redirect(response, `/login?${new URLSearchParams({ ...why, to })}`);
      if (!lock) return redirect(response, to);
      const caller = callerOf(request);
      const waitMs = tries.waitMs(caller);
      if (waitMs > 0) return back({ wait: String(Math.ceil(waitMs / 1000)) });
      // Strangers leave room for those who came in before.
      if (checking >= (tries.isKnown(caller) ? mostChecking : mostChecking / 2)) return back({ wait: '2' });
      checking += 1;
      // Counted before it is known: tries side by side do not get around the wait.
      tries.failed(caller);
      try {
        if (!(await isRight(await hashInForce(), form.get('passphrase') ?? ''))) {
          tries.knownWrong(caller);
          return back({ wrong: '1' });
        }
        tries.succeeded(caller);
        tries.know(caller);
        const token = await beginSession(
          database(),
          sessionLifeS,
          String(request.headers['user-agent'] ?? 'unknown').slice(0, 200),
        );
        response.setHeader('Set-Cookie', cookie(request, token, sessionLifeS));
        return redirect(response, to);
      } catch (error) {
        tries.succeeded(caller);
        if (isDatabaseAway(error)) return back({ away: '1' });
        throw error;
      } finally {
        checking -= 1;
      }
    },

    async signOut(request, response) {
      const token = tokenOf(request);
      if (token !== null) await endSession(database(), token);
      response.setHeader('Set-Cookie', cookie(request, '', 0));
      return redirect(response, '/login');
    },
  };
}

function tokenOf(request: IncomingMessage): string | null {
  const own = (request.headers.cookie ?? '').split(/;\s*/).find((one) => one.startsWith(`${cookieName}=`));
  return own ? own.slice(cookieName.length + 1) : null;
}

const nowhere = 'http://workshop.invalid';

/** Where to go on, within the workshop, as a header may hold it. */
function ownPath(to: string | null): string {
  if (to === null || !/^\/(?![/\\])/.test(to) || !URL.canParse(to, nowhere)) return '/';
  const { origin, pathname, search } = new URL(to, nowhere);
  return origin === nowhere && !pathname.startsWith('//') && !pathname.startsWith('/login') ? pathname + search : '/';
}

function redirect(response: ServerResponse, to: string): void {
  response.writeHead(303, { Location: to, 'Cache-Control': 'no-store' }).end();
}

const longestForm = 4096;

async function textOf(request: IncomingMessage): Promise<string> {
  let text = '';
  for await (const part of request) {
    text += String(part);
    if (text.length > longestForm) return '';
  }
  return text;
}
