import { isHere, type Named } from '@/records/addresses';
import { database } from '@/records/database';
import { isInHandbook } from '@/workshop/handbookPages';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { z } from 'zod';

const manifest = z.object({
  staticRoutes: z.array(z.object({ page: z.string() })),
  dynamicRoutes: z.array(z.object({ page: z.string(), regex: z.string() })),
  redirects: z.array(z.object({ regex: z.string(), internal: z.boolean().optional() })),
});

/** What each page with a name in its address is about. */
const about: Record<string, Named | 'handbook page'> = {
  '/cells/[code]': 'cell',
  '/clinic/[code]': 'pack',
  '/rescue/[code]': 'subject',
  '/retire/[code]': 'subject',
  '/upkeep/[code]': 'subject',
  '/capacity/partial/[code]': 'subject',
  '/builds/repair/[code]': 'pack',
  '/intake/[code]': 'batch',
  '/intake/[code]/labels': 'batch',
  '/resistance/[id]': 'round',
  '/capacity/[id]': 'run',
  '/self-discharge/[id]': 'hold',
  '/builds/[id]': 'build',
  '/builds/[id]/labels': 'build',
  '/instruments/check/[id]': 'cross-check',
  '/handbook/[key]': 'handbook page',
};

/**
 * Tells addresses that the workshop has from those that it has not. The framework sends a page's first part, and the
 * status 200 with it, before the page finds that what it names is not here.
 *
 * @param build the folder of the build, which lists the routes
 */
export function createKnownAddresses(build: string): (path: string) => Promise<boolean> {
  const routes = manifest.parse(JSON.parse(readFileSync(join(build, 'routes-manifest.json'), 'utf8')));
  const isInside = ({ page }: { page: string }) => !page.startsWith('/_') && !page.includes('[...');
  const files = readdirSync('public').map((name) => `/${name}`);
  const plain = new Set([...routes.staticRoutes.filter(isInside).map(({ page }) => page), ...files]);
  const withNames = routes.dynamicRoutes.filter(isInside).map(({ page, regex }) => ({ page, form: new RegExp(regex) }));
  const leadOn = routes.redirects.filter(({ internal }) => !internal).map(({ regex }) => new RegExp(regex));
  return async (path) => {
    if (plain.has(path) || path.startsWith('/_next/') || leadOn.some((old) => old.test(path))) return true;
    for (const { page, form } of withNames) {
      const name = form.exec(path)?.[1];
      if (name === undefined) continue;
      const what = about[page];
      if (what === undefined) return true;
      const plainName = decodeURIComponent(name);
      return what === 'handbook page' ? isInHandbook(plainName) : isHere(database(), what, plainName);
    }
    return false;
  };
}
