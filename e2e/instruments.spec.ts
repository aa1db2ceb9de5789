import { evening as test, expect, fillByKeys, holdBack, said, tabTo, type } from './workshop';
import { addPack } from '../records/packs';
import { filed } from '../records/filedRows';

/**
 * Forms of instruments, sheets, protocols and rounds from an empty workshop: refusals in their place, and the way on.
 */
test.describe.configure({ mode: 'serial' });

test('an instrument without a last digit is refused in its place; with one it is on the bench, its leads computed', async ({
  page,
}) => {
  await page.goto('/instruments');
  await expect(page.getByText('No instrument yet.')).toBeVisible();
  await fillByKeys(page, { Code: 'd', Channels: '0', 'What it is': 'Meter of the boathouse' });
  await page.keyboard.press('Enter');
  await expect(
    page.getByText('Code: a letter, then one to five letters or digits', { exact: false }).first(),
  ).toBeVisible();
  await expect(page.getByText('Channels: expected a whole number from 1 to 32.', { exact: true })).toBeVisible();
  await page.getByLabel('Code').focus();
  await fillByKeys(page, { Channels: '1' });
  await page.getByLabel('Code').fill('DM1');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Give the last digit of at least one quantity').first()).toBeVisible();
  await fillByKeys(page, { 'Voltage: step, mV': '1', '± % of reading': '0,05', '± counts': '2' });
  await page.getByText('Current, resistance, leads').click();
  await page.getByLabel('Leads: gauge').fill('22');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Leads: give both gauge and length, or neither.').first()).toBeVisible();
  await page.getByLabel('Length, m').fill('0.5');
  await page.keyboard.press('Enter');
  await expect(page.getByText('It is on the bench.')).toBeVisible();
  // Half a metre of gauge 22 there and back: 52.96 mΩ/m (ASTM B258).
  await expect(page.getByText('0.5 m of gauge 22 (0.33 mm²): 53.0 mΩ there and back')).toBeVisible();
});

test('two of one code are refused; a certified one is believed at once', async ({ page }) => {
  await page.goto('/instruments');
  await fillByKeys(page, { Code: 'DM1', 'What it is': 'another', 'Voltage: step, mV': '1' });
  await page.keyboard.press('Enter');
  await expect(page.getByText('There is an instrument with this code already').first()).toBeVisible();
  await page.getByLabel('Code').fill('REF');
  await page.getByLabel('Certified').selectOption('yes');
  await page.getByLabel('Voltage: step, mV').fill('0.1');
  await page.getByLabel('± % of reading').first().fill('0.01');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('row', { name: /^REF/ })).toContainText('another');
  await expect(page.getByRole('row', { name: /^REF/ })).toContainText('certified');

  await fillByKeys(page, { Sheet: 'Against the reference', Batteries: 'half, as full' });
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/instruments\/check\/\d+$/);
  await type(page, 'REF 3.7000');
  await type(page, 'DM1 3.725');
  await expect(page.getByText('3.70000 ± 0.00022 V, by REF')).toBeVisible();
  const finding = page.getByRole('region', { name: 'Finding' });
  await expect(finding).toContainText('DM1');
  await expect(finding).toContainText('high');

  // A slow way to the other battery: what is typed meanwhile is for it.
  const arrival = await holdBack(page, /at=2/, 'GET');
  await type(page, 'B2');
  await type(page, 'REF 3.7000');
  await type(page, 'DM1 3.725');
  arrival();
  await expect(page.getByRole('region', { name: 'Battery at hand' })).toContainText(
    /^At handB2.*Measured on it: DM1, REF\./,
  );
  await page.getByRole('button', { name: 'by offset and gain' }).click();
  await expect(page.getByText('All levels are equal')).toBeVisible();
});

test('a reference worse than the instrument corrects nothing, certified or not', async ({ page }) => {
  await page.goto('/instruments');
  await fillByKeys(page, {
    Code: 'OLD',
    'What it is': 'A certificate from long ago',
    'Voltage: step, mV': '10',
    '± % of reading': '0.5',
  });
  await page.getByLabel('Certified').selectOption('yes');
  await page.getByLabel('Code').focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('row', { name: /^OLD/ })).toContainText('certified');
  await fillByKeys(page, { Sheet: 'Against the old one', Batteries: 'half' });
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/instruments\/check\/\d+$/);
  await type(page, 'OLD 3.70');
  await type(page, 'DM1 3.790');
  await page.getByRole('button', { name: 'Correct DM1 by an offset' }).click();
  await expect(page.getByText('is less certain than the instrument itself')).toBeVisible();
  await page.goto('/instruments');
  await expect(page.getByRole('region', { name: 'Calibrations' })).toHaveCount(0);
});

