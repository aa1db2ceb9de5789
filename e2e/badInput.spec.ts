import { evening as test, expect, loadedUnheard, logOf, said, type } from './workshop';

test.beforeAll(async ({ workshop }) => {
  const { rows } = await workshop.pool.query<{ id: number }>(
    `insert into cell_model (maker, name, chemistry, rated_capacity_ah, mass_kg)
      values ('Quillon', 'Q18-25', 'li-ion', 2.45, 0.0446)
      returning id`,
  );
  const batch = await workshop.pool.query<{ id: number }>(
    "insert into batch (code, origin) values ('K1', 'bad input') returning id",
  );
  await workshop.pool.query(
    `insert into subject (code, batch_id, model_id, place)
      select 'K1-' || lpad(n::text, 3, '0'), $1, $2, n
      from generate_series(1, 5) n`,
    [batch.rows[0]?.id, rows[0]?.id],
  );
});

const good = logOf(2);
const rows = good.split('\n');

/** A log and what the answer to it must say. */
const logs: [
  name: string,
  csv: string,
  expected: { code?: string; message?: RegExp; capacityAh?: number; warning?: string },
][] = [
  [
    'semicolons and decimal commas',
    logOf(2, { separator: ';', decimal: ',', heading: 'Zeit;Spannung [V]' }),
    { capacityAh: 2 },
  ],
  ['a byte order mark', `\uFEFF${good}`, { capacityAh: 2 }],
  ['a row of units', `time,voltage\ns,V\n${rows.slice(1).join('\n')}`, { capacityAh: 2 }],
  ['no heading', rows.slice(1).join('\n'), { capacityAh: 2, warning: 'no-header' }],
  [
    'a clock that starts again',
    [
      ...rows.slice(0, 300),
      ...rows
        .slice(300)
        .filter(Boolean)
        .map((row) => row.replace(/^\d+/, (t) => String(Number(t) - 2990))),
    ].join('\n'),
    { capacityAh: 2, warning: 'clock-reset' },
  ],
  ['a gap of minutes', rows.filter((_, i) => i < 200 || i > 260).join('\n'), { capacityAh: 2, warning: 'gap' }],
  [
    'three wild samples',
    rows.map((row, i) => (i >= 300 && i < 303 ? row.replace(/,.*/, ',0.4') : row)).join('\n'),
    { capacityAh: 2, warning: 'wild-samples' },
  ],
  ['an end above the cut-off', rows.slice(0, 500).join('\n'), { warning: 'cutoff-not-reached' }],
  ['an empty file', '', { code: 'impossible', message: /empty/ }],
  [
    'a letter',
    'Dear neighbour,\nthe cells are in the shed.\n',
    { code: 'impossible', message: /No columns of time and voltage/ },
  ],
];

for (const [name, csv, { code, message, capacityAh, warning }] of logs) {
  test(`a log with ${name}`, async ({ request, workshop }) => {
    const send = () =>
      request.post('/api/v1/runs?subject=K1-001&load=current:1&endedAt=2026-11-05T18:30:00Z', {
        headers: { 'content-type': 'text/csv' },
        data: csv,
      });
    const before = (await workshop.pool.query('select count(*) from run')).rows[0].count;
    const answer = await send();
    const body = await answer.json();
    if (code) {
      expect(answer.status()).toBe(400);
      expect(body.error.code).toBe(code);
      expect(body.error.message).toMatch(message ?? /./);
      expect((await workshop.pool.query('select count(*) from run')).rows[0].count).toBe(before);
      return;
    }
    expect(answer.status()).toBe(201);
    if (capacityAh) expect(Math.abs(body.capacityAh - capacityAh)).toBeLessThan(0.01);
    else expect(body.reachedCutoff).toBe(false);
    if (warning) expect(body.warnings.map((one: { code: string }) => one.code)).toContain(warning);
    const again = await send();
    expect(again.status()).toBe(409);
    expect((await again.json()).error.message).toContain('This very file');
  });
}

test('a file of over 200 MB is refused before it is sent, and nothing of a too large body is stored', async ({
  page,
  request,
  workshop,
}) => {
  await page.goto('/capacity');
  await page.evaluate(() => {
    const files = new DataTransfer();
    // A sparse stand-in: only its size is ever looked at.
    const large = new File([], 'huge.csv', { type: 'text/csv' });
    Object.defineProperty(large, 'size', { value: 201 * 2 ** 20 });
    files.items.add(large);
    const input = document.querySelector<HTMLInputElement>('input[type=file]');
    if (!input) return;
    Object.defineProperty(input, 'files', { value: [large] });
    input.dispatchEvent(new Event('change', { bubbles: true }));
  });
  await expect(page.getByText('This file has 201 MB or more')).toBeVisible();

  const before = (await workshop.pool.query('select count(*) from run')).rows[0].count;
  const line = '0,4.1000\n';
  const answer = await request.post('/api/v1/runs?subject=K1-002&load=current:1&endedAt=2026-11-05T18:30:00Z', {
    headers: { 'content-type': 'text/csv' },
    data: Buffer.concat([Buffer.from('time,voltage\n'), Buffer.alloc(201 * 2 ** 20, line)]),
    timeout: 60_000,
  });
  expect(answer.status()).toBe(413);
  expect((await workshop.pool.query('select count(*) from run')).rows[0].count).toBe(before);
});

