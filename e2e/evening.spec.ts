import { addBatch, modelNamed } from '../records/batches';
import { fileEntry } from '../records/ledger';
import type { Pool } from 'pg';
import { randomUUID } from 'node:crypto';
import { evening as test, expect, said, type } from './workshop';
import { filed } from '../records/filedRows';
import { beginRest } from '../records/periods';

const line = (page: Parameters<typeof said>[0]) => page.locator('footer.bar input');

/** A box of cells that are read and usable already. */
async function usableBox(pool: Pool, code: string, count: number): Promise<void> {
  const model = await modelNamed(pool, {
    maker: 'Quillon',
    name: 'Q18-25',
    chemistry: 'li-ion',
    ratedCapacityAh: 2.45,
    massKg: 0.0446,
    board: false,
    asNewOhm: null,
  });
  await addBatch(pool, { code, origin: 'a drawer', modelId: model.id, count });
  const { rows } = await pool.query<{ id: number }>(
    'select subject.id from subject join batch on batch.id = batch_id where batch.code = $1 order by place',
    [code],
  );
  for (const { id } of rows)
    await fileEntry(pool, {
      entry: randomUUID(),
      subjectIds: [id],
      bodies: [
        { kind: 'voltage', voltageV: 3.71, step: 0.01 },
        { kind: 'mass', massKg: 0.0445, step: 0.0001 },
        { kind: 'inspection', findings: [] },
      ],
    });
}

test('an unknown box with a dented cell, a fake, a dead one and a welded pair', async ({ page, workshop }) => {
  await page.goto('/intake');
  await page.getByLabel('Maker and model').selectOption('no');
  for (const [field, text] of Object.entries({
    Code: 'G1',
    'Number of cells': '7',
    'From where, used how': 'Garden tools',
    Size: '18650',
    'Capacity printed on it': '2200 mAh',
    'Weight of a good one, g': '44.2',
  }))
    await page.getByLabel(field, { exact: true }).fill(text);
  await page.getByRole('button', { name: 'Take in' }).click();
  await expect(page.locator('.code')).toHaveText('G1-001');
  await expect(page.getByText('unknown 18650 · 2.20 Ah')).toBeVisible();

  await test.step('all three in one line, then on to the next', async () => {
    await type(page, '3.71 44.1 ok');
    await expect(page.locator('.code')).toHaveText('G1-002');
  });
  await test.step('an inspection before voltage and weight asks', async () => {
    await type(page, 'ok');
    await expect(said(page)).toContainText('G1-002 has no voltage and no weight yet: is it the cell in your hand?');
  });
  await test.step('a dent is tapped', async () => {
    await type(page, '3.70');
    await expect(page.getByText('Weigh it.')).toBeVisible();
    await type(page, '44.3');
    await page.getByRole('button', { name: 'dented' }).click();
    await page.getByRole('button', { name: 'File: dented' }).click();
    await expect(page.getByRole('region', { name: 'The cell before' })).toContainText('dented: never charge it');
    await expect(page.locator('.code')).toHaveText('G1-003');
  });
  await test.step('a fake is out after its weight and keeps the screen: the habitual ok is its own', async () => {
    await type(page, '3712');
    await expect(said(page)).toContainText('Was it 3.712 V?');
    await page.keyboard.press('ArrowDown');
    await expect(said(page)).toContainText('Filed G1-003: 3.712 V');
    await type(page, '20.1');
    await expect(page.getByText('This weight cannot hold that capacity')).toBeVisible();
    await expect(page.locator('.code')).toHaveText('G1-003');
    await type(page, 'ok');
    await expect(said(page)).toContainText('Filed G1-003: nothing found');
    await expect(page.locator('.code')).toHaveText('G1-004');
  });
  await test.step('a dead one is out at once, and left by a key', async () => {
    await type(page, '0.31');
    await expect(page.locator('.code')).toHaveText('G1-004');
    await type(page, '-');
    await expect(page.locator('.code')).toHaveText('G1-005');
  });
  await test.step('twice the weight asks for a pair; both codes note it, and they are read as one', async () => {
    await type(page, '3.72');
    await expect(page.getByText('Weigh it.')).toBeVisible();
    await type(page, '88.6');
    await expect(said(page)).toContainText('a pair, welded together?');
    await type(page, 'g1-5+6 3.72 88.6 ok');
    await expect(said(page)).toContainText('G1-005+006 has a voltage already, 3.72 V');
    await page.keyboard.press('Enter');
    await expect(said(page)).toContainText('Filed G1-005+006: welded together, 3.72 V, 88.6 g');
    await expect(page.locator('.code')).toHaveText('G1-007');
  });
  await test.step('going to a cell is for one filing, and what stands is not replaced unasked', async () => {
    await type(page, 'G1-001');
    await expect(page.locator('.code')).toHaveText('G1-001');
    await type(page, '44.15');
    await expect(said(page)).toContainText('44.15 V');
    await type(page, '44.15 g');
    await expect(said(page)).toContainText('G1-001 has a weight already, 44.1 g: replace it with this one?');
    await page.keyboard.press('Enter');
    await expect(page.locator('.code')).toHaveText('G1-007');
    await type(page, '3.69 44.0 ok');
    await expect(page.getByText('Every cell of G1 is decided.')).toBeVisible();
    await type(page, 'ok');
    await expect(said(page)).toContainText('Start with the code of a cell');
  });
  const { rows } = await workshop.pool.query(
    `select code, kind, (select count(*) from entry_subject where entry_id = filed.id) as together
     from ${filed}
     where code like 'G1-%' and kind <> 'weld' and voided_at is null
     order by code, id, place`,
  );
  const kindsOf = (code: string) =>
    rows.filter((row) => row.code === code).map((row) => `${row.kind}${row.together > 1 ? ` of ${row.together}` : ''}`);
  expect(kindsOf('G1-003')).toEqual(['voltage', 'mass', 'inspection']);
  expect(kindsOf('G1-004')).toEqual(['voltage']);
  expect(kindsOf('G1-006')).toEqual(['voltage of 2', 'mass of 2', 'inspection of 2']);
});

