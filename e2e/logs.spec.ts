import { readFileSync } from 'node:fs';
import writeExcelFile from 'write-excel-file/node';
import { axeViolations, evening as test, expect, listening } from './workshop';

test.use({ demo: true });

/** A radio block through a resistor, as a home-made logger wrote it: nothing says what its columns are. */
function untidyLog(): string {
  const rows = Array.from({ length: 900 }, (_, i) => {
    const minute = i / 2;
    // Flat, then over the knee down to 7.6 V; a line torn, a line of another kind.
    const volts = 10.2 - 0.0016 * i - Math.max(0, i - 780) * 0.011;
    if (i === 200) return 'restarted;;';
    return `${minute.toFixed(1).replace('.', ',')};${(21 + (i % 5) / 10).toFixed(1)};${Math.round(volts * 1000)}`;
  });
  return `harbour radio;block 3;\n${rows.join('\n')}\n`;
}

test.describe.serial('a log that tells nothing by itself', () => {
  let run = '';
  const file = { name: 'radio.txt', mimeType: 'text/plain', buffer: Buffer.from(untidyLog()) };

  test('is shown before it is sent, read as told, and kept under a name', async ({ page }) => {
    await page.goto('/capacity?subject=PR1');
    await page.locator('input[type=file]').setInputFiles(file);
    await page.getByText('Read it otherwise').click();
    await page.getByLabel('Column 1 is').selectOption('time');
    await page.getByLabel('Unit of column 1').selectOption('in min');
    await page.getByLabel('Column 3 is').selectOption('voltage');
    await page.getByLabel('Unit of column 3').selectOption('in mV');
    await page.getByLabel('Column 2 is').selectOption('temperature');
    await expect(page.getByText('time in min (column 1)')).toBeVisible();
    await page.getByLabel('Keep it for files of this shape, under the name').fill('Harbour radio');
    await page.getByLabel('What drew the current').selectOption('A known resistor');
    await page.getByLabel('Resistor, Ω').fill('47');
    // A look that ends later, and finds a column of current, leaves the chosen load.
    await page.getByLabel('Column 2 is').selectOption('current');
    await expect(page.getByText(/current in \S+ \(column 2\)/)).toBeVisible();
    await expect(page.getByLabel('Resistor, Ω')).toHaveValue('47');
    await page.getByLabel('Column 2 is').selectOption('temperature');
    await expect(page.getByText(/temperature in \S+ \(column 2\)/)).toBeVisible();
    await page.getByLabel('When it ended').fill('2026-11-05T18:30');
    expect(await axeViolations(page)).toEqual([]);
    await page.getByRole('button', { name: 'Import' }).click();
    await expect(page).toHaveURL(/\/capacity\/\d+$/);
    run = page.url();
    // 9.58 V in the mean over 47 Ω for seven hours and three minutes, down to 8 V.
    await expect(page.locator('.big')).toContainText('1.438');
    await expect(page.getByText('1 row passed over as unreadable')).toBeVisible();
    await page.goto('/capacity?subject=PR1');
    await page.locator('input[type=file]').setInputFiles({ ...file, buffer: Buffer.from(`${untidyLog()}\n`) });
    await expect(page.getByText('Files of this layout use the stored columns of')).toContainText('Harbour radio');
  });

  test('is read otherwise afterwards, without asking for the file again; its samples go out', async ({ page }) => {
    await page.goto(run);
    const before = await page.locator('.big').textContent();
    await page.getByText('Read the file with other settings').click();
    await page.getByLabel('Unit of column 1').selectOption('in s');
    await expect(page.getByText('time in s (column 1)')).toBeVisible();
    await page.getByRole('button', { name: 'Read it so' }).click();
    await expect(page.locator('.big')).not.toHaveText(before ?? '');
    const [arrived] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'CSV' }).click(),
    ]);
    const lines = readFileSync(await arrived.path(), 'utf8').split('\r\n');
    expect(lines[0]).toBe('time_s,voltage_v,temperature_c');
    expect(lines).toHaveLength(901);
  });
});