test('an import form says what is missing, and an unknown cell by name', async ({ page }) => {
  await page.goto('/capacity');
  await page.getByRole('button', { name: 'Import' }).click();
  await expect(page.getByText('Choose the file of the log.')).toBeVisible();
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'log.csv', mimeType: 'text/csv', buffer: Buffer.from(logOf(1.1)) });
  await page.getByLabel('Cell or pack', { exact: true }).fill('Z9-999');
  await page.getByLabel('Current, A').fill('0,5');
  await page.getByRole('button', { name: 'Import' }).click();
  await expect(page.getByText('This log has no dates. Enter when it ended.')).toBeVisible();
  await page.getByLabel('When it ended').fill('2026-11-05T18:30');
  await page.getByRole('button', { name: 'Import' }).click();
  await expect(page.getByText('There is no cell or pack Z9-999.')).toBeVisible();
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'photo.csv', mimeType: 'text/csv', buffer: Buffer.alloc(150_000, 1) });
  await expect(page.getByText('not a text table')).toBeVisible();
});

test('entries: what was meant is offered, text is not swallowed', async ({ page }) => {
  await page.goto('/intake/K1?at=K1-003');
  await type(page, '14.87');
  await expect(said(page)).toContainText('for one cell');
  await type(page, 'hello');
  await expect(said(page)).toContainText('"hello" was not understood');
  await expect(page.locator('footer.bar input')).toHaveValue('hello');
  await type(page, '4,17');
  await expect(said(page)).toContainText('Filed K1-003: 4.17 V');
});

test('matches that cannot be', async ({ request }) => {
  const cell = (id: string, bond?: string) => ({ id, capacityAh: 2, resistanceOhm: 0.05, ...(bond ? { bond } : {}) });
  const ask = async (cells: object[]) =>
    (await (await request.post('/api/v1/compute/match', { data: { series: 2, parallel: 2, cells } })).json()).error
      .message;
  expect(await ask([cell('a')])).toContain('only 1 is given');
  expect(await ask([cell('a'), cell('a'), cell('b'), cell('c')])).toContain('Cell a is given twice');
  expect(await ask([cell('a', 'w'), cell('b', 'w'), cell('c', 'w'), cell('d')])).toContain('Bond w holds 3 cells');
});

test.describe('the database gone', () => {
  test('in the middle of an import: said so, nothing half stored, and a way on', async ({ page, workshop }) => {
    await page.goto('/capacity');
    const csv = logOf(2.05, { stepS: 0.05 });
    const send = async () => {
      await page
        .locator('input[type=file]')
        .setInputFiles({ name: 'long.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
      await expect(page.getByText('Understood:')).toBeVisible();
      await page.getByLabel('Cell or pack', { exact: true }).fill('K1-004');
      await page.getByLabel('Current, A').fill('1');
      await page.getByLabel('When it ended').fill('2026-11-05T18:30');
      await page.getByRole('button', { name: 'Import' }).click();
    };
    // The number of how it is read is taken first; that is when the wire breaks.
    const lastNumber = async () =>
      (
        await workshop.pool.query<{ last: string }>(
          "select last_value || ' ' || is_called as last from run_layout_id_seq",
        )
      ).rows[0]?.last;
    const before = await lastNumber();
    await send();
    await expect.poll(lastNumber, { intervals: [20] }).not.toBe(before);
    workshop.cut();
    await expect(page.getByText('The database cannot be reached; nothing was stored.')).toBeVisible();
    expect((await workshop.pool.query("select 1 from run where file_name = 'long.csv'")).rowCount).toBe(0);

    expect((await page.request.get('/api/v1/health')).status()).toBe(503);
    await page.goto('/clinic');
    await expect(page.getByRole('heading', { name: 'No connection' })).toBeVisible();

    workshop.mend();
    await expect(page.getByRole('heading', { name: 'Clinic' })).toBeVisible();
    await page.goto('/capacity');
    await send();
    await expect(page).toHaveURL(/\/capacity\/\d+$/);
    await expect(page.locator('.big')).toContainText('2.05');
  });

  test('under the reading bar: the line is kept, and filed once when it is back', async ({ page, workshop }) => {
    const letHear = await loadedUnheard(page, `${workshop.url}/intake/K1?at=K1-005`);
    workshop.cut();
    await type(page, '3.66');
    await expect(said(page)).toContainText('No connection: K1-005 3.66 is kept in this browser');
    workshop.mend();
    letHear();
    await expect(page.getByText('The connection is back')).toBeVisible();
    expect((await workshop.pool.query('select 1 from voltage where voltage_v = 3.66')).rowCount).toBe(1);
  });
});