test('the box gets its model later, is put away and comes back out; a note is found', async ({ page, workshop }) => {
  const { id } = await modelNamed(workshop.pool, {
    maker: null,
    name: null,
    size: '18650',
    chemistry: 'li-ion',
    ratedCapacityAh: 2.2,
    massKg: null,
    board: false,
    asNewOhm: null,
  });
  await addBatch(workshop.pool, { code: 'U1', origin: 'a shed', modelId: id, count: 2 });
  await page.goto('/intake/u1');
  await type(page, '3.71 44.1 w');
  await expect(said(page)).toContainText('Filed U1-001');
  await page.getByText('About this batch').click();
  await page.getByLabel('Maker and model').selectOption('yes');
  await page.getByLabel('Model', { exact: true }).fill('Q18-22');
  await page.getByLabel('Maker', { exact: true }).fill('Quillon');
  await page.getByRole('button', { name: 'Correct', exact: true }).click();
  await expect(page.getByText('Enter your name. It is kept with the change.').first()).toBeVisible();
  await page.getByLabel('Changed by').fill('Ada');
  await page.getByRole('button', { name: 'Correct', exact: true }).click();
  await expect(page.getByText('Quillon Q18-22').first()).toBeVisible();
  await expect(page.getByRole('list', { name: 'Corrections' })).toContainText('Ada: ');
  await page.goto('/cells/u1-001');
  await expect(page.getByText('Quillon Q18-22')).toBeVisible();
  await page.getByRole('textbox', { name: 'Note on U1-001' }).fill('From the blue crate');
  await page.getByRole('button', { name: 'Keep the note' }).click();
  await expect(page.getByRole('region', { name: 'Notes' })).toContainText('From the blue crate');
  await page.goto('/shelf');
  await type(page, '"BLUE crate"');
  await expect(page).toHaveURL(/q=%22BLUE/);
  await page.getByRole('link', { name: 'Table' }).click();
  await expect(page.getByRole('link', { name: 'U1-001' })).toBeVisible();
  await page.goto('/intake/U1');
  await page.getByText('About this batch').click();
  await page.getByRole('button', { name: 'Put away batch U1 with its cells' }).click();
  await expect(page.getByText('put away on')).toBeVisible();
  await page.goto('/shelf?view=table&q=U1');
  await expect(page.getByText('Nothing on the shelf is like that.')).toBeVisible();
  await page.goto('/intake/U1');
  await page.getByText('About this batch').click();
  await page.getByRole('button', { name: 'Take out again batch U1 with its cells' }).click();
  await expect(page.getByText('put away on')).toHaveCount(0);
  await page.goto('/shelf?view=table&q=U1');
  await expect(page.getByRole('link', { name: 'U1-001' })).toBeVisible();
});

