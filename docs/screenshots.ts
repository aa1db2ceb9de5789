import { expect, said, test, type } from '../e2e/workshop';

test.use({ demo: true });

const views: [name: string, path: string, ready?: string][] = [
  ['intake', '/intake/H2'],
  ['instruments', '/instruments'],
  ['resistance', '/resistance/2', '.recharts-scatter'],
  ['run', '/capacity/137', '.recharts-line'],
  ['shelf-map', '/shelf?cell=H1-022', '.recharts-scatter'],
  ['cell', '/cells/S1-019'],
  ['match', '/builds/new?series=4&parallel=3&model=Marrowby+M18-29', '[aria-label="Built otherwise"]'],
  ['build-sheet', '/builds/1'],
  ['clinic', '/clinic'],
  ['pack', '/clinic/PK4'],
  ['bench-plan', '/upkeep/plan', '.lane-job'],
  ['upkeep', '/upkeep'],
  ['charger-sheet', '/upkeep/PF1?goal=charge&charger=CH1&volts=3.94+3.95+3.94+3.95+3.94+3.95+3.94&label=1'],
];

test('pictures of the main views', async ({ page, context, workshop }) => {
  test.setTimeout(180_000);
  const shoot = (name: string) => page.screenshot({ path: `docs/screenshots/${name}.png` });
  await page.goto('/intake/H2');
  await type(page, '3.702 46.7 ok');
  await expect(said(page)).toContainText('Filed');
  for (const [name, path, ready] of views) {
    await page.goto(path);
    if (ready) await page.locator(ready).first().waitFor();
    await page.evaluate(() => document.fonts.ready);
    await shoot(name);
  }
  const { holds: selfDischarges } = (await (await page.request.get('/api/v1/holds')).json()) as {
    holds: { id: number }[];
  };
  await page.goto(`/self-discharge/${selfDischarges.at(-1)?.id}`);
  await page.locator('.recharts-scatter').first().waitFor();
  await shoot('self-discharge');
  await page.goto('/clinic/PL1');
  await page.locator('#ageing .recharts-scatter').first().waitFor();
  await page.locator('#ageing .recharts-wrapper').scrollIntoViewIfNeeded();
  await shoot('ageing');
  await page.goto('/clinic/PD1');
  await page.locator('#remedies .recharts-surface').first().waitFor();
  await page.locator('#remedies .recharts-surface').scrollIntoViewIfNeeded();
  await shoot('balancing');
  await page.goto('/rescue/PL2');
  await page.getByLabel('Its 2 groups now').fill('2.41 2.52 18.5C');
  for (const box of await page.getByRole('checkbox').all())
    if (/check-|looked/.test((await box.getAttribute('id')) ?? '')) await box.check();
  await page.getByRole('button', { name: 'Current is on' }).click();
  await page.getByText('Measure again in').waitFor();
  await type(page, '2.58 2.69 19C');
  await expect(said(page)).toContainText('Filed');
  await shoot('rescue');
  await context.addCookies([{ name: 'theme', value: 'dark', url: workshop.url }]);
  await page.goto('/resistance/1');
  await page.locator('.recharts-scatter').first().waitFor();
  await shoot('resistance-night');
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto('/intake/H2');
  await shoot('intake-phone');
});
