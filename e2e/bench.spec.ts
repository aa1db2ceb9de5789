import { seededChance } from '../core/statistics/random';
import type { Page } from '@playwright/test';
import type { Pool } from 'pg';
import { crossCheck, instrumentOf, instruments, shownVolts } from '../demo/instruments';
import { batches, type DemoBatch } from '../demo/scenario';
import { acReading, type DemoCell, loadStepReading, trueCellsOf, withDirtyPole } from '../demo/simulate';
import { evening as test, expect, fillByKeys, loadedUnheard, said, send, tabTo, type } from './workshop';
import { filed } from '../records/filedRows';

test.use({ demo: true });

const batch = batches.find((one) => one.code === 'Q1') as DemoBatch;
const cells = trueCellsOf(batch);
const truth = instrumentOf('RM1').truth[0] ?? { offset: 0, gain: 1, noise: 0 };

/** What hands would read off the simulated instruments, as they would type it. */
const acLine = (cell: DemoCell, chance: ReturnType<typeof seededChance>) =>
  (acReading(cell, { ...truth, step: 0.0001 }, chance) * 1000).toFixed(1);
const loadLine = (cell: DemoCell, chance: ReturnType<typeof seededChance>) => {
  const { openV, loadedV, afterV, currentA } = loadStepReading(cell, batch.load, chance);
  return `${openV.toFixed(3)} ${loadedV.toFixed(3)} ${currentA?.toFixed(2)} ${afterV?.toFixed(3)}`;
};

async function latestRound(pool: Pool): Promise<string> {
  const { rows } = await pool.query<{ id: number }>('select max(id) as id from round');
  return `/resistance/${rows[0]?.id}`;
}

const beginRound = async (page: Page, protocol: string, instrument: string) => {
  await page.goto('/instruments');
  await page.keyboard.press('Alt+3');
  await expect(page).toHaveURL(/\/resistance$/);
  await page.getByLabel('Batch').focus();
  await page.keyboard.type('Q1');
  await tabTo(page, 'Protocol');
  await page.keyboard.type(protocol);
  await tabTo(page, /read with$/);
  await page.keyboard.type(instrument);
  await fillByKeys(page, { 'Bench temperature, °C': '21' });
  await tabTo(page, 'Begin');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/resistance\/\d+$/);
  return Number(page.url().split('/').at(-1));
};

/**
 * Instruments compared with each other, the bad channel corrected, a batch by two methods: by keyboard, faults hidden
 * in the simulation.
 */
