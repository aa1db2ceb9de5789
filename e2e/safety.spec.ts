import type { Page } from '@playwright/test';
import { request as nodeRequest } from 'node:http';
import { evening as test, expect, said, type } from './workshop';
import { filed } from '../records/filedRows';

test.beforeAll(async ({ workshop }) => {
  const { rows } = await workshop.pool.query<{ id: number }>(
    `insert into cell_model (maker, name, chemistry, rated_capacity_ah, mass_kg)
      values ('Quillon', 'Q18-25', 'li-ion', 2.45, 0.0446)
      returning id`,
  );
  const batch = await workshop.pool.query<{ id: number }>(
    "insert into batch (code, origin) values ('N1', 'safety') returning id",
  );
  await workshop.pool.query(
    `insert into subject (code, batch_id, model_id, place)
      select 'N1-' || lpad(n::text, 3, '0'), $1, $2, n
      from generate_series(1, 6) n`,
    [batch.rows[0]?.id, rows[0]?.id],
  );
});

/** Asks as no browser lets a page ask: with any Host header. */
const statusFor = (url: string, host: string, path = '/shelf') =>
  new Promise<number>((resolve, reject) => {
    nodeRequest(new URL(path, url), { headers: { host } }, (answer) => resolve(answer.resume().statusCode ?? 0))
      .on('error', reject)
      .end();
  });

test('a name that was turned to this machine is not answered', async ({ workshop }) => {
  expect(await statusFor(workshop.url, 'rebound.example')).toBe(421);
  expect(await statusFor(workshop.url, 'rebound.example', '/api/v1/health')).toBe(421);
  expect(await statusFor(workshop.url, 'localhost')).toBe(200);
});

test('pages run no script but their own, and tell the browser so', async ({ page }) => {
  const answer = await page.goto('/shelf');
  const policy = answer?.headers()['content-security-policy'] ?? '';
  expect(policy).toMatch(/script-src 'self' 'nonce-[\w+/=]+' 'strict-dynamic'/);
  expect(policy).not.toContain('unsafe-eval');
  expect(answer?.headers()).toMatchObject({
    'x-content-type-options': 'nosniff',
    'referrer-policy': 'no-referrer',
    'cross-origin-opener-policy': 'same-origin',
  });
  expect(answer?.headers()['x-powered-by']).toBeUndefined();
});

test('what is not there says so', async ({ page }) => {
  await page.goto('/capacity/1.5');
  await expect(page.getByRole('heading', { name: 'Nothing here by that name' })).toBeVisible();
});

for (const address of [
  '/capacity/99999999999',
  '/builds/1e10',
  '/resistance/-1',
  '/instruments/check/x',
  '/cells/%ff',
  '/cells/%00',
  '/nope',
  '/intake/S1',
  '/clinic/x',
]) {
  test(`${address} is not there`, async ({ request }) => {
    // The mark that makes the page say so: the words themselves come with every page.
    expect((await (await request.get(address)).text()).includes('NEXT_HTTP_ERROR_FALLBACK;404')).toBe(true);
  });
}

for (const [old, now] of [
  ['/runs/60?curve=1', '/capacity/60?curve=1'],
  ['/runs', '/capacity'],
  ['/hold/3', '/self-discharge/3'],
] as const) {
  test(`the old address ${old} leads to ${now}`, async ({ request }) => {
    const answer = await request.get(old, { maxRedirects: 0 });
    expect(answer.status()).toBe(308);
    expect(answer.headers().location).toBe(now);
  });
}

