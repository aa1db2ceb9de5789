import { filed } from '../records/filedRows';
import { expect, holdBack, said, type ServedWorkshop, test, type } from './workshop';

const codes = ['N1-001', 'N1-002', 'N1-003', 'N1-004', 'N1-005', 'N1-006'];

test.beforeAll(async ({ workshop }) => {
  await workshop.pool.query(`
    with model as (
      insert into cell_model (maker, name, chemistry, rated_capacity_ah) values ('Fenwick', 'F1', 'li-ion', 2.5)
      returning id),
    batch as (insert into batch (code, origin) values ('N1', 'the outbox') returning id)
    insert into subject (code, batch_id, model_id, place)
    select 'N1-' || lpad(n::text, 3, '0'), batch.id, model.id, n from model, batch, generate_series(1, 6) n`);
});

const stored = async (workshop: ServedWorkshop) =>
  (
    await workshop.pool.query<{ code: string; v: number }>(
      `select code, figures -> 'voltage_v' as v from ${filed} where kind = 'voltage' order by id`,
    )
  ).rows.map(({ code, v }) => `${code} ${v}`);

test('lines typed without a connection are filed in order from another page, and every tab knows of them', async ({
  page,
  context,
  workshop,
}) => {
  await page.goto('/intake/N1');
  workshop.cut();
  await type(page, `${codes[0]} 3.71`);
  await expect(said(page)).toContainText('is kept in this browser');
  await type(page, `${codes[1]} 3.72`);
  await type(page, `${codes[2]} 3.73`);
  const box = page.getByLabel('Kept in this browser');
  await expect(box).toContainText('3 not filed yet');
  const tab = await context.newPage();
  await tab.goto('/rules');
  const sameBox = tab.getByLabel('Kept in this browser');
  await expect(sameBox).toContainText('3 not filed yet');
  await sameBox.locator('summary').click();
  await sameBox.getByRole('listitem').filter({ hasText: '3.72' }).getByRole('button', { name: 'Drop it' }).click();
  await expect(box).toContainText('2 not filed yet');
  await page.goto('/clinic');
  await page.reload();
  await expect(page.getByText('The database cannot be reached')).toBeVisible();
  await expect(box).toContainText('2 not filed yet');
  await tab.close();
  workshop.mend();
  await expect(box).toHaveCount(0);
  await expect(page.getByText('The connection is back')).toBeVisible();
  expect(await stored(workshop)).toEqual(['N1-001 3.71', 'N1-003 3.73']);
});

test('a line that is asked about, or makes no sense by then, says so and waits for its answer', async ({
  page,
  workshop,
}) => {
  await page.goto('/intake/N1');
  workshop.cut();
  await type(page, `${codes[0]} 3.90 V`);
  // The page knows the voltage on file, so it asks before it keeps the line.
  await expect(said(page)).toContainText('Enter again files it as read');
  await page.keyboard.press('Enter');
  await expect(said(page)).toContainText('is kept in this browser');
  await type(page, `${codes[3]} 3.74`);
  const box = page.getByLabel('Kept in this browser');
  await box.locator('summary').click();
  await box.getByRole('listitem').filter({ hasText: '3.74' }).getByRole('button', { name: 'Change' }).click();
  await expect(box.getByLabel('Instead of N1-004 3.74')).toBeFocused();
  await page.keyboard.press('Control+a');
  await page.keyboard.type(`${codes[0]} 3.75 V`);
  await page.keyboard.press('Enter');
  workshop.mend();
  const line = box.getByRole('listitem').filter({ hasText: '3.75' });
  await expect(line).toContainText('has a voltage already');
  await line.getByRole('button', { name: 'File it as read' }).click();
  await expect(box).toHaveCount(0);
  expect((await stored(workshop)).slice(-2)).toEqual(['N1-001 3.9', 'N1-001 3.75']);
});