test('a round with a slip noticed three cells later, a reload, and a second person', async ({
  page,
  workshop,
  browser,
}) => {
  await usableBox(workshop.pool, 'R1', 7);
  await page.goto('/resistance');
  await page.getByLabel('Batch').selectOption('R1');
  await page.getByLabel('Protocol').selectOption({ label: 'Full and rested: AC meter, 1 kHz' });
  await page.getByRole('button', { name: 'Begin' }).click();
  const next = page.getByRole('region', { name: 'Next cell' });
  await expect(next).toContainText('R1-001');
  for (const text of ['21.4', '27.1', '21.8', '21.6']) {
    await type(page, text);
    await expect(said(page)).toContainText(`Filed R1-00`);
  }
  await expect(next).toContainText('R1-005');
  await test.step('the second cell is gone to, corrected, and the round goes on where it was', async () => {
    await type(page, 'R1-002');
    await expect(next).toContainText('R1-002');
    await type(page, '21.7');
    await expect(said(page)).toContainText('Filed R1-002, press 2: resistance 21.7 mΩ');
    await expect(next).toContainText('R1-005');
    await type(page, '21.5');
    await expect(said(page)).toContainText('Filed R1-005');
  });
  await test.step('the slip is voided where it stands, with a reason', async () => {
    // The list follows once the hands pause.
    await expect(page.getByRole('region', { name: 'Readings' }).getByRole('row', { name: /R1-005/ })).toBeVisible();
    const slip = page.getByRole('region', { name: 'Readings' }).getByRole('row', { name: /27\.1/ });
    await slip.getByRole('button', { name: 'Void this reading of R1-002' }).click();
    await page.getByLabel('Why is this reading of R1-002 void?').fill('another cell');
    await page.getByRole('button', { name: 'Void', exact: true }).click();
    await expect(page.getByRole('row', { name: /27\.1/ })).toHaveCount(0);
  });
  await test.step('a half-typed line and the undo survive a reload and another station', async () => {
    await line(page).fill('');
    await page.keyboard.type('21.');
    await page.reload();
    await expect(line(page)).toHaveValue('21.');
    await page.keyboard.press('Alt+6');
    await expect(page).toHaveURL(/\/shelf/);
    await page.goBack();
    await expect(line(page)).toHaveValue('21.');
    await line(page).fill('');
    await expect(page.getByRole('button', { name: 'undo R1-005 21.5' })).toBeVisible();
    await page.keyboard.press('Control+z');
    await expect(said(page)).toContainText('Undone: R1-005 21.5. It stays stored, void.');
    await expect(next).toContainText('R1-005');
  });
  await test.step('a second person reads another cell; what is typed after a click elsewhere goes to the bar', async () => {
    const other = await (await browser.newContext()).newPage();
    await other.goto(page.url());
    await type(other, '/R1-005 21.9');
    await expect(said(other)).toContainText('Filed R1-005');
    await other.context().close();
    await page.reload();
    await expect(next).toContainText('R1-006');
    await page.locator('h1').click();
    await page.keyboard.type('21.2');
    await expect(line(page)).toHaveValue('21.2');
    await page.keyboard.press('Enter');
    await expect(said(page)).toContainText('Filed R1-006');
  });
  const { rows } = await workshop.pool.query(
    `select code, (figures ->> 'resistance_ohm')::double precision as resistance_ohm
     from ${filed}
     where code like 'R1-%' and kind = 'resistance' and voided_at is null
     order by code`,
  );
  expect(rows).toEqual(
    [
      ['R1-001', 0.0214],
      ['R1-002', 0.0217],
      ['R1-003', 0.0218],
      ['R1-004', 0.0216],
      ['R1-005', 0.0219],
      ['R1-006', 0.0212],
    ].map(([code, resistance_ohm]) => ({ code, resistance_ohm })),
  );
});

