import type { Page } from '@playwright/test';
import { axeViolations, expect, holdBack, test, type } from './workshop';
import { filed } from '../records/filedRows';

test.use({ demo: true });

const screens = [
  '/intake',
  '/intake/H2',
  '/intake/S1/labels',
  '/instruments',
  '/instruments/check/1',
  '/resistance',
  '/resistance/1',
  '/resistance/2',
  '/resistance/6',
  '/resistance/protocols',
  '/resistance/compare',
  '/resistance/predict',
  '/capacity',
  '/capacity/60',
  '/capacity/124',
  '/capacity/partial/PK5',
  '/capacity/resistor?subject=PR1',
  '/self-discharge',
  '/intake/notebook',
  '/shelf',
  '/shelf?view=tray',
  '/shelf?view=table',
  '/cells/S1-013',
  '/cells/S1-019',
  '/cells/S1-020',
  '/builds',
  '/builds/1',
  '/builds/new?series=2&parallel=2',
  '/builds/job?series=6-8&loadW=150&minutes=30',
  '/builds/job?series=7&loadA=5&minutes=40',
  '/builds/1/labels',
  '/builds/repair/PF1?group=5',
  '/clinic',
  '/clinic/PF1',
  '/clinic/PK4',
  '/clinic/PL1',
  '/clinic/PD1',
  '/rescue/PL2',
  '/upkeep',
  '/upkeep/PF1?goal=storage&volts=28.9&label=1&counted=1',
  '/upkeep/plan',
  '/upkeep/use',
  '/retire/PK4',
  '/handbook',
  '/handbook?q=memory',
  '/handbook?q=storage',
  '/handbook/chemistry-lipo',
  '/handbook/four-wire',
  '/handbook/spreadOutV',
  '/rules',
  '/truth',
];

const inParts = (all: readonly string[], size: number): string[][] =>
  Array.from({ length: Math.ceil(all.length / size) }, (_, i) => all.slice(i * size, (i + 1) * size));

/** By day on a bench's screen, and at night on a phone that the same page was turned to. */
const lights = [
  { width: 1280, height: 800, theme: 'light' },
  { width: 390, height: 844, theme: 'dark' },
];

/** ± is explained once where there is one, headings are never empty, one is one, nothing is said twice. */
async function readThrough(page: Page, screen: string): Promise<void> {
  if (screen.startsWith('/builds/new')) await expect(page.getByRole('region', { name: 'Groups' })).toBeVisible();
  const text = (await page.locator('main').innerText()).replaceAll('\u00a0', ' ');
  const meant = text.split('± is one standard uncertainty').length - 1;
  // The table of truth names tools, and its own u at its head.
  if (screen !== '/truth')
    expect({ screen, meant }).toEqual({ screen, meant: /± \d/.test(text.replace(/steps, ± .*/g, '')) ? 1 : 0 });
  expect(text).not.toMatch(/\b1 (cells|channels|batteries|groups|readings|samples|discharges|packs)\b/);
  const sentences = (
    await page
      .locator('main')
      .evaluate((main) =>
        [...main.querySelectorAll('p, li, h1, h2')]
          .filter((one) => !one.closest('table, .d-none'))
          .map((one) => one.textContent ?? ''),
      )
  )
    .flatMap((part) => part.split(/(?<=[.!?]) /))
    .map((one) => one.trim())
    .filter((one) => one.length > 30);
  expect({ screen, twice: sentences.filter((one, i) => sentences.indexOf(one) < i) }).toEqual({ screen, twice: [] });
  const headings = await page.locator('th').allTextContents();
  expect({ screen, empty: headings.filter((heading) => heading.replaceAll('\u00a0', '').trim() === '') }).toEqual({
    screen,
    empty: [],
  });
}

for (const part of inParts(screens, 5))
  test(`screens from ${part[0]} on read well, pass axe and fit, by day and at night on a phone`, async ({
    page,
    workshop,
  }) => {
    // Colours half way from one theme to the other do not count.
    await page.emulateMedia({ reducedMotion: 'reduce' });
    for (const screen of part)
      for (const [i, { theme, ...size }] of lights.entries()) {
        await page.setViewportSize(size);
        if (i === 0) {
          // Each is loaded as by a person who opens the workshop there.
          await page.goto(workshop.url + screen);
          await readThrough(page, screen);
        }
        await page.evaluate((to) => {
          document.documentElement.dataset.bsTheme = to;
        }, theme);
        await expect(page.locator('h1').first()).toBeVisible();
        await expect
          .poll(() => page.evaluate(() => document.documentElement.scrollWidth), { message: `${screen}, ${theme}` })
          .toBe(size.width);
        expect({ screen, theme, violations: await axeViolations(page) }).toEqual({ screen, theme, violations: [] });
      }
  });

