import { get } from 'node:http';
import { axeViolations, expect, test } from './workshop';

test.use({ passphrase: 'four lanterns by the quay', viewport: { width: 390, height: 800 } });

/** Asks for a path unchanged: a browser would take its steps itself. */
const statusOf = (url: string, path: string) =>
  new Promise<number>((resolve, reject) => {
    get({ host: '127.0.0.1', port: new URL(url).port, path }, (answer) => resolve(answer.resume().statusCode ?? 0)).on(
      'error',
      reject,
    );
  });

test('a phone comes in by the passphrase, makes a key, and is sent out again', async ({ page, workshop }) => {
  expect((await page.request.get('/api/v1/health')).status()).toBe(401);
  expect((await page.request.get('/api/v1/events')).status()).toBe(401);
  expect((await page.request.post('/api/v1/compute/resistance', { data: {} })).status()).toBe(401);
  for (const path of [
    '/_next/static/../../shelf',
    '/_next/static/..%2f..%2fshelf',
    '/_next/static/../../api/v1/runs',
    '/icon.svg/../shelf',
    '/_next/static/no-such-file',
    '/_next/static/%252e%252e/shelf',
  ])
    expect([path, await statusOf(workshop.url, path)]).not.toEqual([path, 200]);
  await page.goto('/shelf?view=table');
  await expect(page).toHaveURL(/\/login\?to=/);
  expect(await axeViolations(page)).toEqual([]);
  await page.getByLabel('Passphrase of this workshop').fill('some other words');
  await page.keyboard.press('Enter');
  await expect(page.getByText('That is not the passphrase.')).toBeVisible();
  await page.getByLabel('Passphrase of this workshop').fill('four lanterns by the quay');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/shelf\?view=table$/);

  await page.goto('/access');
  expect(await axeViolations(page)).toEqual([]);
  await page.getByLabel('What will use it').fill('shed logger');
  await page.getByRole('button', { name: 'Make a key' }).click();
  const key = (await page.locator('code.text-break').textContent()) ?? '';
  const asked = () =>
    fetch(`${workshop.url}/api/v1/health`, { headers: { authorization: `Bearer ${key}` } }).then(
      (answer) => answer.status,
    );
  expect(await asked()).toBe(200);
  await page.getByRole('button', { name: 'Withdraw the key of shed logger' }).click();
  await expect(page.getByText(/withdrawn/)).toBeVisible();
  expect(await asked()).toBe(401);

  await page.getByRole('button', { name: 'Sign everyone out' }).click();
  await expect(page).toHaveURL(/\/login/);
});
