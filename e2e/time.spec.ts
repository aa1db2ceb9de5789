import { expect, test } from './workshop';

// A reader far from the server, and a day ahead of it for half the day.
test.use({ demo: true, timezoneId: 'Pacific/Auckland' });

/** A discharge with a row each two minutes, its times as `written` writes them. */
const logOf = (written: (minute: number) => string): Buffer =>
  Buffer.from(
    ['time,voltage', ...Array.from({ length: 60 }, (_, i) => `${written(2 * i)},${(4.1 - i * 0.022).toFixed(3)}`)].join(
      '\n',
    ),
  );
const two = (figure: number) => String(figure).padStart(2, '0');

test('the dates of a log tell when it ended, by the clock of the one who reads it, and all pages show that', async ({
  page,
  workshop,
}) => {
  await page.goto('/capacity');
  const dated = logOf((minute) => `05.11.2026 ${two(9 + Math.floor(minute / 60))}:${two(minute % 60)}:00`);
  await page.locator('input[type=file]').setInputFiles({ name: 'dated.csv', mimeType: 'text/csv', buffer: dated });
  await expect(page.getByText('By its dates it ended on 5 Nov 2026 10:58.')).toBeVisible();
  await expect(page.getByLabel('When it ended')).toHaveCount(0);
  await page.getByLabel('Cell or pack', { exact: true }).fill('H2-021');
  await page.getByLabel('Current, A').fill('1');
  await page.getByRole('button', { name: 'Import' }).click();
  await expect(page).toHaveURL(/\/capacity\/\d+$/);
  await expect(page.getByText('5 Nov 2026 10:58').first()).toBeVisible();
  const { rows } = await workshop.pool.query("select ended_at from run where file_name = 'dated.csv'");
  expect(rows).toEqual([{ ended_at: new Date('2026-11-04T21:58:00Z') }]);
});

test('a log without dates asks, and says of its file no more than when that was changed', async ({
  page,
  workshop,
}) => {
  await page.goto('/capacity');
  const plain = logOf((minute) => String(minute * 60));
  await page.locator('input[type=file]').setInputFiles({ name: 'plain.csv', mimeType: 'text/csv', buffer: plain });
  await expect(page.getByText(/The log has no dates.*Its file was last changed on/)).toBeVisible();
  await page.getByLabel('Cell or pack', { exact: true }).fill('H2-022');
  await page.getByLabel('Current, A').fill('1');
  await page.getByRole('button', { name: 'Import' }).click();
  await expect(page.getByText('This log has no dates. Enter when it ended.')).toBeVisible();
  await page.getByLabel('When it ended').fill('2026-11-06T08:15');
  await page.getByRole('button', { name: 'Import' }).click();
  await expect(page).toHaveURL(/\/capacity\/\d+$/);
  await expect(page.getByText('6 Nov 2026 08:15').first()).toBeVisible();
  const { rows } = await workshop.pool.query("select ended_at from run where file_name = 'plain.csv'");
  expect(rows).toEqual([{ ended_at: new Date('2026-11-05T19:15:00Z') }]);
});

test('a program gets the same answer, and no log ends in the future', async ({ request }) => {
  const send = async (query: string, body: Buffer) => {
    const answer = await request.post(`/api/v1/runs?subject=H2-023&load=current:1${query}`, {
      headers: { 'content-type': 'text/csv' },
      data: body,
    });
    return { status: answer.status(), code: (await answer.json()).error?.code };
  };
  const plain = logOf((minute) => String(minute * 60 + 1));
  expect(await send('', plain)).toEqual({ status: 400, code: 'end-unknown' });
  expect(await send('&endedAt=2062-01-01T00:00:00Z', plain)).toEqual({ status: 400, code: 'end-in-future' });
  const zoned = logOf((minute) => `2026-11-05T${two(9 + Math.floor(minute / 60))}:${two(minute % 60)}:00+01:00`);
  expect((await send('', zoned)).status).toBe(201);
});
