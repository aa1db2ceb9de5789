import { format, subDays } from 'date-fns';
import type { Page } from '@playwright/test';
import { evening as test, expect, fillByKeys, said, tabTo, type } from './workshop';

/** A pouch pack is taken in, by keyboard alone. */
test.describe.serial('a pack is taken in', () => {
  test('its label is compared with itself; what was noted of it is shown', async ({ page }) => {
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
    await expect(taken).toContainText('As new, on 2 Mar 2025: 9.4 · 9.1 · 9.6 mΩ from the negative terminal');
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
    await expect(page.getByRole('region', { name: 'Verdict' })).toContainText('mend it before any charge or load');
    await page.getByLabel('The next reading is').selectOption('at the end of charge');
    await type(page, '4.20 4.20 4.19');
    await expect(taken).toContainText('62 cycles so far');
    await page.keyboard.press('Control+z');
    await expect(taken).toContainText('61 cycles so far');
    // The bar goes on with what was chosen last.
    await page.getByLabel('The next reading is').selectOption('at rest');
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
    const verdict = page.getByRole('region', { name: 'Verdict' });
    await expect(verdict).toContainText('swollen or soft: never charge it');
    await expect(verdict).toContainText('Next: tape its terminals and set it aside');
    await taken.getByRole('link', { name: 'PK1' }).click();
    await expect(page).toHaveURL(/\/clinic\/PK1$/);
    await expect(page.getByRole('region', { name: 'Taken in' })).toContainText('Twins: PK2');
    await page.goto('/clinic');
    await expect(page.getByRole('row').filter({ hasText: 'PK2' })).toContainText('Out.');
  });
});

/** What a charger reported over two years, written down on paper, and what it reports today. */
test.describe.serial('the resistances of a pack', () => {
  test('noted with their days, they show which group is failing and that it rose', async ({ page }) => {
    await page.goto('/clinic');
    await fillByKeys(page, { Code: 'PK6', 'What it serves': 'Ferry bell', Chemistry: 'Lithium polymer' });
    await fillByKeys(page, { 'In series': '4', 'In parallel': '1', 'Rated, Ah': '2' });
    await tabTo(page, 'Take in');
    await page.keyboard.press('Enter');
    await expect(page).toHaveURL(/\/clinic\/PK6$/);
    await type(page, '7.1mΩ 7.3mΩ 7.0mΩ 7.2mΩ');
    await expect(said(page)).toContainText('Resistances are measured in a round over packs');

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
    await expect(said(page)).toContainText('cannot be the day of this reading');
    await page.keyboard.press('Escape');
    await type(page, 'PK6 7.8 15.7 7.6 7.9');
    const last = page.getByRole('region', { name: 'Last figure' });
    await expect(last).toContainText('Group 2 is failing');
    await expect(last).toContainText('risen to 2.15 times the first value by the same method');
    await last.getByRole('link', { name: 'PK6' }).press('Enter');
    await expect(page).toHaveURL(/\/clinic\/PK6$/);
    const resistance = page.getByRole('region', { name: 'Resistance', exact: true });
    await expect(page.getByRole('region', { name: 'Verdict' })).toContainText('◆ Group 2 is failing');
    await expect(resistance).toContainText('Group 2 has risen');
    await resistance.getByText('As a table').press('Enter');
    await expect(resistance.getByRole('row')).toHaveText([/Read/, /7\.8\s*15\.7/, /15 Nov 2025/, /9 Nov 2024/]);
    await page.goto('/clinic');
    await expect(page.getByRole('row').filter({ hasText: 'PK6' })).toContainText('◆ Group 2 is failing');
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
    await expect(last.getByRole('list', { name: 'Resistances from the negative terminal' })).toContainText(
      /^(19|20|2[0-4])/,
    );
    await page.keyboard.press('Control+z');
    await expect(page.getByRole('region', { name: 'Readings' }).getByRole('row')).toHaveCount(2);
  });
});

/** Groups of a pack of four that fall from 4.15 V at 1 A, as a logger writes them; the weakest reaches 3 V first. */
const groupLog = (hours: number[], heads: string[], write: (groupsV: number[]) => number[]): string => {
  const rows: string[] = [];
  for (let t = 0; ; t += 20) {
    const groupsV = hours.map((h) => (t < 300 ? 4.18 : 4.15 - (1.15 * (t - 300)) / 3600 / h));
    rows.push([t, ...write(groupsV).map((v) => v.toFixed(4))].join(','));
    if (Math.min(...groupsV) < 2.97) return `${['time (s)', ...heads].join(',')}\n${rows.join('\n')}\n`;
  }
};
const fourHeads = ['cell1 (V)', 'cell2 (V)', 'cell3 (V)', 'cell4 (V)'];
const falling = [1.62, 1.38, 1.6, 1.58];

