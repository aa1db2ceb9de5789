import { type APIRequestContext, type Browser, test as base, expect, type Page } from '@playwright/test';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { type AddressInfo, connect, createServer, type Socket } from 'node:net';
import type { Pool } from 'pg';
import { type Scratch, scratchDatabase } from '../records/scratchDatabase';
import { nameInNetwork } from './browser';
import { serve, type Served } from './server';

export interface ServedWorkshop {
  url: string;
  pool: Pool;
  /** Takes the database away from the server, or gives it back. */
  cut(): void;
  mend(): void;
  /** Moves the server's clock, this many seconds ahead of what it is. */
  later(aheadS: number): Promise<void>;
}

interface Options {
  /** Filled with the demo data, or empty. */
  demo: boolean;
  /** Locks the workshop. */
  passphrase: string;
}

/** As on a phone: pages are asked for by a name, over plain HTTP, so that no context is secure; two processes serve. */
interface Asking {
  byName: boolean;
}

interface Seat {
  page: Page;
  faults: string[];
}

interface Workplace {
  /** The workshop of that file; the one before it is gone. */
  of(file: string, options: Options & Asking): Promise<ServedWorkshop>;
  /** The page that the tests of the file go on in, and what went wrong in it. */
  seat(browser: Browser): Promise<Seat>;
  close(): Promise<void>;
}

/**
 * A server with the wire to its database. For each file that database is exchanged under it, as by bin/db restore: what
 * it kept of the one before would show.
 */
async function openWorkplace(): Promise<Workplace> {
  const wire = await createWire(new URL(process.env.DATABASE_URL ?? ''));
  let scratch: Scratch | undefined;
  let served: (Served & { passphrase: string }) | undefined;
  let openFile = '';
  let seat: Seat | undefined;

  const exchange = async (demo: boolean): Promise<Scratch> => {
    wire.cut();
    await scratch?.drop();
    const template = demo ? process.env.DEMO_TEMPLATE : process.env.WORKSHOP_TEMPLATE;
    const fresh = await scratchDatabase(template, scratch?.name);
    wire.mend();
    return fresh;
  };
  return {
    of: async (file, { demo, passphrase, byName }) => {
      if (file !== openFile || !scratch || !served) {
        await seat?.page.context().close();
        seat = undefined;
        scratch = await exchange(demo);
        if (served?.passphrase === passphrase) {
          await served.later(0);
          await served.ready();
        } else {
          await served?.stop();
          const wired = new URL(scratch.url);
          wired.port = String(wire.port);
          served = {
            ...(await serve(wired.href, {
              BOLD_EMBER_PASSPHRASE: passphrase,
              BOLD_EMBER_HOSTS: nameInNetwork,
              BOLD_EMBER_PROCESSES: byName ? '2' : '1',
            })),
            passphrase,
          };
        }
        openFile = file;
      }
      return { url: served.url, later: served.later, pool: scratch.pool, cut: wire.cut, mend: wire.mend };
    },
    seat: async (browser) => {
      if (!seat) {
        const page = await (await browser.newContext()).newPage();
        seat = { page, faults: watched(page) };
      }
      return seat;
    },
    close: async () => {
      await served?.stop();
      wire.close();
      await scratch?.drop();
    },
  };
}

/** Each file has a workshop that no other has touched; the browser and the server stay. */
export const test = base.extend<Options & Asking & { workshop: ServedWorkshop }, { workplace: Workplace }>({
  demo: [false, { option: true }],
  passphrase: ['', { option: true }],
  byName: [false, { option: true }],
  workplace: [
    // Playwright reads from the braces that nothing else is needed.
    async ({}, give) => {
      const workplace = await openWorkplace();
      await give(workplace);
      await workplace.close();
    },
    { scope: 'worker' },
  ],
  workshop: [
    async ({ workplace, demo, passphrase, byName }, give, { file }) =>
      give(await workplace.of(file, { demo, passphrase, byName })),
    { timeout: 600_000 },
  ],
  baseURL: async ({ workshop, byName }, give) =>
    give(byName ? workshop.url.replace('127.0.0.1', nameInNetwork) : workshop.url),
  // The name is known to the browser alone.
  request: async ({ playwright, workshop }, give) => {
    const request = await playwright.request.newContext({ baseURL: workshop.url });
    await give(request);
    await request.dispose();
  },
  page: async ({ page }, give) => {
    const faults = watched(page);
    await give(page);
    expect(faults).toEqual([]);
  },
});

