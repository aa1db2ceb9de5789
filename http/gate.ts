import { largestLogBytes } from '@/core/capacity/logSize';
import type { IncomingHttpHeaders } from 'node:http';
import type { Settings } from './settings';

/** A request that is not let through to the screens. */
export interface TurnedAway {
  status: number;
  code: string;
  message: string;
}

export interface GateRequest {
  method: string;
  /** As it came: path and query. */
  url: string;
  headers: IncomingHttpHeaders;
}

const megabyte = 2 ** 20;

interface Route {
  path: RegExp;
  /** What it may be sent as; none for what is no body at all. */
  types: readonly string[];
  mostBytes: number;
}

const json = ['application/json'];
const logs = ['text/csv', 'text/tab-separated-values', 'application/octet-stream'];

/** What may be sent where; the first that fits. Everything else that is sent is an action of a page. */
const routes: readonly Route[] = [
  { path: /^\/api\/v1\/(runs|compute\/discharge)$/, types: logs, mostBytes: largestLogBytes },
  { path: /^\/api\//, types: json, mostBytes: megabyte },
  { path: /^\/resistance\/\d+\/readings$/, types: json, mostBytes: 16 * 1024 },
  { path: /^\/(login|logout)$/, types: ['application/x-www-form-urlencoded'], mostBytes: 4 * 1024 },
];

/** The largest form of a page; the framework itself counts what it reads of one. */
const largestActionBytes = megabyte;

const hostOf = (header: string | undefined): string => (header ?? '').toLowerCase().replace(/:\d+$/, '');

/** Whether a request is let through; says otherwise why not. Who is signed in is another question. */
export function turnAway({ method, url, headers }: GateRequest, { hosts }: Settings): TurnedAway | null {
  if (!hosts.has(hostOf(headers.host))) {
    return {
      status: 421,
      code: 'host',
      message: 'The workshop does not answer to that name. Names of its own are set by BOLD_EMBER_HOSTS.',
    };
  }
  if (method === 'GET' || method === 'HEAD') return null;
  if (method !== 'POST') return { status: 405, code: 'method', message: 'Ask with GET or POST.' };
  if (!isOwnPage(headers))
    return {
      status: 403,
      code: 'foreign',
      message: 'This came from a page of another site, which may not write here.',
    };
  const path = url.split('?', 1)[0] ?? '';
  const route = routes.find((one) => one.path.test(path));
  // A header of its own: no foreign page can send it unasked.
  if (!route && headers['next-action'] === undefined)
    return { status: 405, code: 'method', message: 'Nothing can be sent to this address.' };
  const type = (headers['content-type'] ?? '').split(';', 1)[0]?.trim().toLowerCase() ?? '';
  if (route && !route.types.includes(type))
    return { status: 415, code: 'content-type', message: `Send it with content-type ${route.types.join(' or ')}.` };
  const most = route?.mostBytes ?? largestActionBytes;
  if (Number(headers['content-length'] ?? 0) > most) return { status: 413, code: 'too-large', message: tooLarge(most) };
  return null;
}

const tooLarge = (most: number): string =>
  `This is too large: at most ${most >= megabyte ? `${most / megabyte} MB` : `${most / 1024} kB`} may be sent here.`;

/** True for a page of the workshop itself, and for a program, which sends neither header. */
function isOwnPage(headers: IncomingHttpHeaders): boolean {
  const site = headers['sec-fetch-site'];
  if (site !== undefined) return site === 'same-origin';
  const { origin, host } = headers;
  if (origin === undefined) return true;
  try {
    return new URL(origin).host === host?.toLowerCase();
  } catch {
    return false;
  }
}

/** An address that no page has; it shows what an unknown address shows. */
const nowhere = '/nothing-here';

/** Steps up a path: the gate must see the same address as the handler behind it. */
const leadsElsewhere = /(^|[/\\])\.{1,2}([/\\]|$)|\\/;

/**
 * An address as the screens may rely on it: decodable, without control characters, each parameter of the query once.
 * What cannot be is an address that no page has.
 */
export function sensibleUrl(url: string): string {
  const [path = '/', query] = splitOnce(url);
  try {
    // Nothing printed has control characters, and no text column takes the first of them.
    const plain = decodeURIComponent(path);
    if (/[\u0000-\u001f\u007f]/.test(plain) || path.startsWith('//') || leadsElsewhere.test(plain)) return nowhere;
    // Pages of the framework's own, which no address leads to.
    if (/^\/_(?!next\/)/.test(plain)) return nowhere;
  } catch {
    return nowhere;
  }
  if (query === undefined || path.startsWith('/api/')) return url;
  const once = new URLSearchParams();
  for (const [name, value] of new URLSearchParams(query)) once.set(name, value.replace(/[\u0000-\u001f\u007f]/g, ''));
  return once.size === 0 ? path : `${path}?${once}`;
}

function splitOnce(url: string): [string, string | undefined] {
  const at = url.indexOf('?');
  return at < 0 ? [url, undefined] : [url.slice(0, at), url.slice(at + 1)];
}