test('three meters that disagree: nobody can know, what is assumed of them is said, another battery, one corrected', async ({
  page,
}) => {
  await page.goto('/instruments');
  for (const code of ['MA', 'MB', 'MC', 'MD']) {
    await page.getByLabel('Code').fill(code);
    await page.getByLabel('What it is', { exact: true }).fill(`Meter ${code}`);
    await page.getByLabel('Voltage: step, mV').fill('10');
    await page.getByRole('button', { name: 'Put it on the bench' }).click();
    await expect(page.getByRole('row', { name: new RegExp(`^${code}`) })).toContainText(
      '10 mV steps, accuracy not known',
    );
    await page.reload();
  }
  await page.getByLabel('Sheet').fill('Evening');
  await page.getByLabel('Batteries').fill('half');
  await page.getByRole('button', { name: 'Open the sheet' }).click();
  await expect(page.getByText('Put the first battery on one instrument')).toBeVisible();
  await type(page, 'ma 3.8');
  await expect(said(page)).toContainText('Was it 3.80 V?');
  await page.keyboard.press('ArrowDown');
  await expect(said(page)).toContainText('Filed B1, MA: 3.80 V');
  await type(page, 'mb 3.81');
  await expect(said(page)).toContainText('Filed B1, MB');
  await type(page, 'mc 3.99');
  await expect(said(page)).toContainText('Filed B1, MC');
  await expect(page.getByText('Not known yet')).toBeVisible();
  await type(page, 'md 3.81');
  await expect(said(page)).toContainText('Filed B1, MD');
  await expect(page.getByText('Accuracy not noted MC is: ± 0.5 % ± 3 counts is assumed.')).toBeVisible();
  await type(page, 'mc 3.98');
  await expect(said(page)).toContainText('MC showed 3.99 V on B1 already. Replace it?');
  await type(page, '');
  await page.getByText('Another battery').click();
  await page.getByLabel('What it is').fill('full');
  await page.getByRole('button', { name: 'Put it on the sheet' }).click();
  await expect(line(page)).toHaveAccessibleName('Readings on B2, full');
  await page.goto('/instruments');
  await page.getByRole('link', { name: 'Correct MC' }).click();
  const correcting = page.getByRole('region', { name: 'Correct MC' });
  await correcting.getByLabel('± % of reading').first().fill('5');
  await correcting.getByLabel('Changed by').fill('Bo');
  await correcting.getByRole('button', { name: 'Correct', exact: true }).click();
  await expect(page.getByRole('row', { name: /^MC/ })).toContainText('10 mV steps, ± 5 % ± 0 counts');
});

