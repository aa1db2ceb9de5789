import { subjectByCode } from '../records/cells';
import { fileEntry } from '../records/ledger';
import { beginRest } from '../records/periods';
import { expect, said, test, type } from './workshop';
import type { Browser, Page } from '@playwright/test';
import { randomUUID } from 'node:crypto';

test.use({ demo: true });

/** Another browser at the same workshop. */
async function another(browser: Browser, url: string, path: string): Promise<Page> {
  const page = await (await browser.newContext({ baseURL: url })).newPage();
  await page.goto(path);
  await expect(page.locator('footer.bar input')).toBeFocused();
  return page;
}

const stop = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Stations' }).getByRole('link', { name });
const count = async (page: Page, name: string) => Number(await stop(page, name).locator('b').textContent());

test('the counts and lists of an open page follow what another browser and a program do', async ({
  page,
  browser,
  workshop,
  request,
}) => {
  await page.goto('/shelf?class=ungraded');
  const before = await count(page, 'Intake');
  const other = await another(browser, workshop.url, '/intake/H2');
  await type(other, '3.7 46.8 ok');
  await expect(said(other)).toContainText('Filed');
  await expect(stop(page, 'Intake').locator('b')).toHaveText(String(before - 1));

  await page.goto('/capacity');
  await expect(page.getByText('sent-by-a-program')).toHaveCount(0);
  const lines = Array.from({ length: 40 }, (_, i) => `${i * 60},${(4.1 - i * 0.035).toFixed(3)}`);
  const query = `subject=H2-001&load=current:1&endedAt=${new Date().toISOString()}&fileName=sent-by-a-program.csv`;
  const answer = await request.post(`/api/v1/runs?${query}`, {
    headers: { 'content-type': 'text/csv' },
    data: `time,voltage\n${lines.join('\n')}\n`,
  });
  expect(answer.status()).toBe(201);
  await expect(page.getByText('H2-001').first()).toBeVisible();
  await expect(page.getByLabel('Watch').getByText('H2-001')).toBeVisible();
});

test('two who read the same round are told of each other, and no cell takes the place of the one asked for', async ({
  page,
  browser,
  workshop,
}) => {
  await page.goto('/resistance/1');
  const next = page.getByRole('region', { name: 'Next cell' });
  const asked = (await next.locator('div.num').first().textContent())?.trim() ?? '';
  const other = await another(browser, workshop.url, '/resistance/1');
  await type(other, `${asked} 3.790 3.720`);
  await expect(said(other)).toContainText(`Filed ${asked}`);
  await expect(page.getByText(`${asked} was just measured on another screen.`)).toBeVisible();
  await expect(next).toContainText(asked);
  // It is asked about, since it was read meanwhile; read all the same, the first one hears of it.
  await type(page, '3.791 3.721');
  await expect(said(page)).toContainText('was measured from another screen just now');
  await page.keyboard.press('Enter');
  await expect(said(page)).toContainText(`Filed ${asked}`);
  await expect(other.getByText(`${asked} was also measured on another screen. Check both readings.`)).toBeVisible();
});

test('a reading that waited is asked about where its cell was read meanwhile', async ({ page, workshop }) => {
  await page.goto('/resistance/1');
  const next = page.getByRole('region', { name: 'Next cell' });
  const asked = (await next.locator('div.num').first().textContent())?.trim() ?? '';
  const [cell, round] = [
    await subjectByCode(workshop.pool, asked),
    (await workshop.pool.query('select occasion_id from round where id = 1')).rows[0],
  ];
  workshop.cut();
  await type(page, '3.790 3.720');
  await expect(said(page)).toContainText('is kept in this browser');
  await fileEntry(workshop.pool, {
    entry: randomUUID(),
    subjectIds: [cell?.id ?? 0],
    occasionId: round.occasion_id,
    bodies: [
      { kind: 'load-step', openV: 3.79, loadedV: 3.72, afterV: null, currentA: null, step: 0.001, currentStep: null },
    ],
  });
  workshop.mend();
  const box = page.getByLabel('Kept in this browser');
  await expect(box).toContainText('1 not filed yet, 1 refused');
  await box.locator('summary').click();
  await expect(box.getByRole('listitem')).toContainText('was measured from another screen just now');
  await box.getByRole('button', { name: 'File it as read' }).click();
  await expect(box).toHaveCount(0);
});

