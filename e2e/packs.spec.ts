import { expect, fillByKeys, said, tabTo, test, type } from './workshop';

test.use({ apart: 'packs' });

/** A pouch pack is taken in, by keyboard alone. */
test.describe.serial('a pack is taken in', () => {
  test('its label is held against itself; what was noted of it is shown', async ({ page }) => {
    await page.goto('/clinic');
    await fillByKeys(page, { Code: 'PK1', 'What it serves': 'Kite camera', Chemistry: 'Lithium polymer' });
    await fillByKeys(page, { 'In series': '3', 'In parallel': '1', 'Rated, Ah': '1.5', 'Balance connector': 'it has' });
    await tabTo(page, 'From its label');
    await page.keyboard.press('Enter');
    await fillByKeys(page, { 'Voltage, V': '14.8' });
    await tabTo(page, 'When it was new, and its use so far');
    await page.keyboard.press('Enter');
    await fillByKeys(page, { 'Cycles so far': '61', 'Resistances when new, mΩ': '9.4 9.1', 'New on': '2025-03-02' });
    await tabTo(page, 'Take in');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('alert').filter({ hasText: '14.8 V would be 4 in series, not 3' })).toBeVisible();
    await page.getByLabel('Voltage, V').fill('11.1');
    await page.getByLabel('In series').fill('3');
    await page.getByRole('button', { name: 'Take in' }).press('Enter');
    await expect(page.getByRole('alert').filter({ hasText: 'has 3 groups; 2 resistances were given' })).toBeVisible();
    await page.getByLabel('Resistances when new, mΩ').fill('9.4 9.1 9.6');
    await page.getByRole('button', { name: 'Take in' }).press('Enter');
    await expect(page).toHaveURL(/\/clinic\/PK1$/);
    const taken = page.getByRole('region', { name: 'Taken in' });
    await expect(taken).toContainText('61 cycles so far; has a balance connector');
    await expect(taken).toContainText('As new, on 2 Mar 2025: 9.4 · 9.1 · 9.6 mΩ from the black lead');
  });

  test('looked at and read at rest it is usable, with a damaged lead said; every charge noted counts', async ({
    page,
  }) => {
    await page.goto('/clinic/PK1');
    const taken = page.getByRole('region', { name: 'Taken in' });
    await expect(taken).toContainText('Not decided yet');
    await type(page, '3.84 3.85 3.84');
    await expect(said(page)).toContainText('Filed PK1: 3 groups');
    await type(page, 'e');
    await expect(said(page)).toContainText('Filed PK1: lead damaged');
    await expect(taken.getByRole('heading')).toHaveText(/Usable/);
    await expect(taken).toContainText('mend it before any charge or load');
    await page.getByLabel('The next reading is').selectOption('at the end of charge');
    await type(page, '4.20 4.20 4.19');
    await expect(taken).toContainText('62 cycles so far');
    await page.keyboard.press('Control+z');
    await expect(taken).toContainText('61 cycles so far');
  });

  test('a twin is noted of both; one that is not here is refused; a swollen one is out whatever it reads', async ({
    page,
  }) => {
    await page.goto('/clinic');
    await fillByKeys(page, { Code: 'PK2', 'What it serves': 'Kite camera, spare', Chemistry: 'Lithium polymer' });
    await fillByKeys(page, { 'In series': '3', 'In parallel': '1', 'Rated, Ah': '1.5' });
    await tabTo(page, 'When it was new, and its use so far');
    await page.keyboard.press('Enter');
    await fillByKeys(page, { Twins: 'PK9' });
    await tabTo(page, 'Take in');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('alert').filter({ hasText: 'There is no pack PK9' })).toBeVisible();
    await page.getByLabel('Twins').fill('pk1');
    await page.getByRole('button', { name: 'Take in' }).press('Enter');
    await expect(page).toHaveURL(/\/clinic\/PK2$/);
    await type(page, '3.84 3.85 3.84');
    await expect(said(page)).toContainText('Filed PK2');
    await type(page, 's');
    const taken = page.getByRole('region', { name: 'Taken in' });
    await expect(taken.getByRole('heading')).toHaveText(/Out/);
    await expect(taken).toContainText('swollen or soft: never charge it');
    await expect(page.getByText('Next:')).toHaveCount(0);
    await taken.getByRole('link', { name: 'PK1' }).click();
    await expect(page).toHaveURL(/\/clinic\/PK1$/);
    await expect(page.getByRole('region', { name: 'Taken in' })).toContainText('Twins: PK2');
    await page.goto('/clinic');
    await expect(page.getByRole('row').filter({ hasText: 'PK2' })).toContainText('Out.');
  });
});

