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