test.describe.serial('from instruments that disagree to resistances that compare', () => {
  test('a new sheet for all instruments', async ({ page }) => {
    await page.goto('/intake');
    await page.keyboard.press('Alt+2');
    await expect(page).toHaveURL(/\/instruments$/);
    await fillByKeys(page, { Sheet: 'Again, with fresh batteries', Batteries: 'low, half, full' });
    await tabTo(page, 'Open the sheet');
    await page.keyboard.press('Enter');
    await expect(page).toHaveURL(/\/instruments\/check\/2$/);
    await expect(page.getByText('Put the first battery on one instrument')).toBeVisible();
  });

  test('two checkers, a meter and a charger on three batteries; the channel that stands alone is named', async ({
    page,
  }) => {
    await page.goto('/instruments/check/2');
    const chance = seededChance(81);
    for (const [i, [, trueV]] of crossCheck.batteries.entries()) {
      if (i > 0) {
        await type(page, `B${i + 1}`);
        await expect(page.locator('footer.bar input')).toHaveAccessibleName(new RegExp(`Readings on B${i + 1}`));
      }
      for (const instrument of instruments.filter((one) => one.ranges.voltage)) {
        await type(
          page,
          `${instrument.code} ${shownVolts(instrument, trueV, chance)
            .map((volts) => volts.toFixed(3))
            .join(' ')}`,
        );
        await expect(said(page)).toContainText(`Filed B${i + 1}, ${instrument.code}`);
      }
    }
    const finding = page.getByRole('region', { name: 'Finding' });
    await expect(finding).toContainText('CH1.3');
    await expect(finding).toContainText(/reads 7[0-3] ± \d mV low: it fills a 4\.2 V cell to 4\.27/);
    await expect(finding.locator('.code')).toHaveCount(1);
    await expect(page.getByRole('region', { name: 'Differences' }).locator('tr.odd-one')).toHaveCount(1);
  });

  test('the channel is corrected, and then agrees', async ({ page }) => {
    await page.goto('/instruments/check/2');
    await tabTo(page, 'Correct CH1.3 by an offset');
    await page.keyboard.press('Enter');
    await expect(page.getByText('It is corrected from now on')).toBeVisible();
    const chance = seededChance(82);
    for (const [i, [, trueV]] of crossCheck.batteries.entries()) {
      await type(
        page,
        `B${i + 1} CH1 ${shownVolts(instrumentOf('CH1'), trueV, chance)
          .map((volts) => volts.toFixed(3))
          .join(' ')}`,
      );
      await expect(said(page)).toContainText(`Filed B${i + 1}, CH1`);
    }
    await expect(page.getByText('All agree within their uncertainty')).toBeVisible();
    await page.goto('/instruments');
    await expect(page.getByText('uncorrected it fills a 4.2 V cell to 4.27')).toBeVisible();
    await expect(page.getByRole('link', { name: /^0\s*Instruments/ })).toBeVisible();
  });

  test('forty cells at 1 kHz, the last ten sent by a script', async ({ page, request }) => {
    const round = await beginRound(page, 'Full', 'RM1');
    const chance = seededChance(83);
    for (const cell of cells.slice(0, 30)) {
      await expect(page.getByRole('region', { name: 'Next cell' })).toContainText(cell.code);
      await type(page, acLine(cell, chance));
      await expect(said(page)).toContainText(`Filed ${cell.code}: resistance`);
    }
    await send(
      request,
      cells.slice(30).map((cell) => `${cell.code} ${acLine(cell, chance)}`),
      { round },
    );
    // A page that names the next cell stays as it is while others file.
    await page.reload();
    await expect(page.getByText('All 40 cells are measured')).toBeVisible();
  });

  test('the same forty with a load, the others sent by a script once the bad contact is found', async ({
    page,
    request,
  }) => {
    const round = await beginRound(page, 'At storage', 'DM1');
    const chance = seededChance(84);
    const bad = cells.findIndex((cell) => cell.quirk.contactOhm !== undefined);
    for (const cell of cells.slice(0, bad + 1)) {
      await type(page, loadLine(withDirtyPole(cell), chance));
      await expect(said(page)).toContainText(`Filed ${cell.code}: open`);
    }
    await expect(page.locator('.tag.hot')).toContainText('odd one');
    await type(page, `${cells[bad]?.code} ${loadLine(cells[bad] as DemoCell, chance)}`);
    await expect(page.getByText('measure again: a contact changes')).toBeVisible();
    await expect(page.getByRole('region', { name: 'Last figure' })).toContainText('Pressed 2 times');
    await send(
      request,
      cells.slice(bad + 1).map((cell) => `${cell.code} ${loadLine(cell, chance)}`),
      { round },
    );
    // A page that names the next cell stays as it is while others file.
    await page.reload();
    await expect(page.getByText('All 40 cells are measured')).toBeVisible();
  });

  test('the odd ones and the bad contact are found', async ({ page, workshop }) => {
    await page.goto(await latestRound(workshop.pool));
    await expect(page.getByText('All 40 cells are measured')).toBeVisible();
    const odd = page.locator('tr', { hasText: '◆ odd one' });
    await expect(odd.filter({ hasText: 'Q1-006' })).toHaveCount(1);
    await expect(odd.filter({ hasText: 'Q1-023' })).toHaveCount(1);
    await expect(odd.filter({ hasText: 'Q1-031' })).toHaveCount(1);
    const contact = page.locator('tr', { hasText: 'presses differ: a contact' });
    await expect(contact).toHaveCount(2);
    await expect(contact.first()).toContainText('Q1-017');
    await expect(page.getByText('odd one', { exact: false }).filter({ hasText: 'Q1-017' })).toHaveCount(0);
  });

  test('the two methods are compared with each other, and the ratio is usual', async ({ page, workshop }) => {
    await page.goto(await latestRound(workshop.pool));
    await tabTo(page, 'Compare');
    await page.keyboard.press('Enter');
    await expect(page).toHaveURL(/\/resistance\/compare/);
    await expect(page.getByText('That is usual.')).toBeVisible();
    await expect(page.getByText('Quillon Q18-25: ')).toBeVisible();
    await expect(page.getByText('On 40 of them')).toBeVisible();
    await expect(page.getByText('At 1 kHz only the ohmic part answers')).toBeVisible();
    await expect(page.locator('.recharts-scatter-symbol').first()).toBeVisible();
    await page.getByLabel('Of', { exact: true }).selectOption('every model');
    await expect(page.getByText('On 100 of them')).toBeVisible();
    await page.getByLabel('Of', { exact: true }).selectOption('Marrowby M18-29');
    await expect(page.getByText('On 60 of them')).toBeVisible();
    const { rows } = await workshop.pool.query(
      `select count(*)::int as n
       from entry join entry_subject on entry_id = entry.id
       join round using (occasion_id)
       join batch on batch.id = round.batch_id
       where batch.code = 'Q1'`,
    );
    expect(rows).toEqual([{ n: 81 }]);
  });
});