test('a sheet without batteries and one with too many are refused; what is typed on it is asked about', async ({
  page,
}) => {
  await page.goto('/instruments');
  await fillByKeys(page, { Sheet: 'none', Batteries: ' , ' });
  await page.keyboard.press('Enter');
  await expect(page.getByText('Name the batteries, one after the other').first()).toBeVisible();
  await page.goto('/instruments/check/1');
  await type(page, '3.70');
  await expect(said(page)).toContainText('Start with an instrument (DM1, OLD, REF)');
  await type(page, 'DM1 37.12');
  await expect(said(page)).toContainText('Was it 3.712 V?');
  await type(page, 'B9');
  await expect(said(page)).toContainText('This sheet has batteries B1 to B2.');
  await page.goto('/instruments/check/999');
  await expect(page.getByRole('heading', { level: 1 })).not.toContainText('Against');
});

test('a pack as reference: every instrument measures its groups in turn', async ({ page, workshop }) => {
  await addPack(workshop.pool, {
    code: 'PK4',
    name: 'Winch',
    chemistry: 'li-ion',
    series: 3,
    parallel: 1,
    ratedCapacityAh: 3,
    board: 'none',
    balanceConnector: true,
  });
  await page.goto('/instruments');
  await fillByKeys(page, { Sheet: 'On the winch', Batteries: 'pk4' });
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/instruments\/check\/\d+$/);
  await expect(page.getByText('Measure every group of PK4 with one instrument after the other')).toBeVisible();
  await type(page, 'DM1 3.712 3.703');
  await expect(said(page)).toContainText('expected 3 voltages, one a group');
  await type(page, 'DM1 3.712 3.703 3.721');
  await expect(said(page)).toContainText('Filed');
  await type(page, 'B2 OLD 3.71');
  await expect(page.getByRole('region', { name: 'Battery at hand' })).toContainText('PK4 group 3');
  const { rows } = await workshop.pool.query(
    `select position, channel, voltage_v as v from cross_check_voltage order by voltage_v`,
  );
  expect(rows.filter(({ v }) => [3.703, 3.712, 3.721].includes(v))).toEqual([
    { position: 2, channel: 1, v: 3.703 },
    { position: 1, channel: 1, v: 3.712 },
    { position: 3, channel: 1, v: 3.721 },
  ]);
});

test('a protocol is written down; windows that make no sense are refused', async ({ page }) => {
  await page.goto('/resistance');
  await tabTo(page, 'Protocols');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/resistance\/protocols$/);
  await expect(page.getByText('At storage charge, since a full cell flatters.')).toBeVisible();
  await fillByKeys(page, {
    Name: 'Boathouse, two currents',
    'Charge from, %': '80',
    'to, %': '20',
    'Coldest, °C': '15',
    'Rested, minutes': '30',
  });
  await page.keyboard.press('Enter');
  await expect(page.getByText('Charge: the window ends below where it begins.').first()).toBeVisible();
  await page.getByLabel('to, %', { exact: true }).fill('95');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Temperature: give both ends of the window, or none.').first()).toBeVisible();
  await page.getByLabel('Warmest, °C').fill('25');
  await page.getByLabel('Method').selectOption('two-current');
  await page.getByLabel('Name').focus();
  // While the last answer is still being taken in, Enter sends nothing.
  await expect(page.getByRole('button', { name: 'Write it down' })).toBeEnabled();
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/resistance$/);
  await page.goto('/resistance/protocols');
  await expect(page.getByRole('row', { name: /Boathouse, two currents/ })).toContainText('80–95 %');

  await tabTo(page, 'Put away Minute one of a brisk charge');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Take out again Minute one of a brisk charge' })).toBeVisible();
  await page.goto('/resistance/protocols');
  await expect(page.getByRole('row').last()).toContainText('Minute one');
  await page.getByRole('button', { name: 'Take out again Minute one of a brisk charge' }).click();
  await expect(page.getByRole('button', { name: 'Put away Minute one of a brisk charge' })).toBeVisible();
  await page.getByRole('button', { name: 'Put away At storage charge' }).click();
  await expect(page.getByRole('button', { name: 'Take out again At storage charge' })).toBeVisible();
});