test('where the browser can keep nothing the line stands in the bar until it is filed', async ({ page, workshop }) => {
  await page.addInitScript(() => {
    indexedDB.open = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
  });
  await page.goto('/intake/N1');
  workshop.cut();
  await type(page, `${codes[4]} 3.76`);
  await expect(said(page)).toContainText('has no room to keep the line');
  await expect(page.locator('footer.bar input')).toHaveValue(`${codes[4]} 3.76`);
  workshop.mend();
  await expect(async () => {
    // Once it is taken in, another Enter would only wipe what was said of it.
    const bar = page.locator('footer.bar input');
    if ((await bar.inputValue()) !== '') await bar.press('Enter');
    await expect(said(page)).toContainText('Filed N1-005', { timeout: 5000 });
  }).toPass();
  expect((await stored(workshop)).at(-1)).toBe('N1-005 3.76');
});

test('what an earlier version of the workshop kept in this browser is filed by this one', async ({
  page,
  workshop,
}) => {
  await page.goto('/shelf');
  await page.evaluate(() =>
    localStorage.setItem(
      'bold-ember-waiting intake N1',
      JSON.stringify([
        {
          entry: '0b8b1d4e-6a53-4c57-9a52-6f0e8f0a7c11',
          text: 'N1-006 3.77',
          confirmed: false,
          current: 'N1-006',
          circumstances: {},
          code: 'N1-006',
          inFull: 'N1-006 3.77',
          refused: null,
        },
        { text: 'N1-006 45 g', when: 'long ago' },
      ]),
    ),
  );
  await page.reload();
  await expect.poll(async () => (await stored(workshop)).at(-1)).toBe('N1-006 3.77');
  const box = page.getByLabel('Kept in this browser');
  await expect(box).toContainText('1 not filed yet, 1 refused');
  await box.locator('summary').click();
  await expect(box.getByRole('listitem')).toContainText('N1-006 45 g');
  await expect(box.getByRole('listitem')).toContainText('was kept by another version');
  await box.getByRole('button', { name: 'Drop it' }).click();
  await expect(box).toHaveCount(0);
});

test('a line that is being sent can be neither changed nor dropped; one in your hands is not sent', async ({
  page,
  workshop,
}) => {
  await page.goto('/intake/N1');
  workshop.cut();
  await type(page, `${codes[1]} 45.1 g`);
  await type(page, `${codes[2]} 45.2 g`);
  const box = page.getByLabel('Kept in this browser');
  await expect(box).toContainText('2 not filed yet');
  await box.locator('summary').click();
  const line = (text: string) => box.getByRole('listitem').filter({ hasText: text });
  await line('45.2').getByRole('button', { name: 'Change' }).click();
  await expect(box.getByLabel(/^Instead of .*45\.2/)).toBeFocused();
  const letGo = await holdBack(page, /intake/);
  workshop.mend();
  await expect(line('45.1')).toContainText('being sent');
  await expect(line('45.1').getByRole('button')).toHaveCount(0);
  letGo();
  await expect(box).toContainText('1 not filed yet, 1 refused');
  await box.getByRole('textbox').fill(`${codes[2]} 45.3 g`);
  await box.getByRole('textbox').press('Enter');
  await expect(box).toHaveCount(0);
  const { rows } = await workshop.pool.query<{ g: number }>(
    'select round(1000 * mass_kg::numeric, 1)::float as g from mass order by entry_id',
  );
  expect(rows.map(({ g }) => g)).toEqual([45.1, 45.3]);
});

test('a fault of the page leaves the line in the bar', async ({ page, workshop }) => {
  await page.addInitScript(() => {
    for (const name of ['getRandomValues', 'randomUUID'])
      Object.defineProperty(crypto, name, {
        value: () => {
          throw new Error('no numbers left');
        },
      });
  });
  await page.goto('/intake/N1');
  const before = (await stored(workshop)).length;
  await type(page, `${codes[4]} 44.9 g`);
  await expect(said(page)).toContainText('This page failed on the line');
  await expect(page.locator('footer.bar input')).toHaveValue(`${codes[4]} 44.9 g`);
  expect(await stored(workshop)).toHaveLength(before);
});