test('a rest that is over speaks up in every browser; seen and ended are two acts', async ({
  page,
  browser,
  workshop,
}) => {
  await page.goto('/shelf');
  const other = await another(browser, workshop.url, '/clinic');
  const { rows } = await workshop.pool.query("select id from batch where code = 'H2'");
  await beginRest(workshop.pool, rows[0].id, 'charge', 3600, new Date(Date.now() - 3_596_000));
  const slipOn = (where: Page) => where.getByLabel('Watch').locator('.slip').filter({ hasText: 'H2 rests' });
  for (const one of [page, other]) {
    await expect(slipOn(one)).toBeVisible();
    await expect(one.getByRole('alert').filter({ hasText: 'H2 has rested' })).toHaveText(
      'H2 has rested after its charge. Ready to measure.',
    );
    await expect(slipOn(one)).toHaveClass(/due/);
    expect(await one.evaluate(() => document.documentElement.dataset.signal)).toBe('look');
  }
  await slipOn(page).getByRole('button', { name: 'Seen' }).click();
  for (const one of [page, other]) await expect(slipOn(one)).not.toHaveClass(/due/);
  await expect(slipOn(other)).toContainText('Ready to measure');
  await slipOn(other).getByRole('button', { name: 'End the rest' }).click();
  for (const one of [page, other]) await expect(slipOn(one)).toHaveCount(0);
});

test('without its database an open page says from when its counts are, and follows again once it is back', async ({
  page,
  workshop,
}) => {
  await page.goto('/shelf');
  const before = await count(page, 'Intake');
  await expect(page.getByLabel('Watch').getByText('No connection')).toHaveCount(0);
  workshop.cut();
  await expect(page.getByLabel('Watch').getByText(/No connection: this is how it was at \d\d:\d\d/)).toBeVisible();
  await workshop.pool.query(
    `insert into subject (code, batch_id, model_id, place)
     select 'H2-900', batch_id, model_id, 900 from subject where code = 'H2-001'`,
  );
  workshop.mend();
  await expect(stop(page, 'Intake').locator('b')).toHaveText(String(before + 1));
  await expect(page.getByLabel('Watch').getByText('No connection')).toHaveCount(0);
});

test('a way taken without a connection is gone once it is back, by key as by hand, unless one stays', async ({
  page,
  workshop,
}) => {
  await page.goto('/shelf');
  await expect(page.getByLabel('Watch').getByText('No backup yet')).toBeVisible();
  workshop.cut();
  await expect(page.getByLabel('Watch').getByText('No connection')).toBeVisible();
  const waits = page.getByText('opens as soon as it is back');
  await stop(page, 'Clinic').click();
  await expect(waits).toBeVisible();
  await page.getByRole('button', { name: 'Stay here' }).click();
  await expect(waits).toHaveCount(0);
  await page.keyboard.press('Alt+1');
  await expect(waits).toBeVisible();
  await expect(page).toHaveURL(/\/shelf$/);
  workshop.mend();
  await expect(page).toHaveURL(/\/intake$/);
  await expect(page.getByRole('heading', { name: 'Intake' })).toBeVisible();
  await expect(waits).toHaveCount(0);
});

test('a page whose stream was refused asks for it again', async ({ page }) => {
  let asked = 0;
  await page.route(/api\/v1\/events/, async (route) => {
    asked += 1;
    // A browser does not connect again by itself after an answer such as this.
    await (asked === 1 ? route.fulfill({ status: 503, body: 'busy' }) : route.continue());
  });
  await page.goto('/intake');
  await expect.poll(() => asked).toBeGreaterThan(1);
});