test.describe('the reading bar', () => {
  test('correction of the last entry, undo and redo', async ({ page, workshop }) => {
    await page.goto('/resistance/1');
    await type(page, 'S1-002 3.780 3.710');
    await expect(said(page)).toContainText('Filed S1-002');
    await page.keyboard.press('ArrowUp');
    await expect(page.locator('footer.bar input')).toHaveValue('S1-002 3.780 3.710');
    await page.keyboard.press('Backspace');
    await page.keyboard.press('Backspace');
    await page.keyboard.type('20');
    await expect(said(page)).toContainText('Instead of the last entry: S1-002, press 2: open 3.780 V, loaded 3.720 V');
    await page.keyboard.press('Enter');
    await expect(said(page)).toContainText('Filed S1-002, press 2: open 3.780 V, loaded 3.720 V');
    const standing = async () =>
      (
        await workshop.pool.query(
          `select figures -> 'loaded_v' as loaded_v, void_reason
           from ${filed}
           where code = 'S1-002' and kind = 'load-step' and figures -> 'open_v' = '3.78'
           order by id`,
        )
      ).rows;
    await expect.poll(standing).toEqual([
      { loaded_v: 3.71, void_reason: 'corrected at entry' },
      { loaded_v: 3.72, void_reason: null },
    ]);
    await page.keyboard.press('Control+z');
    await expect(said(page)).toContainText('Undone');
    await page.keyboard.press('Control+y');
    await expect(said(page)).toContainText('Filed again');
    expect((await standing()).map((row) => row.void_reason)).toEqual(['corrected at entry', 'undone at entry', null]);
    await page.keyboard.press('Control+z');
    await expect(said(page)).toContainText('Undone');
  });

  test('its answer can be heard, and differs; off until someone turns it on', async ({ page }) => {
    await page.goto('/resistance/1');
    const signal = () => page.evaluate(() => document.documentElement.dataset.signal);
    await expect(page.getByRole('button', { name: 'Sound' })).toHaveAttribute('aria-pressed', 'false');
    await page.keyboard.press('Alt+s');
    await expect(page.getByRole('button', { name: 'Sound' })).toHaveAttribute('aria-pressed', 'true');
    await type(page, 'S1-003 3.78');
    await expect.poll(signal).toBe('look');
    await type(page, 'S1-003 3.71 3.78');
    await expect.poll(signal).toBe('odd');
    await type(page, 'S1-003 3.780 3.733');
    await expect(said(page)).toContainText('Filed S1-003');
    await expect.poll(signal).toBe('filed');
  });

  test('without a connection entries are kept in order, filed each once when it is back, also after a reload', async ({
    page,
    workshop,
  }) => {
    await page.goto('/intake/H2');
    const first = await page.locator('.code').textContent();
    workshop.cut();
    await type(page, '3.7013 46.9 ok');
    await expect(said(page)).toContainText('is kept in this browser');
    await type(page, '3.7014 46.8 ok');
    await expect(page.getByLabel('Kept in this browser')).toContainText('2 not filed yet');
    const stored = async () =>
      (
        await workshop.pool.query(
          `select code, (figures ->> 'voltage_v')::double precision as voltage_v
           from ${filed}
           where figures ->> 'voltage_v' in ('3.7013', '3.7014') and code like 'H2-%'
           order by id`,
        )
      ).rows;
    expect(await stored()).toEqual([]);
    workshop.mend();
    await expect.poll(async () => (await stored()).length).toBe(2);
    const rows = await stored();
    expect(rows[0].code).toBe(first);
    expect(rows.map((row) => row.voltage_v)).toEqual([3.7013, 3.7014]);
    expect(rows[1].code).not.toBe(first);
    await expect(page.getByLabel('Kept in this browser')).toHaveCount(0);
    await page.reload();
    expect(await stored()).toHaveLength(2);
  });

  test('a line that waits for the connection is filed as it was read, whatever is chosen beside the bar by then', async ({
    page,
    workshop,
  }) => {
    const letHear = await loadedUnheard(page, `${workshop.url}/clinic/PL1`);
    await page.getByLabel('The next reading is').selectOption('under load');
    workshop.cut();
    await type(page, '4.0107 4.0098');
    await expect(said(page)).toContainText('is kept in this browser');
    await page.getByLabel('The next reading is').selectOption('at rest');
    workshop.mend();
    letHear();
    const stored = async () =>
      (await workshop.pool.query(`select state from ${filed} where figures ->> 'voltage_v' = '4.0107'`)).rows;
    await expect.poll(stored).toEqual([{ state: 'load' }]);
  });

  test('a correction without a connection waits with the entry it stands for, which is not corrected twice', async ({
    page,
    workshop,
  }) => {
    const letHear = await loadedUnheard(page, `${workshop.url}/clinic/PL1`);
    await type(page, '4.0211 4.0205');
    await expect(said(page)).toContainText('Filed PL1');
    await expect(page.getByRole('region', { name: 'Rounds' })).toContainText('4.0205');
    workshop.cut();
    await page.keyboard.press('ArrowUp');
    await expect(page.locator('footer.bar input')).toHaveValue('PL1 4.0211 4.0205');
    await page.keyboard.press('Backspace');
    await page.keyboard.type('6');
    await page.keyboard.press('Enter');
    await expect(page.getByLabel('Kept in this browser')).toContainText('1 not filed yet');
    await expect(page.locator('footer.bar input')).toHaveValue('');
    await page.keyboard.press('ArrowUp');
    await expect(page.locator('footer.bar input')).toHaveValue('');
    workshop.mend();
    letHear();
    await expect(page.getByLabel('Kept in this browser')).toHaveCount(0);
    const { rows } = await workshop.pool.query(
      `select figures -> 'voltage_v' as v, void_reason
       from ${filed}
       where code = 'PL1' and figures ->> 'voltage_v' in ('4.0205', '4.0206')
       order by id`,
    );
    expect(rows).toEqual([
      { v: 4.0205, void_reason: 'corrected at entry' },
      { v: 4.0206, void_reason: null },
    ]);
  });

  test('several values at once, for a pack that is not the one shown', async ({ page }) => {
    await page.goto('/clinic');
    await type(page, 'PL1 4.14 4,13 = 8.27');
    await expect(said(page)).toContainText('Filed PL1: 2 groups, spread 10 mV');
    await page.goto('/clinic/PL1');
    await expect(page.getByText('4.14', { exact: true }).first()).toBeVisible();
  });
});