test('the tool battery with one weak group: one hot mark, every figure with its own digits', async ({
  page,
  workshop,
}) => {
  await page.goto('/clinic');
  for (const [field, text] of Object.entries({
    Code: 'PT5',
    'What it serves': 'Hedge cutter',
    'In series': '5',
    'In parallel': '1',
    'Rated, Ah': '2.1',
  }))
    await page.getByLabel(field, { exact: true }).fill(text);
  await page.getByRole('button', { name: 'Take in' }).click();
  await expect(page.getByText('5 in series, 1 in parallel')).toBeVisible();
  await type(page, '4.12 4.05 4.13 4.10 3.61 = 19.7');
  await expect(said(page)).toContainText('Filed PT5: 5 groups, spread 520 mV, terminals 19.7 V');
  const groups = page.getByRole('region', { name: 'Groups' });
  await expect(groups.getByRole('img')).toHaveAccessibleName(
    'group 1 4.12 volts; group 2 4.05 volts, the diagnosis rests on it; group 3 4.13 volts; group 4 4.10 volts; ' +
      'group 5 3.61 volts, odd, the diagnosis rests on it',
  );
  await expect(page.getByRole('region', { name: 'Verdict' })).toContainText('Next: balance it.');
  const row = page.getByRole('region', { name: 'Rounds' }).getByRole('row').nth(1);
  await expect(row.getByText('◆')).toHaveCount(1);
  await expect(row).toContainText('4.10');
  await page.getByRole('textbox', { name: 'Note on PT5' }).fill('lid cracked');
  await page.getByRole('button', { name: 'Keep the note' }).click();
  await expect(page.getByRole('region', { name: 'Notes' })).toContainText('lid cracked');
  await page.goto('/clinic');
  await type(page, '"lid cracked"');
  await expect(page.getByRole('link', { name: 'PT5' })).toBeVisible();
  await page.goto('/clinic/pt5');
  await row.getByRole('button', { name: /^Void the round/ }).click();
  await page.getByLabel(/^Why is the round/).fill('the leads were swapped');
  await page.getByRole('button', { name: 'Void', exact: true }).click();
  await expect(page.getByText('void: the leads were swapped')).toBeVisible();
  const { rows } = await workshop.pool.query(
    `select figures -> 'step' as step
     from ${filed}
     where code = 'PT5' and kind = 'voltage'
     order by (figures ->> 'position')::int`,
  );
  expect(rows.map((row) => row.step)).toEqual([0.1, 0.01, 0.01, 0.01, 0.01, 0.01]);
});

test('a form half filled and the chosen meter are there after a reload and a visit elsewhere', async ({
  page,
  workshop,
}) => {
  await usableBox(workshop.pool, 'K1', 1);
  await workshop.pool.query(
    `insert into instrument (code, name, kind)
      values ('MK', 'Pocket meter', 'meter'); insert into instrument_range (instrument_id, quantity, resolution)
      select id, 'voltage', 0.001
      from instrument
      where code = 'MK'`,
  );
  await page.goto('/intake');
  await page.getByLabel('Maker and model').selectOption('no');
  await page.getByLabel('Size').fill('21700');
  await page.getByLabel('From where, used how').fill('A cellar');
  await page.reload();
  await expect(page.getByLabel('From where, used how')).toHaveValue('A cellar');
  await expect(page.getByLabel('Size')).toHaveValue('21700');
  await page.goto('/intake/K1');
  await page.getByLabel('Instrument for voltages').selectOption('MK');
  await page.keyboard.type('3.7');
  await expect(line(page)).toHaveValue('3.7');
  await page.goto('/shelf');
  await page.goto('/intake/K1');
  await expect(page.getByLabel('Instrument for voltages')).toHaveValue('MK');
  await line(page).fill('');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('leave this cell for later');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
});

test('sixteen rests make no screen longer, and fold', async ({ page, workshop }) => {
  const { rows } = await workshop.pool.query<{ id: number }>(
    "insert into batch (code, origin) select 'W' || n, 'a cellar' from generate_series(1, 16) n returning id",
  );
  for (const { id } of rows) await beginRest(workshop.pool, id, 'charge', 3600, new Date());
  await page.goto('/clinic/pt5');
  await page.goto('/resistance/protocols');
  const watch = page.getByRole('complementary', { name: 'Watch' });
  await expect(watch.locator('.slip')).toHaveCount(16);
  const height = () => page.evaluate(() => document.querySelector('.watch')?.getBoundingClientRect().height ?? 0);
  const work = await page.evaluate(() => document.querySelector('.work')?.getBoundingClientRect().height ?? 0);
  expect(await height()).toBeLessThanOrEqual(Math.max(800, work) + 1);
  await watch.getByRole('button', { name: '16 resting' }).click();
  await expect(watch.locator('.slip')).toHaveCount(0);
});
