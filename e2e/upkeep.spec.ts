import { addInstrument } from '../records/instruments';
import { addPack } from '../records/packs';
import { expect, said, test, type } from './workshop';

test.use({ apart: 'upkeep' });

const pack = {
  name: 'Quay light',
  chemistry: 'lipo' as const,
  series: 4,
  parallel: 1,
  ratedCapacityAh: 3.3,
  board: 'none' as const,
  balanceConnector: true,
};
const dayS = 24 * 3600;

test('a pouch pack of four gets its storage sheet; a wrong count is refused, and so is a label nobody read', async ({
  page,
  workshop,
}) => {
  await addPack(workshop.pool, { ...pack, code: 'PU1' });
  await addInstrument(workshop.pool, {
    code: 'CH4',
    name: 'charger on the sill',
    kind: 'charger',
    channels: 1,
    wires: null,
    leads: null,
    certified: false,
    ranges: {},
    charging: { maxA: 6, maxW: 80, dischargeMaxW: 10, stepA: 0.1, bleedA: 0.2, outputs: 1 },
  });
  await page.goto('/clinic/PU1');
  await page.keyboard.press('Alt+g');
  await expect(page).toHaveURL(/\/upkeep\/PU1/);
  const form = page.getByRole('form', { name: 'Before the start' });
  const sheet = page.getByRole('region', { name: 'Sheet' });
  await form.getByLabel('It is to').selectOption('bring to storage');
  await form.getByLabel('At its terminals now').fill('12.4');
  await form.getByRole('button', { name: 'Make the sheet' }).click();
  await expect(sheet).toContainText('Read its chemistry on its label');
  await form.getByLabel('Its chemistry was read').check();
  await form.getByRole('button', { name: 'Make the sheet' }).click();
  await expect(sheet.getByRole('alert')).toContainText('12.40 V could be 11.1 V, 3 in series');
  await form.getByLabel('At its terminals now').fill('21');
  await form.getByRole('button', { name: 'Make the sheet' }).click();
  await expect(sheet.getByRole('alert')).toContainText('21.00 V is not 14.8 V, 4 in series');

  await form.getByLabel('At its terminals now').fill('4.18 4.17 4.18 4.18');
  await form.getByLabel('A separate load').fill('4,7');
  await form.getByRole('button', { name: 'Make the sheet' }).click();
  await expect(sheet).toContainText('Discharge at constant current');
  await expect(sheet).toContainText('held down by the charger’s watts');
  await expect(sheet.getByText('15.20 V', { exact: true })).toBeVisible();
  await expect(sheet).toContainText('On the separate load of 4.7 Ω');
  await form.getByLabel('It is to').selectOption('charge and balance');
  await form.getByRole('button', { name: 'Make the sheet' }).click();
  await expect(sheet).toContainText('balance plug in');
  await expect(sheet.getByText('16.80 V', { exact: true })).toBeVisible();

  // What was found on it rules out any sheet, whatever a meter shows.
  const settled = page.url();
  await page.goto('/clinic/PU1');
  await type(page, 's');
  await expect(said(page)).toContainText('swollen');
  await page.goto(settled);
  await expect(sheet).toContainText('What was found on it rules out any charge');
  await expect(sheet).not.toContainText('In series');
});

test('a pack left full is due within a day, looked at after a month by one line, and then nothing is due', async ({
  page,
  workshop,
}) => {
  await addPack(workshop.pool, { ...pack, code: 'PU2' });
  const due = page.getByRole('region', { name: 'Due' });
  await page.goto('/upkeep');
  await expect(due).toContainText('Nothing is due');
  await type(page, 'PU2 4.18 4.17 4.18 4.18');
  await expect(said(page)).toContainText('Filed PU2: 4 groups, spread 10 mV. Bring it down to storage.');
  await workshop.later(1.2 * dayS);
  await page.goto('/upkeep');
  const row = due.getByRole('row').filter({ hasText: 'PU2' });
  await expect(row).toContainText('Down to storage');
  await expect(row).toContainText('● due');
  await expect(page.getByRole('navigation', { name: 'Stations' })).toContainText('1Upkeep');
  // Put off with a reason it comes back after a week.
  await row.getByRole('button', { name: 'Put off PU2' }).click();
  await row.getByLabel('Why is PU2 put off').fill('used on Sunday');
  await row.getByRole('button', { name: 'Put off', exact: true }).click();
  await expect(due).toContainText('Nothing is due');
  await workshop.later(9 * dayS);
  await page.goto('/upkeep');
  await expect(row).toContainText('◆ overdue');
  await type(page, 'PU2 3.81 3.80 3.81 3.81');
  await expect(due).toContainText('Nothing is due');
  await workshop.later(50 * dayS);
  await page.goto('/upkeep');
  await expect(row).toContainText('Look at it');
  await expect(row).toContainText('◆ overdue');
  await type(page, 'PU2 3.81 3.80 3.73 3.81');
  await expect(said(page)).toContainText('Group 3 drifts: 80 mV lower against the others in 41 days.');
  await expect(due).toContainText('Nothing is due');
  await workshop.later(0);
});
