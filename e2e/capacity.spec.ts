import { createWriteStream } from 'node:fs';
import writeExcelFile from 'write-excel-file/node';
import { writePackage } from '../records/dataPackage';
import { readPackage } from '../records/dataPackageIn';
import { scratchWorkshop } from '../records/scratchDatabase';
import { axeViolations, evening as test, expect, said, type } from './workshop';

test.use({ demo: true });

const dayS = 86_400;

test.describe.serial('what a cell or pack can still do, and for how long', () => {
  test('a pouch pack is partly charged: what to set, its rested groups, the charge put in', async ({ page }) => {
    const charge = Array.from({ length: 495 }, (_, i) => `${i * 5},${(15 + i / 275).toFixed(3)},-2\n`).join('');
    const logged = await page.request.post(
      '/api/v1/runs?subject=PK4&load=column&endedAt=2026-11-05T18:30:00Z&fileName=charge.csv',
      { headers: { 'content-type': 'text/csv' }, data: `time (s),voltage (V),current (A)\n${charge}` },
    );
    expect(logged.status()).toBe(201);
    await page.goto('/clinic/PK4');
    await page.getByRole('link', { name: 'Alt Q a partial charge' }).click();
    await expect(page.getByText('2.3 A or less', { exact: false })).toBeVisible();
    await page.getByLabel('Its 4 groups, V').fill('3.729 3.731 3.66 3.73');
    await expect(page.getByText('start voltages are 71 mV apart', { exact: false })).toBeVisible();
    await page.getByRole('button', { name: /take 1.372 Ah of test \d+/ }).click();
    await expect(page.getByLabel('Charge put in, Ah')).toHaveValue('1.372');
    await page.getByLabel('Right to, %').fill('1');
    const figure = page.getByRole('region', { name: 'Charged' }).locator('.big');
    await expect(figure).toContainText('Ah');
    expect(await axeViolations(page)).toEqual([]);
    await page.getByRole('button', { name: 'File it' }).click();
    await expect(page).toHaveURL(/\/clinic\/PK4$/);
    await expect(page.getByRole('region', { name: 'Verdict' })).toContainText('Partial charge on');
  });

  test('how it ages, and when it leaves service, stands on its page', async ({ page }) => {
    await page.goto('/clinic/PL1');
    const ageing = page.getByRole('region', { name: 'How it ages' });
    await expect(ageing).toContainText('of its capacity when new, losing');
    await expect(ageing).toContainText(/If it goes on like this, it crosses 70 % about \w{3} \d{4}/);
    await expect(ageing).toContainText('seasons left if it goes on like this');
    await expect(ageing).toContainText('A cycle has cost');
    expect(await axeViolations(page)).toEqual([]);
  });

  test('a pack is diagnosed from its rounds, with the next measurement', async ({ page }) => {
    await page.goto('/clinic/PF1');
    const wrong = page.getByRole('region', { name: 'What is wrong' });
    await expect(page.getByRole('region', { name: 'Verdict' })).toContainText('Almost certainly group 5 leaks.');
    await expect(wrong).toContainText('Group 5: it leaks');
    await page.goto('/clinic/PK5');
    await expect(wrong).toContainText('nothing is wrong with it, by these readings');
    await type(page, '3.80 3.60 3.80 3.80 5A');
    await expect(said(page)).toContainText('5.00 A is a load, and the next reading is at rest');
    await page.getByLabel('The next reading is').selectOption('under load');
    await type(page, '3.80 3.60 3.80 3.80 5A');
    await expect(said(page)).toContainText('under 5.00 A');
    await expect(wrong).toContainText('Group 2: it has a high resistance');
    expect(await axeViolations(page)).toEqual([]);
    await page.getByLabel('The next reading is').selectOption('at rest');
  });

  test('a self-discharge test begins, is due a week later, and tells who leaks', async ({ page, workshop }) => {
    await page.goto('/self-discharge');
    await page.getByLabel('Cells and packs to test').fill('Q1-001 Q1-002 Q1-003 Q1-004 Q1-005 PF1');
    await page.getByRole('button', { name: 'Start test' }).click();
    await expect(page).toHaveURL(/\/self-discharge\/\d+$/);
    const test = page.url();
    await expect(page.locator('.code').first()).toHaveText('PF1');
    await type(page, '4.11 4.12 4.11 4.12 4.11 4.12 4.11');
    for (const n of [1, 2, 3, 4, 5]) {
      await expect(page.locator('.code').first()).toHaveText(`Q1-00${n}`);
      await type(page, `4.15${n}`);
      await expect(said(page)).toContainText(`Filed Q1-00${n}`);
    }
    await expect(page.getByText('Measure again on')).toBeVisible();

    await workshop.later(7 * dayS);
    await page.goto(test);
    await expect(page.locator('.slip.due', { hasText: 'PF1 and 5 more' })).toContainText('self-discharge test');
    await type(page, 'Q1-003 4.092');
    await expect(said(page)).toContainText('Filed Q1-003');
    for (const n of [1, 2, 4, 5]) {
      await type(page, `Q1-00${n} 4.15${n - 1}`);
      await expect(said(page)).toContainText(`Filed Q1-00${n}`);
    }
    await type(page, 'PF1 4.11 4.12 4.11 4.12 4.11 4.12 4.11');
    await expect(page.getByRole('region', { name: 'Cells that leak' })).toContainText('Q1-003');
    await page.getByRole('button', { name: /End the self-discharge test/ }).click();
    await expect(page.getByText('Each result is kept with its cell or pack.')).toBeVisible();
    expect(await axeViolations(page)).toEqual([]);
    await page.goto('/cells/Q1-003');
    await expect(page.getByRole('region', { name: 'Verdict' })).toContainText('Retire');
    await workshop.later(0);
  });

  test('a resistor is planned, and stays on the watch until it is off', async ({ page }) => {
    await page.goto('/capacity/resistor?subject=PR1');
    await page.getByLabel('You have in mind').selectOption('A resistor at hand, Ω');
    await page.getByLabel('A resistor at hand, Ω').fill('0');
    await expect(page.locator('.ask')).toContainText('a short circuit');
    await page.getByLabel('A resistor at hand, Ω').fill('27');
    await expect(page.getByText('27 Ω, 10 W: be there after')).toBeVisible();
    expect(await axeViolations(page)).toEqual([]);
    await page.getByRole('button', { name: 'It is on now: watch it' }).click();
    const slip = page.locator('.slip', { hasText: 'is on a resistor' });
    await expect(slip).toBeVisible();
    await slip.getByRole('button', { name: 'It is off' }).click();
    await expect(slip).toHaveCount(0);
  });

  test('a pasted table of twelve cells becomes a batch after a look, and goes in one act', async ({ page }) => {
    const rows = Array.from(
      { length: 12 },
      (_, i) => `lid ${i + 1}\t3,${700 + i}\t45,${i % 10}\t21${10 + i}\t3.5.2025\t<b>blue</b>`,
    );
    await page.goto('/intake/notebook');
    const book = await writeExcelFile([
      { sheet: 'Old', data: [['nothing here']] },
      { sheet: 'Lids', data: [['cell', 'volts'], ...[1, 2, 3].map((n) => [`lid ${n}`, 3.7 + n / 1000])] },
    ]).toBuffer();
    await page
      .getByLabel('Or choose its file')
      .setInputFiles({ name: 'lids.xlsx', mimeType: 'application/octet-stream', buffer: book });
    await page.getByLabel('Sheet').selectOption('Lids');
    await expect(page.getByRole('heading', { name: '3 rows' })).toBeVisible();
    await expect(page.getByLabel('Column 2 is')).toHaveValue('voltage');
    await page
      .getByLabel('Paste the table here', { exact: false })
      .fill(['cell\tvolts\tgrams\tcapacity\tday\tremark', ...rows].join('\n'));
    await expect(page.getByRole('heading', { name: '12 rows' })).toBeVisible();
    await expect(page.getByLabel('Column 4 is')).toHaveValue('capacity');
    await expect(page.getByLabel('Unit of column 4')).toHaveValue('mAh');
    expect(await axeViolations(page)).toEqual([]);
    await page.getByLabel('Code of the batch').fill('B1');
    await page.getByLabel('From where, used how').fill('The lamp store notebook');
    await page.getByLabel('Maker and model').selectOption('not known: by size and print');
    await page.getByLabel('Capacity printed on it').fill('2400 mAh');
    await page.getByRole('button', { name: 'Bring in 12 rows' }).click();
    await expect(page).toHaveURL(/\/intake\/B1$/);
    await page.goto('/cells/B1-003');
    await expect(page.getByText('capacity 2.112 Ah as noted')).toBeVisible();
    await expect(page.getByText('<b>blue</b>', { exact: false }).first()).toBeVisible();
    await page.goto('/intake/notebook');
    await page.getByRole('button', { name: /Void everything of Notebook/ }).click();
    await page.getByLabel('Why is everything of Notebook void?').fill('only tried');
    await page.getByRole('button', { name: 'Void', exact: true }).click();
    await expect(page.getByText('24 entries, 0 of them standing')).toBeVisible();
  });

  test('everything goes out as a package, and reads back equal into an empty workshop', async ({
    page,
    workshop,
  }, info) => {
    await page.goto('/rules');
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Export everything' }).click(),
    ]);
    const file = info.outputPath('workshop.zip');
    await download.saveAs(file);
    const empty = await scratchWorkshop();
    try {
      await readPackage(empty.pool, file);
      const again = async (pool: typeof empty.pool, name: string) => {
        const { resources } = await writePackage(pool, createWriteStream(info.outputPath(name)));
        return resources.map(({ path, hash }) => [path, hash]);
      };
      expect(await again(empty.pool, 'again.zip')).toEqual(await again(workshop.pool, 'as-it-is.zip'));
    } finally {
      await empty.drop();
    }
  });
});