test('a workbook with a column for each group: another sheet, the groups, its dQ/dV and its segments', async ({
  page,
}) => {
  const rows = Array.from({ length: 400 }, (_, i) => [
    i * 10,
    ...[0, 0.02].map((apart) => Number((i < 20 ? 4.15 : 4.05 - (i - 20) * (0.0034 + apart / 100)).toFixed(4))),
    i < 20 ? 0 : -2,
  ]);
  const book = await writeExcelFile([
    { sheet: 'About', data: [['The lantern of the slip']] },
    { sheet: 'Log', data: [['time (s)', 'cell 1 (V)', 'cell 2 (V)', 'current (A)'], ...rows] },
  ]).toBuffer();
  await page.goto('/capacity?subject=PL1');
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'lantern.xlsx', mimeType: 'application/octet-stream', buffer: book });
  await page.getByLabel('Sheet').selectOption('Log');
  await expect(page.getByText('group 2 in V (column 3)')).toBeVisible();
  await page.getByLabel('When it ended').fill('2026-11-06T18:30');
  await page.getByRole('button', { name: 'Import' }).click();
  await expect(page).toHaveURL(/\/capacity\/\d+$/);
  const segments = page.getByRole('region', { name: 'What went on in the log' });
  await expect(segments).toContainText('Discharge at constant current');
  await listening(page);
  await page.getByRole('button', { name: 'dQ/dV' }).click();
  await expect(page.getByText('The charge given in each 10 mV a cell')).toBeVisible();
  expect(await axeViolations(page)).toEqual([]);
});

test('runs are laid over each other and zoomed, by mouse and by keys', async ({ page }) => {
  await page.goto('/capacity/8');
  await expect(page.locator('.plot .recharts-line path')).toHaveCount(2);
  const plot = page.locator('.plot');
  await plot.focus();
  await page.keyboard.press('ArrowLeft');
  await expect(page.locator('.read-out')).toContainText(' V');
  const whole = await page.locator('.recharts-xAxis-tick-labels').textContent();
  await page.keyboard.press('+');
  await expect(page.locator('.recharts-xAxis-tick-labels')).not.toHaveText(whole ?? '');
  await page.getByRole('button', { name: 'Whole' }).click();
  await expect(page.locator('.recharts-xAxis-tick-labels')).toHaveText(whole ?? '');
  const box = await plot.boundingBox();
  if (!box) throw new Error('There is no plot.');
  await page.mouse.move(box.x + 150, box.y + 100);
  await page.mouse.down();
  await page.mouse.move(box.x + 300, box.y + 120, { steps: 4 });
  await page.mouse.up();
  await expect(page.locator('.recharts-xAxis-tick-labels')).not.toHaveText(whole ?? '');
  await page.getByRole('button', { name: 'Over charge' }).click();
  await expect(page.locator('.plot')).toContainText('Ah');
  await page.getByRole('button', { name: 'Over state of charge' }).click();
  await expect(page.locator('.plot')).toContainText('% left');
  await page.getByRole('button', { name: 'As a table' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: /These \d+ points as CSV/ }).click(),
  ]);
  expect(readFileSync(await file.path(), 'utf8').split('\r\n')[0]).toBe('time_s,voltage_v,temperature_c');
});

test('three cycles of a pack lie over each other, and the run of another beside them', async ({ page }) => {
  await page.goto('/capacity/137');
  await page.getByRole('button', { name: 'The whole, with other tests' }).click();
  await expect(page.locator('.laid-over input:checked')).toHaveCount(3);
  const drawn = () => page.locator('.plot .recharts-line path').first().getAttribute('d');
  await expect(page.locator('.plot .recharts-line path')).toHaveCount(2);
  const before = await drawn();
  await page.getByLabel('Another test, by its number').fill('137');
  await page.getByRole('button', { name: 'Lay it over' }).click();
  await expect(page.getByText('This is the test shown. Enter the number of another one.')).toBeVisible();
  await page.getByLabel('Another test, by its number').fill('99999');
  await page.getByRole('button', { name: 'Lay it over' }).click();
  await expect(page.getByText('There is no run 99999.')).toBeVisible();
  await page.getByLabel('Another test, by its number').fill('8');
  await page.getByRole('button', { name: 'Lay it over' }).click();
  await expect(page.getByText('its 1 in series drawn as 4')).toBeVisible();
  await expect.poll(drawn).not.toBe(before);
  expect(await axeViolations(page)).toEqual([]);
});