test.describe.serial('the discharge of a pack', () => {
  const choose = (page: Page, csv: string) =>
    page.locator('input[type=file]').setInputFiles({ name: 'pk7.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });

  test('columns that are not its groups are refused, one too many is the terminals, turned ones are asked about', async ({
    page,
  }) => {
    await page.goto('/clinic');
    await fillByKeys(page, { Code: 'PK7', 'What it serves': 'Fog horn', Chemistry: 'Lithium polymer' });
    await fillByKeys(page, { 'In series': '4', 'In parallel': '1', 'Rated, Ah': '1.6' });
    await tabTo(page, 'Take in');
    await page.keyboard.press('Enter');
    await expect(page).toHaveURL(/\/clinic\/PK7$/);
    await type(page, '4.18 4.12 4.19 4.18');
    await expect(said(page)).toContainText('Filed PK7');
    await type(page, 'ok');
    await page.keyboard.press('Alt+C');
    await expect(page).toHaveURL(/\/capacity\?subject=PK7$/);
    await expect(page.getByLabel('Cell or pack', { exact: true })).toHaveValue('PK7');
    const three = groupLog(falling, fourHeads.slice(0, 3), (groups) => groups.slice(0, 3));
    await choose(page, three);
    await expect(page.getByText('This log has voltages of 3 groups, the pack has 4.')).toBeVisible();
    const five = groupLog(falling, ['v1', 'v2', 'v3', 'v4', 'v5'], (groups) => [
      ...groups,
      groups.reduce((a, b) => a + b, 0),
    ]);
    await choose(page, five);
    await expect(page.getByText('Column 6 is the sum of the others: taken as the terminals')).toBeVisible();
    await expect(page.getByText('group 1 in V (column 2)')).toBeVisible();

    // Group 2 lay low at rest; the log shows the third low.
    const low = (t: number[]) => t.map((v, i) => (i === 1 ? v - 0.06 : v));
    await choose(
      page,
      groupLog(falling, fourHeads, (groups) => low(groups).toReversed()),
    );
    await fillByKeys(page, { 'Current, A': '1' });
    await page.getByLabel('When it ended').fill(format(subDays(new Date(), 2), "yyyy-MM-dd'T'HH:mm"));
    await page.getByRole('button', { name: 'Import' }).press('Enter');
    await expect(page.getByText('Is group 1 of this log at the positive terminal?')).toBeVisible();
    await fillByKeys(page, { 'Group 1 of the log lies': 'at the positive terminal' });
    await page.getByRole('button', { name: 'Import' }).press('Enter');
    await expect(page).toHaveURL(/\/capacity\/\d+$/);
    await expect(page.getByText('Capacity down to 3 V in its first group')).toBeVisible();
    const left = page.getByRole('region', { name: 'What each group had left' });
    await expect(left).toContainText('Group 2 ended it; what the others had left');
    await expect(left.getByRole('row').filter({ hasText: 'nothing' })).toContainText('2');
  });

  test('its page has the health; loaded for ten seconds it is graded, found on the shelf among packs', async ({
    page,
  }) => {
    await page.goto('/clinic/PK7');
    const verdict = page.getByRole('region', { name: 'Verdict' });
    await expect(verdict).toContainText('No resistance yet.');
    await expect(page.getByRole('region', { name: 'Limits' })).toContainText('Steady, health');
    await page.goto('/resistance');
    await fillByKeys(page, { 'Batch or packs': 'packs', Protocol: 'Minute one' });
    await tabTo(page, 'Begin');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('region', { name: 'Next pack' })).toBeVisible();
    await type(page, 'PK7 8.1 9.9 8.0 8.2');
    await expect(said(page)).toContainText('Filed PK7');
    await page.goto('/resistance');
    await fillByKeys(page, { 'Batch or packs': 'packs', Protocol: 'At storage charge', 'Bench temperature, °C': '21' });
    await tabTo(page, 'Begin');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('region', { name: 'Next pack' })).toBeVisible();
    await type(page, 'PK7 15.32 15.27 1.50 15.31');
    await expect(said(page)).toContainText('Filed PK7');
    await page.goto('/clinic/PK7');
    await expect(verdict).toContainText(/Surge|Steady/);
    await expect(page.getByRole('region', { name: 'Resistance', exact: true })).toContainText(
      'in group 2, its weakest',
    );
    await page.goto('/shelf');
    await type(page, 'packs > 70 % 4s');
    await expect(page).toHaveURL(/q=packs/);
    await expect(page.locator('.recharts-scatter-symbol')).toHaveCount(1);
    await page.getByRole('link', { name: 'Table' }).click();
    await expect(page.getByRole('row').filter({ hasText: 'PK7' })).toContainText('4s1p');
    await type(page, 'packs > 99 % 4s');
    await expect(page.getByText('Nothing on the shelf is like that.')).toBeVisible();
  });

  test('a program files the same, field by field, and reads what became of it', async ({ request }) => {
    const file = async (data: object) => {
      const answer = await request.post('/api/v1/entries', { data });
      const { said, error } = await answer.json();
      return [answer.status(), said ?? error.message];
    };
    const groups = { subject: 'PK7', groupVoltagesV: [4.12, '4.10', 4.12, 4.13], terminalVoltageV: 16.47 };
    expect(await file({ reading: groups })).toEqual([201, expect.stringContaining('PK7: 4 groups')]);
    const short = { subject: 'PK7', groupVoltagesV: [4.12, 4.1, 4.12] };
    expect(await file({ reading: short })).toEqual([400, expect.stringContaining('3 voltages were read')]);
    const reading = { subject: 'PK7', groupResistancesOhm: [0.0083, '0.0100', 0.0082, 0.0084], on: '2026-11-20' };
    expect(await file({ reading, round: 3 })).toEqual([201, expect.stringContaining('8.3 · 10.0 · 8.2 · 8.4 mΩ')]);
    const volts = { subject: 'PK7', groupResistancesOhm: [0.83, 1.1, 0.82, 0.84] };
    expect(await file({ reading: volts, round: 3 })).toEqual([409, expect.any(String)]);
    const { subjects } = await (await request.get('/api/v1/subjects?code=PK7')).json();
    expect(subjects[0]).toMatchObject({
      standing: expect.stringMatching(/surge|steady/),
      capacityIsAtLeast: false,
      groups: [{}, { position: 2, voltageV: 4.1, leftAh: { value: 0 } }, {}, {}],
    });
  });
});