test('a round by two currents: swapped figures are asked about, a cold reading is kept and not compared', async ({
  page,
}) => {
  await page.goto('/intake');
  await fillByKeys(page, {
    Code: 'W1',
    'Number of cells': '6',
    'From where, used how': 'Boathouse lamps',
    Model: 'Q18-25',
    Maker: 'Quillon',
    'Rated capacity, Ah': '2.45',
    'Weight of a good one, g': '44.6',
  });
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/intake\/W1$/);
  for (let n = 1; n <= 6; n++) {
    await type(page, `W1-00${n} 4.05 44.${n} ok`);
    await expect(said(page)).toContainText(`Filed W1-00${n}`);
  }
  await page.goto('/resistance');
  await expect(page.getByLabel('Protocol').getByRole('option', { name: 'Full and rested' })).toHaveCount(1);
  await expect(page.getByLabel('Protocol').getByRole('option', { name: 'At storage charge' })).toHaveCount(0);
  await page.getByLabel('Protocol').selectOption({ label: 'Boathouse, two currents: Two currents' });
  await page.getByLabel('Bench temperature, °C').fill('21');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/resistance\/\d+$/);
  await expect(page.getByRole('region', { name: 'Next cell' })).toContainText('at 0.49 A, then 2.45 A');
  await type(page, '4.02 2.45 3.93 0.49');
  await expect(said(page)).toContainText('The second current should be the higher one');
  for (let n = 1; n <= 4; n++) {
    await type(page, `4.02 0.49 3.9${n} 2.45`);
    await expect(said(page)).toContainText(`Filed W1-00${n}`);
  }
  await expect(page.getByText('Odd: beyond 1.75 times the median')).toBeVisible();
  await type(page, '4.02 0.49 3.93 2.45 8C');
  await expect(said(page)).toContainText('Filed W1-005');
  await expect(page.getByText('8 °C is outside the 15 to 25 °C of this protocol').first()).toBeVisible();
  await expect(page.getByRole('region', { name: 'The batch so far' })).toContainText('4 cells');
  await page.getByText('Where the ± comes from').click();
  await expect(page.getByRole('region', { name: 'Last figure' })).toContainText('load current');
  await page.goto('/resistance/compare');
  await expect(page.getByText('Measure the same cells or packs with two protocols')).toBeVisible();
  await page.goto('/resistance/predict');
  await expect(page.getByText('Cells and packs with both a resistance and a discharge show here.')).toBeVisible();
});

test('in a round without a connection the bench goes on to the next cell, and all is filed in order when it is back', async ({
  page,
  workshop,
}) => {
  await page.goto('/resistance');
  await page.getByLabel('Protocol').selectOption({ label: 'Full and rested: AC meter, 1 kHz' });
  await page.getByLabel('Its zero').selectOption('not taken');
  await page.getByLabel('Bench temperature, °C').fill('21');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/resistance\/\d+$/);
  const next = page.getByRole('region', { name: 'Next cell' });
  await expect(next).toContainText('W1-001');
  workshop.cut();
  await type(page, '21.4');
  await expect(said(page)).toContainText('W1-001 21.4 is kept in this browser');
  await expect(next).toContainText('W1-002');
  await type(page, '21.9');
  await expect(next).toContainText('W1-003');
  workshop.mend();
  const stored = async () =>
    (
      await workshop.pool.query(
        `select code, figures -> 'resistance_ohm' as resistance_ohm
           from ${filed}
           where kind = 'resistance'
           order by id`,
      )
    ).rows;
  await expect.poll(stored).toEqual([
    { code: 'W1-001', resistance_ohm: 0.0214 },
    { code: 'W1-002', resistance_ohm: 0.0219 },
  ]);
  await expect(page.getByLabel('Kept in this browser')).toHaveCount(0);
  await expect(next).toContainText('W1-003');
  await expect(page.getByText('No zero was taken')).toHaveCount(1);
});

test('lines typed ahead are filed in order, each for the cell shown by then; one that is asked about holds those behind it', async ({
  page,
  workshop,
}) => {
  const { rows } = await workshop.pool.query<{ id: number }>('select max(id) as id from round');
  await page.goto(`/resistance/${rows[0]?.id}`);
  await expect(page.getByRole('region', { name: 'Next cell' })).toContainText('W1-003');
  const answer = await holdBack(page, '**/readings');
  const bar = page.locator('footer.bar input');
  await type(page, '21.0');
  await type(page, '221');
  await type(page, '21.2');
  await page.keyboard.type('21.');
  answer();
  await expect(said(page)).toContainText('Enter again files it as read. 1 more line waits behind this one.');
  await expect(bar).toHaveValue('221');
  const stored = async () =>
    (
      await workshop.pool.query(
        `select code, figures -> 'resistance_ohm' as resistance_ohm
           from ${filed}
           where kind = 'resistance' and code >= 'W1-003'
           order by id`,
      )
    ).rows;
  expect(await stored()).toEqual([{ code: 'W1-003', resistance_ohm: 0.021 }]);
  await type(page, '22.1');
  await expect(said(page)).toContainText('W1-006');
  await expect.poll(stored).toEqual([
    { code: 'W1-003', resistance_ohm: 0.021 },
    { code: 'W1-004', resistance_ohm: 0.0221 },
    { code: 'W1-005', resistance_ohm: 0.0212 },
  ]);
  await expect(bar).toHaveValue('21.');
  await expect(page.getByRole('region', { name: 'Next cell' })).toContainText('W1-006');
});