test.describe('what goes wrong at the bench', () => {
  test('a cell that is out, or in a build, is refused with the way on', async ({ page }) => {
    await page.goto('/resistance/1');
    await type(page, 'S1-007 3.78 3.71');
    await expect(said(page)).toContainText('S1-007 is scrapped');
    await page.goto('/builds/1');
    const code =
      (
        await page
          .getByRole('region', { name: 'Groups' })
          .getByText(/H1-\d{3}/)
          .first()
          .textContent()
      )?.split(/\s+/)[0] ?? '';
    await page.goto('/resistance/2');
    await type(page, `${code} 3.78 3.71 1.6`);
    await expect(said(page)).toContainText(`${code} is in build 1: free it there`);
  });

  test('two browsers file into one round: the second is asked, and nothing is lost', async ({
    page,
    context,
    workshop,
  }) => {
    await page.goto('/resistance/1');
    const other = await context.newPage();
    await other.goto('/resistance/1');
    await type(other, 'S1-005 3.780 3.735');
    await expect(said(other)).toContainText('Filed S1-005');
    await type(page, 'S1-005 3.780 3.736');
    await expect(said(page)).toContainText('was measured from another screen just now');
    await page.keyboard.press('Enter');
    await expect(said(page)).toContainText('Filed S1-005');
    const { rows } = await workshop.pool.query(
      `select count(*)::int as n
       from ${filed}
       where code = 'S1-005' and kind = 'load-step' and figures -> 'open_v' = '3.78' and voided_at is null`,
    );
    expect(rows).toEqual([{ n: 2 }]);
  });

  test('an instrument put away in the middle of a round: the round goes on, and says so', async ({ page }) => {
    await page.goto('/instruments');
    await page.getByRole('button', { name: 'Put away DM1' }).click();
    await expect(page.getByRole('button', { name: 'Take out again DM1' })).toBeVisible();
    await page.goto('/resistance/2');
    await expect(page.getByText('DM1 (put away since)')).toBeVisible();
    await type(page, 'H1-020 3.705 3.632 1.62 3.701');
    await expect(said(page)).toContainText('Filed H1-020');
    await page.goto('/instruments');
    await page.getByRole('button', { name: 'Take out again DM1' }).click();
    await expect(page.getByRole('button', { name: 'Put away DM1' })).toBeVisible();
  });

  test('a resistance below zero is asked about, kept when confirmed, and gives no figure', async ({ page }) => {
    await page.goto('/resistance/3');
    await type(page, 'H1-021 -0.4');
    await expect(said(page)).toContainText('above zero');
    await page.keyboard.press('Enter');
    await expect(said(page)).toContainText('Filed H1-021');
    await expect(page.getByText('These readings give no resistance')).toBeVisible();
    await page.keyboard.press('Control+z');
    await expect(said(page)).toContainText('Undone');
  });

  test('a correction that would make things worse is refused with the reason; one is withdrawn with one act', async ({
    page,
  }) => {
    await page.goto('/instruments');
    await fillByKeys(page, { Sheet: 'One level only', Batteries: 'half' });
    await page.keyboard.press('Enter');
    await expect(page).toHaveURL(/\/instruments\/check\/\d+$/);
    await type(page, 'DM1 3.700');
    await type(page, 'CK1 3.701 3.700 3.702 3.699');
    await type(page, 'CK2 3.698 3.701 3.702 3.667');
    await expect(page.getByRole('region', { name: 'Finding' })).toContainText('CK2.4');
    await page.getByRole('button', { name: 'by offset and gain' }).click();
    await expect(page.getByText('A gain needs at least two levels')).toBeVisible();
    await page.getByRole('button', { name: 'Correct CK2.4 by an offset' }).click();
    await expect(page.getByText('It is corrected from now on')).toBeVisible();
    await page.goto('/instruments');
    await page.getByRole('button', { name: 'Withdraw the calibration of CK2.4' }).click();
    await expect(page.getByText('withdrawn at the bench')).toBeVisible();
    // Or the device itself is set: what it showed stays on file.
    await page.getByRole('link', { name: 'One level only' }).click();
    await expect(page.getByText(/set CK2\.4 to show 3\.70\d V \(it showed 3\.667 V\)/)).toBeVisible();
    await page.getByRole('button', { name: 'Mark as adjusted' }).click();
    await expect(page.getByText('It is corrected from now on')).toBeVisible();
    await page.goto('/instruments');
    await expect(page.getByText(/device adjusted, 3\.667 V to 3\.70\d V/)).toBeVisible();
    await page.getByRole('button', { name: 'Withdraw the calibration of CK2.4' }).click();
  });

  test('two instruments that disagree: nobody can know, and what would help', async ({ page }) => {
    await page.goto('/instruments');
    await fillByKeys(page, { Sheet: 'Two tools', Batteries: 'half' });
    await page.keyboard.press('Enter');
    await expect(page).toHaveURL(/\/instruments\/check\/\d+$/);
    await type(page, 'DM1 3.700');
    await type(page, 'CK1.1 3.760');
    await expect(page.getByText('Not known yet')).toBeVisible();
    await expect(page.getByText('Add a third independent instrument')).toBeVisible();
  });

  test('a meter with two ranges: each digit has its own accuracy', async ({ page }) => {
    await page.goto('/instruments?edit=DM1');
    const form = page.getByRole('region', { name: 'Correct DM1' });
    await form.getByLabel('Voltage: step, mV').fill('1 10');
    await form.getByLabel('± % of reading').first().fill('0.5 -1');
    await form.getByLabel('Changed by').fill('Ada');
    await form.getByRole('button', { name: 'Correct' }).click();
    await expect(form.getByText('Voltage, accuracy: expected per cent from 0 to below 100.').first()).toBeVisible();
    await form.getByLabel('± % of reading').first().fill('0.5 0.8');
    await form.getByRole('button', { name: 'Correct' }).click();
    await expect(page.getByRole('region', { name: 'On the bench' })).toContainText('10 mV steps, ± 0.8 %');
  });
});

test('steps in a log show the resistance at four times, and one is filed for its cell; a log without any says so', async ({
  page,
  workshop,
}) => {
  const { rows } = await workshop.pool.query(
    `select run.id, subject.code
     from run join entry_subject using (entry_id) join subject on subject.id = subject_id
     where file_name like '%pulses%'
     order by run.id
     limit 1`,
  );
  await page.goto(`/capacity/${rows[0].id}`);
  const steps = page.getByRole('region', { name: 'Load steps' });
  await expect(steps.locator('tbody tr')).toHaveCount(10);
  await expect(steps.locator('tbody tr').first()).toContainText('at once');
  await steps.getByRole('button', { name: 'File the step at 30 s' }).click();
  await expect(steps.getByText('filed', { exact: true })).toBeVisible();
  await page.goto(`/cells/${rows[0].code}?amps=3`);
  await expect(page.getByRole('region', { name: 'Its resistance over time' })).toContainText('Steps in logs');
  await expect(page.getByRole('region', { name: 'In use' })).toContainText('at 3 A it sags');
  await page.goto('/capacity/60');
  await expect(page.getByText('No step of the load in this log')).toBeVisible();
});
