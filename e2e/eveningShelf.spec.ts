import { batches, packs } from '../demo/scenario';
import { axeViolations, expect, said, test, type } from './workshop';

test.use({ demo: true });

test('a build with a cell barred, then swapped, then void: it stays in the list', async ({ page }) => {
  await page.goto('/builds');
  const model = await page.getByLabel('Cells', { exact: true }).inputValue();
  await type(page, '2s2p');
  const groups = page.getByRole('region', { name: 'Groups' });
  const codes = async () => [...((await groups.textContent()) ?? '').matchAll(/[A-Z]\d-\d{3}/g)].map(([code]) => code);
  await expect(groups).toBeVisible();
  const [barred = ''] = await codes();
  await type(page, `2s2p without ${barred.toLowerCase()}`);
  await expect(page.getByText(`without ${barred}`)).toBeVisible();
  await expect.poll(codes).not.toContain(barred);
  await expect(page.getByRole('region', { name: 'Pack capacity' })).toContainText('±');
  await page.getByLabel('Name of the pack').fill('Evening lantern');
  await page.getByRole('button', { name: 'Save and set the cells aside' }).click();
  await expect(page).toHaveURL(/\/builds\/\d+$/);
  await page.getByText('Swap a cell').click();
  const alone = (await page.getByLabel('Take out').locator('option').allTextContents()).at(-1) ?? '';
  await page.getByLabel('Take out').selectOption(alone);
  await page.getByLabel('Put in').fill(barred);
  await page.getByRole('button', { name: 'Swap', exact: true }).click();
  const answer = page
    .getByRole('status')
    .filter({ hasText: `${barred} is in the place of ${alone}.` })
    .or(page.getByRole('alert').filter({ hasText: 'welded together' }));
  await expect(answer).toBeVisible();
  await page.getByRole('button', { name: 'Void this build' }).click();
  await page.getByLabel('Why is this build void?').fill('another lamp');
  await page.getByRole('button', { name: 'Void', exact: true }).click();
  await expect(page.getByText('void: another lamp')).toBeVisible();
  await page.goto('/builds');
  await expect(page.getByRole('row', { name: /Evening lantern/ })).toContainText('void: another lamp');
  expect(model).not.toBe('');
});

test('the shelf: counts, table and filters agree for everything a cell counts as', async ({ page }) => {
  for (const standing of ['surge', 'steady', 'light', 'retire', 'rescue', 'out', 'ungraded']) {
    await page.goto('/shelf');
    const count = Number(
      await page
        .getByRole('region', { name: 'By duty' })
        .locator('.py-1', { has: page.locator(`a[href*="q=${standing}"]`) })
        .locator('b')
        .textContent(),
    );
    await page.goto(`/shelf?view=table&q=${standing}`);
    if (count === 0) await expect(page.getByText('Nothing on the shelf is like that.')).toBeVisible();
    else
      await expect(page.locator('.head')).toContainText(
        `${count} of ${batches.reduce((sum, batch) => sum + batch.read, packs.length)} cells and packs`,
      );
    if (count > 0 && count <= 60) await expect(page.getByRole('row')).toHaveCount(count + 1);
  }
});