/** What a charger told of it over two years, written down on paper, and what it tells today. */
test.describe.serial('the resistances of a pack', () => {
  test('noted with their days, they show which group is on its way out and that it rose', async ({ page }) => {
    await page.goto('/clinic');
    await fillByKeys(page, { Code: 'PK6', 'What it serves': 'Ferry bell', Chemistry: 'Lithium polymer' });
    await fillByKeys(page, { 'In series': '4', 'In parallel': '1', 'Rated, Ah': '2' });
    await tabTo(page, 'Take in');
    await page.keyboard.press('Enter');
    await expect(page).toHaveURL(/\/clinic\/PK6$/);
    await type(page, '7.1mΩ 7.3mΩ 7.0mΩ 7.2mΩ');
    await expect(said(page)).toContainText('Resistances are read in a round over packs');

    await page.goto('/resistance');
    await fillByKeys(page, { 'Batch or packs': 'packs', Protocol: 'Minute one', 'Bench temperature, °C': '22.2' });
    await tabTo(page, 'Begin');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('region', { name: 'Next pack' })).toBeVisible();
    await type(page, 'PK6 7.1 7.3 7.0');
    await expect(said(page)).toContainText('PK6 has 4 groups; 3 resistances were read');
    await type(page, 'PK6 4.1 3.9 4.2 4.1');
    await expect(said(page)).toContainText('look like volts');
    await page.keyboard.press('Escape');
    await type(page, 'PK6 7.1 7.3 7.0 7.2 = 28.6 2024-11-09');
    await expect(said(page)).toContainText('Filed PK6: resistance 7.1 · 7.3 · 7.0 · 7.2 mΩ, 28.6 mΩ together');
    await type(page, 'PK6 7.4 9.9 7.3 7.5 2025-11-15');
    await expect(said(page)).toContainText('on 2025-11-15');
    await type(page, 'PK6 7.4 9.9 7.3 7.5 2199-01-01');
    await expect(said(page)).toContainText('is no day on which it can have been read');
    await page.keyboard.press('Escape');
    await type(page, 'PK6 7.8 15.7 7.6 7.9');
    const last = page.getByRole('region', { name: 'Last figure' });
    await expect(last).toContainText('Group 2 is on its way out');
    await expect(last).toContainText('risen to 2.15 times the first figure read the same way');
    await last.getByRole('link', { name: 'PK6' }).press('Enter');
    await expect(page).toHaveURL(/\/clinic\/PK6$/);
    const resistance = page.getByRole('region', { name: 'Resistance', exact: true });
    await expect(resistance).toContainText('Group 2 is on its way out');
    await resistance.getByText('As a table').press('Enter');
    await expect(resistance.getByRole('row')).toHaveText([/Read/, /7\.8\s*15\.7/, /15 Nov 2025/, /9 Nov 2024/]);
    await page.goto('/clinic');
    await expect(page.getByRole('row').filter({ hasText: 'PK6' })).toContainText('◆ Group 2 is on its way out');
  });

  test('a round with a load reads the whole pack, or one group through its connector without the wires', async ({
    page,
  }) => {
    await page.goto('/resistance');
    await fillByKeys(page, { 'Batch or packs': 'packs', Protocol: 'At storage charge' });
    await fillByKeys(page, { 'Wires of the connector, mΩ': '20' });
    await tabTo(page, 'Begin');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('region', { name: 'Next pack' })).toBeVisible();
    await type(page, 'PK6 15.32 15.24 1.50 15.31');
    const last = page.getByRole('region', { name: 'Last figure' });
    await expect(last).toContainText('a group, as their mean');
    await type(page, 'PK6 g5 3.83 3.79 1.00 3.83');
    await expect(said(page)).toContainText('there is no group 5');
    await type(page, 'PK6 g1 3.830 3.790 1.00 3.829');
    await expect(said(page)).toContainText('group 1: open 3.830 V');
    // 39 mΩ at the plug, and a little that had not recovered yet, less 20 mΩ of wires.
    await expect(last.getByRole('list', { name: 'Resistances from the black lead' })).toContainText(/^(19|20|2[0-4])/);
    await page.keyboard.press('Control+z');
    await expect(page.getByRole('region', { name: 'Readings' }).getByRole('row')).toHaveCount(2);
  });
});