/** For a file whose tests are one person's evening, one after the other: they go on in one page. */
export const evening = test.extend({
  // The workshop of the file comes first: with it the page of the one before is closed.
  context: async ({ browser, workplace, workshop: _ }, give) => give((await workplace.seat(browser)).page.context()),
  page: async ({ browser, workplace, workshop: _ }, give) => {
    const { page, faults } = await workplace.seat(browser);
    await give(page);
    expect(faults).toEqual([]);
  },
});

/** Lets a page's ways wait until its screen listens, and collects what goes wrong in it. */
function watched(page: Page): string[] {
  const faults: string[] = [];
  page.on('pageerror', (error) => faults.push(error.message));
  page.on('console', (message) => {
    if (message.text().includes('Content Security Policy')) faults.push(message.text());
  });
  const load = page.goto.bind(page);
  page.goto = async (where, how) => {
    const answer = (await goOn(page, where)) ? null : await load(where, how);
    await listening(page);
    return answer;
  };
  const reload = page.reload.bind(page);
  page.reload = async (...how) => {
    const answer = await reload(...how);
    await listening(page);
    return answer;
  };
  return faults;
}

/**
 * Leads an open page to another screen without reloading it, as a link does: a person opens a workshop once, and
 * then goes about in it. False where it has to be loaded: the first one, the same again, what is no screen, and what
 * is given as a whole address.
 */
async function goOn(page: Page, path: string): Promise<boolean> {
  const before = page.url();
  if (!path.startsWith('/') || path.startsWith('/api/') || before.endsWith(path)) return false;
  // A page that was just loaded leads nowhere before its own script has begun.
  await page.waitForLoadState();
  await listening(page);
  const isLed = await page.evaluate((to) => {
    const { next } = window as { next?: { router?: { push(to: string): void } } };
    next?.router?.push(to);
    return Boolean(next?.router);
  }, path);
  if (!isLed) return false;
  await page.waitForURL((url) => url.href !== before);
  await expect(page.getByText('One moment …', { exact: true })).toHaveCount(0);
  return true;
}

/** Waits until the screen's own script has taken over its reading bar: before that a key or a click is lost. */
export async function listening(page: Page): Promise<void> {
  const bar = page.locator('footer.bar input');
  if ((await bar.count()) > 0) await expect(bar).toHaveAttribute('data-listens');
}

async function createWire(target: URL) {
  const open = new Set<Socket>();
  let whole = true;
  const server = createServer((from) => {
    if (!whole) return from.destroy();
    const to = connect(Number(target.port), target.hostname);
    for (const [a, b] of [
      [from, to],
      [to, from],
    ] as const) {
      open.add(a);
      a.on('error', () => b.destroy());
      a.on('close', () => {
        open.delete(a);
        b.destroy();
      });
      a.pipe(b);
    }
    return undefined;
  }).listen(0, '127.0.0.1');
  await once(server, 'listening');
  const cut = () => {
    whole = false;
    open.forEach((socket) => socket.destroy());
  };
  return {
    port: (server.address() as AddressInfo).port,
    cut,
    mend: () => {
      whole = true;
    },
    close: () => {
      cut();
      server.close();
    },
  };
}

/** Types a line into the reading bar and files it. */
export async function type(page: Page, line: string): Promise<void> {
  const bar = page.locator('footer.bar input');
  // A line entered before the page listens is lost, as it would be for a person.
  await expect(bar).toHaveAttribute('data-listens');
  await bar.fill(line);
  await page.keyboard.press('Enter');
}