test.describe('on a phone, by touch', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });

  test('everything is within reach: stations, rules and night without a scroll, targets of 44 px, legible charts', async ({
    page,
  }) => {
    for (const screen of ['/intake/H2', '/clinic/PF1', '/resistance/1', '/shelf']) {
      await page.goto(screen);
      expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
      const targets = page.locator('.bench-line a:visible, .bench-line button:visible');
      expect(await targets.count()).toBe(11);
      for (const box of await targets.evaluateAll((all) =>
        all
          .map((one) => one.getBoundingClientRect())
          .map(({ left, right, width, height }) => ({ left, right, width, height })),
      )) {
        expect(box.left).toBeGreaterThanOrEqual(0);
        expect(box.right).toBeLessThanOrEqual(390);
        expect(Math.min(box.width, box.height)).toBeGreaterThanOrEqual(44);
      }
      const letters = await page
        .locator('svg text')
        .evaluateAll((all) =>
          all.filter((one) => one.textContent?.trim()).map((one) => one.getBoundingClientRect().height),
        );
      for (const height of letters) expect(height).toBeGreaterThanOrEqual(10);
      const small = await page
        .locator(
          'main button:visible, main select:visible, main input:visible, main .btn:visible, main .tray a:visible, ' +
            'footer button:visible',
        )
        .evaluateAll((all) =>
          all.filter((one) => one.getBoundingClientRect().height < 44).map((one) => one.outerHTML.slice(0, 120)),
        );
      expect({ screen, small }).toEqual({ screen, small: [] });
      expect(await axeViolations(page)).toEqual([]);
    }
  });

  test('a cell is taken in by keypad and taps', async ({ page }) => {
    await page.goto('/intake/H2');
    const bar = page.locator('footer.bar input');
    const code = (await page.locator('.code').textContent()) ?? '';
    await expect(bar).toHaveAttribute('inputmode', 'decimal');
    await bar.tap();
    await page.keyboard.type('3.72');
    await page.getByRole('button', { name: 'next figure' }).tap();
    await page.keyboard.type('46.8');
    await page.keyboard.press('Enter');
    await expect(said(page)).toContainText(`Filed ${code}: 3.72 V, 46.8 g`);
    await page.getByRole('button', { name: 'nothing found' }).tap();
    await expect(said(page)).toContainText(`Filed ${code}: nothing found`);
    await expect(page.getByRole('region', { name: 'The cell before' })).toContainText('Usable');
    await page.getByRole('button', { name: 'abc' }).tap();
    await expect(bar).not.toHaveAttribute('inputmode', 'decimal');
  });

  test('the rest of the evening: a welded pair, a round, a cross-check, a build, a pack', async ({ page }) => {
    const bar = page.locator('footer.bar input');
    const enter = async (...parts: string[]) => {
      await bar.tap();
      for (const part of parts) {
        if (/^\[.*\]$/.test(part))
          await page
            .getByRole('group', { name: 'Beside the figures' })
            .getByRole('button', { name: part.slice(1, -1), exact: true })
            .tap();
        else await page.keyboard.type(part);
      }
      await page.keyboard.press('Enter');
    };
    await page.goto('/intake/H2');
    await enter('[abc]', 'h2-34', '[+]', '35 3.70 93.5 ok');
    await expect(said(page)).toContainText('Filed H2-034+035: welded together, 3.70 V, 93.5 g, nothing found.');
    await page.goto('/resistance/1');
    const next = (await page.getByRole('region', { name: 'Next cell' }).locator('.num').first().textContent()) ?? '';
    await enter('3.602', '[next figure]', '3.554');
    await expect(said(page)).toContainText(`Filed ${next}: open 3.602 V, loaded 3.554 V`);
    await page.goto('/instruments/check/1');
    await enter('[DM1]', '3.414');
    await expect(said(page)).toContainText('already. Replace it?');
    await page.goto('/builds/new?series=2&parallel=2');
    await page.getByRole('list', { name: 'Group 1' }).getByRole('button').first().tap();
    const out = page.getByRole('link', { name: /^Match without/ });
    const barred = ((await out.textContent()) ?? '').replace('Match without ', '');
    await out.tap();
    await expect(page.getByText(`without ${barred}`)).toBeVisible();
    await page.goto('/clinic/PL1');
    await enter('4.141', '[next figure]', '4.139', '[=]', '8.280');
    await expect(said(page)).toContainText('Filed PL1: 2 groups, spread 2 mV, terminals 8.280 V');
    await page.getByRole('link', { name: 'House rules' }).tap();
    await expect(page).toHaveURL(/\/rules$/);
    await page.getByRole('button', { name: 'Night' }).tap();
    await expect(page.locator('html')).toHaveAttribute('data-bs-theme', 'dark');
  });
});