for (const address of [
  '/shelf?q=1&q=2',
  '/shelf?view=table&sort=valueOf',
  '/shelf?page=1e9',
  '/capacity?page=-3',
  '/shelf?cell=__proto__',
  '/builds/new?series=x',
  '/resistance/compare?first=1.5',
  '/shelf?q=%00',
]) {
  test(`${address} is the sensible page`, async ({ request }) => {
    const answer = await request.get(address);
    expect(answer.status()).toBe(200);
    const html = await answer.text();
    expect(html.includes('<h1')).toBe(true);
    // What could not be drawn is marked so, at once or as it streams in.
    expect(/data-dgst|\$RX\("/.test(html)).toBe(false);
  });
}

test('a figure that cannot be kept is refused with what was meant, and holds no later line back', async ({
  page,
  workshop,
}) => {
  await page.goto('/intake/N1?at=N1-001');
  await type(page, '3712');
  await expect(said(page)).toContainText('Was it 3.712 V?');
  await page.keyboard.press('Enter');
  await expect(said(page)).toContainText('Was it 3.712 V?');
  await expect(page.getByLabel('Kept in this browser')).toHaveCount(0);
  await type(page, '3.712 0g');
  await expect(said(page)).toContainText('a weight here is above zero');
  await type(page, '3.712');
  await expect(said(page)).toContainText('Filed N1-001: 3.712 V');
  expect((await workshop.pool.query('select 1 from entry')).rowCount).toBe(1);
});

test('lines that wait for the connection can be looked at, changed and dropped one by one', async ({
  page,
  workshop,
}) => {
  await page.goto('/intake/N1?at=N1-002');
  workshop.cut();
  await type(page, 'N1-002 3.61');
  await expect(said(page)).toContainText('is kept in this browser');
  await type(page, 'N1-003 3.62');
  await type(page, 'N1-004 3.63');
  const waiting = page.getByLabel('Kept in this browser');
  await expect(waiting).toContainText('3 not filed yet');
  await waiting.locator('summary').click();
  await expect(waiting.getByRole('listitem')).toHaveCount(3);
  await waiting.getByRole('listitem').filter({ hasText: '3.62' }).getByRole('button', { name: 'Drop it' }).click();
  await waiting.getByRole('listitem').filter({ hasText: '3.63' }).getByRole('button', { name: 'Change' }).click();
  await expect(waiting.getByLabel('Instead of N1-004 3.63 V')).toBeFocused();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('N1-004 3.64 V');
  await page.keyboard.press('Enter');
  await expect(waiting).toContainText('2 not filed yet');
  workshop.mend();
  await waiting.getByRole('button', { name: 'Send now' }).click();
  await expect(waiting).toHaveCount(0);
  const { rows } = await workshop.pool.query<{ code: string; v: number }>(
    `select code, figures -> 'voltage_v' as v from ${filed} where (figures ->> 'voltage_v')::float < 3.7 order by code`,
  );
  expect(rows).toEqual([
    { code: 'N1-002', v: 3.61 },
    { code: 'N1-004', v: 3.64 },
  ]);
});

const fillInstrument = async (page: Page, fields: Record<string, string>) => {
  await page.getByText('Current, resistance, leads').click();
  for (const [label, text] of Object.entries(fields)) await page.getByLabel(label, { exact: true }).first().fill(text);
  await page.getByRole('button', { name: 'Put it on the bench' }).click();
};

for (const [field, value, says] of [
  ['Leads: gauge', '18.5', 'a whole number from 0 to 40'],
  ['Length, m', '60', 'metres below 20'],
  ['± % of reading', '100', 'per cent from 0 to below 100'],
  ['What it is', 'a\u0001meter', 'cannot be printed'],
] as const) {
  test(`an instrument with ${field} ${JSON.stringify(value)}: the field is named, the text stays`, async ({ page }) => {
    await page.goto('/instruments');
    await fillInstrument(page, {
      Code: 'DM9',
      'What it is': 'a meter',
      'Voltage: step, mV': '1',
      ...(field === 'Length, m' ? { 'Leads: gauge': '18' } : {}),
      [field]: value,
    });
    await expect(page.getByText(says).first()).toBeVisible();
    await expect(page.getByLabel('Code', { exact: true }).first()).toHaveValue('DM9');
  });
}

test('a batch of cells of 150 kg each is refused in its field', async ({ page }) => {
  await page.goto('/intake');
  await page.getByLabel('Code', { exact: true }).fill('N9');
  for (const [label, text] of [
    ['Number of cells', '2'],
    ['From where, used how', 'a barge'],
    ['Maker', 'Quillon'],
    ['Model', 'Heavy'],
    ['Rated capacity, Ah', '2'],
    ['Weight of a good one, g', '150000'],
  ] as const)
    await page.getByLabel(label, { exact: true }).fill(text);
  await page.getByRole('button', { name: 'Take in' }).click();
  await expect(page.getByText('more than anybody lifts').first()).toBeVisible();
  await expect(page.getByLabel('Model', { exact: true })).toHaveValue('Heavy');
});