test('a slow way to another cell: what is typed meanwhile is for that one', async ({ page, workshop }) => {
  const { rows } = await workshop.pool.query<{ id: number }>('select max(id) as id from round');
  await page.goto(`/resistance/${rows[0]?.id}`);
  const arrival = await holdBack(page, /at=W1-002/, 'GET');
  await type(page, 'W1-002');
  await type(page, '22.5');
  arrival();
  await expect(said(page)).toContainText('Filed W1-002, press 2: resistance 22.5 mΩ');
});

test('the last entry, typed without a code, is corrected in its own cell though the next is shown', async ({
  page,
  workshop,
}) => {
  const { rows } = await workshop.pool.query<{ id: number }>('select max(id) as id from round');
  await page.goto(`/resistance/${rows[0]?.id}`);
  await type(page, '21.3');
  await expect(said(page)).toContainText('Filed W1-006');
  await expect(page.getByText('All 6 cells are measured.')).toBeVisible();
  await page.keyboard.press('ArrowUp');
  await expect(page.locator('footer.bar input')).toHaveValue('W1-006 21.3');
  await page.keyboard.press('Backspace');
  await page.keyboard.type('4');
  await page.keyboard.press('Enter');
  await expect(said(page)).toContainText('Filed W1-006: resistance 21.4 mΩ');
  // The mistake was no press of its own.
  await expect(page.getByRole('region', { name: 'Last figure' })).toContainText('21.4');
  await expect(page.getByRole('region', { name: 'Last figure' })).not.toContainText('Pressed');
  const standing = async () =>
    (
      await workshop.pool.query(
        `select figures -> 'resistance_ohm' as resistance_ohm
         from ${filed}
         where code = 'W1-006' and kind = 'resistance' and voided_at is null`,
      )
    ).rows;
  await expect.poll(standing).toEqual([{ resistance_ohm: 0.0214 }]);
});

test('a line that makes no sense, emptied, lets those behind it go on', async ({ page, workshop }) => {
  await workshop.pool.query(
    `update entry
     set voided_at = now(), void_reason = 'weighed again'
     where id in (select id from ${filed} where code like 'W1-%' and kind = 'mass')`,
  );
  await page.goto('/intake/W1');
  await type(page, 'W1-001 44.1.2');
  await expect(said(page)).toContainText('"44.1.2" was not understood');
  await expect(page.locator('footer.bar input')).toHaveValue('W1-001 44.1.2');
  await type(page, '');
  await expect(said(page)).not.toContainText('not understood');
  const answer = await holdBack(page, '**/intake/W1');
  await type(page, 'W1-001 45.31 g');
  await type(page, 'W1-002 no');
  await type(page, 'W1-003 45.33 g');
  answer();
  await expect(said(page)).toContainText('1 more line waits behind this one.');
  await type(page, '');
  await expect(said(page)).toContainText('Filed W1-003');
  const { rows } = await workshop.pool.query(
    `select code from ${filed} where (figures ->> 'mass_kg')::float > 0.0453 order by id`,
  );
  expect(rows.map((row) => row.code)).toEqual(['W1-001', 'W1-003']);
});

test('at the intake, too, a corrected entry stands alone', async ({ page, workshop }) => {
  await page.goto('/intake/W1');
  await type(page, 'W1-004 45.51 g');
  await expect(said(page)).toContainText('Filed W1-004');
  await page.keyboard.press('ArrowUp');
  await expect(page.locator('footer.bar input')).toHaveValue('W1-004 45.51g');
  await page.keyboard.press('Backspace');
  await page.keyboard.press('Backspace');
  await page.keyboard.type('2g');
  await page.keyboard.press('Enter');
  await expect(said(page)).toContainText('Filed W1-004: 45.52 g');
  const { rows } = await workshop.pool.query(
    `select figures -> 'mass_kg' as mass_kg, void_reason
     from ${filed}
     where code = 'W1-004' and (figures ->> 'mass_kg')::float > 0.0455
     order by id`,
  );
  expect(rows).toEqual([
    { mass_kg: 0.04551, void_reason: 'corrected at entry' },
    { mass_kg: 0.04552, void_reason: null },
  ]);
});