test('there is something worth finding at every station', async ({ page, workshop }) => {
  const { rows } = await workshop.pool.query(
    `select (select count(*)::int from subject where kind = 'cell') as cells,
        (select count(*)::int from subject where kind = 'pack') as packs,
        (select min(samples) from run_layout) as least, (select max(samples) from run_layout) as most`,
  );
  expect(rows[0]).toMatchObject({ cells: 244, packs: 13 });
  expect(rows[0].most).toBeGreaterThan(20_000);

  await page.goto('/cells/S1-019');
  await expect(page.getByText('This weight cannot hold that capacity')).toBeVisible();
  await page.goto('/resistance/2');
  await expect(page.getByText('◆ odd one').first()).toBeVisible();
  await page.goto('/clinic');
  await expect(page.getByText('they do not agree')).toBeVisible();
  await expect(page.getByText('is below its floor')).toBeVisible();
  await expect(page.getByText('It is swollen or soft: never charge it.')).toBeVisible();
  await page.goto('/capacity');
  await page.goto('/capacity?page=2');
  await expect(page.getByText('not reached').first()).toBeVisible();
});

test('the counts of the bench line are those of the cells', async ({ page, workshop }) => {
  await page.goto('/intake');
  const unread = await workshop.pool.query(
    `select count(*)::int as n from subject
     where kind = 'cell' and not exists (select from ${filed} where filed.code = subject.code and kind <> 'weld')`,
  );
  await expect(page.getByRole('link', { name: new RegExp(`^${unread.rows[0].n}\\s*Intake`) })).toBeVisible();
  await page.goto('/intake/H2');
  await type(page, '3.7 46.8 ok');
  await expect(page.getByRole('link', { name: new RegExp(`^${unread.rows[0].n - 1}\\s*Intake`) })).toBeVisible();
});

test('a program notes a cell field by field', async ({ request }) => {
  const reading = { subject: 'H2-030', voltageV: '3.710', massKg: 0.0468, findings: [] };
  const answer = await request.post('/api/v1/entries', { data: { reading } });
  expect([answer.status(), (await answer.json()).said]).toEqual([201, expect.stringContaining('3.710 V, 46.8 g')]);
});

test('voiding a run with a reason takes its capacity from the cell, and the run stays in sight', async ({ page }) => {
  await page.goto('/capacity/60');
  await page.getByRole('button', { name: 'Void this test' }).click();
  await page.getByLabel('Why is this test void?').fill('logger was on another cell');
  await page.getByRole('button', { name: 'Void', exact: true }).click();
  await expect(page.getByText('void: logger was on another cell')).toBeVisible();
  await page.getByRole('link', { name: 'H1-014' }).click();
  await expect(page.getByText('No capacity yet')).toBeVisible();
});

test('a rest begun here is counted down by the watch and ended there', async ({ page }) => {
  await page.goto('/resistance');
  await page.getByRole('button', { name: 'Rest F1' }).click();
  const watch = page.getByRole('complementary', { name: 'Watch' });
  const slip = watch.locator('.slip', { hasText: 'F1 rests' });
  await expect(slip).toContainText(/0:59:\d\d/);
  await slip.getByRole('button', { name: 'End the rest' }).click();
  await expect(slip).toHaveCount(0);
});

test('labels carry a QR code for every cell', async ({ page }) => {
  await page.goto('/intake/F1/labels');
  await expect(page.locator('li svg')).toHaveCount(16);
});

test('lines typed behind the way to another screen stand in its bar', async ({ page }) => {
  await page.goto('/clinic');
  const arrival = await holdBack(page, /clinic\/PF1/, 'GET');
  await type(page, 'PF1');
  await type(page, '3.71 3.72 3.73');
  arrival();
  await expect(page).toHaveURL(/clinic\/PF1$/);
  await expect(page.locator('footer.bar input')).toHaveValue('3.71 3.72 3.73');
});