/** Files lines as a script does, beside a person who types. */
export async function send(request: APIRequestContext, lines: string[], of: { round?: number } = {}): Promise<void> {
  for (const text of lines) {
    const answer = await request.post('/api/v1/entries', { data: { text, ...of } });
    expect([text, answer.status(), await answer.text()]).toEqual([text, 201, expect.any(String)]);
  }
}

/**
 * Keeps what the page sends to an address, or with GET what it asks for, from the server until the function it gives is
 * called.
 */
export async function holdBack(
  page: Page,
  address: string | RegExp,
  method: 'POST' | 'GET' = 'POST',
): Promise<() => void> {
  let letGo = (): void => undefined;
  const gate = new Promise<void>((resolve) => {
    letGo = resolve;
  });
  await page.route(address, async (route) => {
    if (route.request().method() === method) await gate;
    await route.continue();
  });
  return letGo;
}

/**
 * Loads a screen that hears nothing until the function it gives is called, and so is not redrawn meanwhile: a
 * connection that goes in the middle of that is another test's.
 */
export async function loadedUnheard(page: Page, address: string): Promise<() => void> {
  const letHear = await holdBack(page, /api\/v1\/events/, 'GET');
  await page.goto(address);
  return letHear;
}

export const said = (page: Page) => page.locator('footer.bar .said');

/** Moves by Tab until the field or control with that name has the focus. */
export async function tabTo(page: Page, name: string | RegExp): Promise<void> {
  for (let i = 0; i < 120; i++) {
    await page.keyboard.press('Tab');
    const found = await page.evaluate(() => {
      const element = document.activeElement as HTMLInputElement | null;
      return element?.labels?.[0]?.textContent ?? element?.getAttribute('aria-label') ?? element?.textContent ?? '';
    });
    if (typeof name === 'string' ? found.trim() === name : name.test(found)) return;
  }
  throw new Error(`No Tab leads to ${name}`);
}

/** Fills a form by Tab and typing; a list takes the option that begins with the text. */
export async function fillByKeys(page: Page, fields: Record<string, string>): Promise<void> {
  for (const [label, text] of Object.entries(fields)) {
    await tabTo(page, label);
    await page.keyboard.press('ControlOrMeta+a');
    await page.keyboard.type(text);
  }
}

const axePath = createRequire(`${process.cwd()}/`).resolve('axe-core/axe.min.js');

/** Every violation of WCAG 2.2 A and AA that axe finds on the page. */
export async function axeViolations(page: Page): Promise<string[]> {
  // Evaluated, not added to the page: its own policy would not let a foreign script in.
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(readFileSync(axePath, 'utf8'));
  return page.evaluate(async () => {
    const { axe } = window as unknown as {
      axe: { run(options: object): Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> };
    };
    const { violations } = await axe.run({
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'],
      // What is in order is left out, and so is the place of what is not: its own text shows that.
      resultTypes: ['violations'],
      selectors: false,
    });
    return violations.map(
      (violation) =>
        `${violation.id}: ${violation.nodes
          .map((node) => node.html.slice(0, 140))
          .slice(0, 3)
          .join(' | ')}`,
    );
  });
}

/** A discharge log: 1 A from 4.1 V, falling so that 2.8 V is reached after `hours`. */
export function logOf(
  hours: number,
  { separator = ',', decimal = '.', heading = 'Time (s),Voltage (V)', stepS = 10 } = {},
): string {
  const end = hours * 3600;
  const line = (t: number) => {
    const fraction = t / end;
    const v = 4.1 - 0.9 * fraction - 0.4 * fraction ** 12;
    return `${t}${separator}${v.toFixed(4).replace('.', decimal)}`;
  };
  const lines = Array.from({ length: Math.ceil(end / stepS) + 4 }, (_, i) => line(i * stepS));
  return `${heading ? `${heading}\n` : ''}${lines.join('\n')}\n`;
}

export { expect };
