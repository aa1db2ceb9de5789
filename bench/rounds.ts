import { chromium } from '@playwright/test';
import type { Pool } from 'pg';
import type { BenchServer } from './server';
import { type BenchRow, middle, seconds } from './table';

const cells = 500;
const entries = 40;

/** Measured within the page: from the key to the moment at which another cell is asked for and the line is empty. A text, so that nothing is compiled into it. */
const enterToPrompt = `new Promise((resolve) => {
  const prompt = () => document.querySelector('[aria-label="Next cell"] .num')?.textContent ?? '';
  const input = document.querySelector('footer.bar input');
  const before = prompt();
  const observer = new MutationObserver(() => {
    if (prompt() === before || input.value !== '') return;
    observer.disconnect();
    resolve(performance.now() - began);
  });
  observer.observe(document.body, { subtree: true, childList: true, characterData: true, attributes: true });
  const began = performance.now();
  input.form.requestSubmit();
})`;

/** A batch of 500 usable cells, 460 of them read already in an open round at 1 kHz. */
async function openLongRound(pool: Pool): Promise<number> {
  await pool.query(`
    with batch as (insert into batch (code, origin) values ('Y1', 'benchmark') returning id)
    insert into cell (code, batch_id, model_id, place) select 'Y1-' || lpad(n::text, 3, '0'), batch.id, (select min(id) from cell_model), n from batch, generate_series(1, ${cells}) n`);
  const own = "from cell join batch on batch.id = cell.batch_id where batch.code = 'Y1'";
  await pool.query(`insert into reading (entry, cell_id, kind, voltage_v, step) select gen_random_uuid(), cell.id, 'voltage', 3.7, 0.001 ${own}`);
  await pool.query(`insert into reading (entry, cell_id, kind, mass_kg, step) select gen_random_uuid(), cell.id, 'mass', 0.045, 0.0001 ${own}`);
  await pool.query(`insert into reading (entry, cell_id, kind, findings) select gen_random_uuid(), cell.id, 'inspection', '{}' ${own}`);
  const { rows } = await pool.query<{ id: number }>("insert into round (batch_id, protocol_id, method) select batch.id, protocol.id, 'ac-meter' from batch, protocol where batch.code = 'Y1' and protocol.method = 'ac-meter' order by protocol.id limit 1 returning id");
  const id = rows[0]?.id as number;
  await pool.query(`insert into reading (entry, cell_id, kind, round_id, resistance_ohm, step) select gen_random_uuid(), cell.id, 'resistance', ${id}, 0.02 + (cell.place % 50) / 10000.0, 0.0001 ${own} and cell.place <= ${cells - entries - 5}`);
  await pool.query('analyze');
  return id;
}

/** From Enter to the next prompt in a round of 500 cells, in the browser, against an insert of the same row alone. */
export async function benchRounds(server: BenchServer, pool: Pool): Promise<BenchRow[]> {
  const id = await openLongRound(pool);
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--no-first-run'] });
  try {
    const page = await browser.newPage();
    await page.goto(`${server.url}/resistance/${id}`);
    await page.waitForLoadState('networkidle');
    const times: number[] = [];
    for (let n = 0; n < entries; n++) {
      await page.locator('footer.bar input').fill((20 + (n % 40) / 10).toFixed(1));
      times.push(await page.evaluate<number>(enterToPrompt));
      await page.waitForLoadState('networkidle');
    }
    const cell = (await pool.query<{ id: number }>("select cell.id from cell where code = 'Y1-500'")).rows[0]?.id as number;
    const inserts: number[] = [];
    for (let n = 0; n < entries; n++) {
      const began = performance.now();
      await pool.query("insert into reading (entry, cell_id, kind, round_id, resistance_ohm, step) values (gen_random_uuid(), $1, 'resistance', $2, 0.02, 0.0001)", [cell, id]);
      inserts.push(performance.now() - began);
    }
    const sorted = [...times].sort((a, b) => a - b);
    const slow = sorted[Math.floor(0.95 * sorted.length)] ?? NaN;
    return [
      { what: `Enter to the next prompt, round of ${cells} cells among 10 500 (middle; limit 50 ms)`, ours: seconds(middle(times)), reference: `insert alone ${seconds(middle(inserts))}`, ratio: (middle(times) / 50).toFixed(2) },
      { what: 'the same, 95 of 100 are quicker', ours: seconds(slow), reference: 'limit 50 ms', ratio: (slow / 50).toFixed(2) },
    ];
  } finally {
    await browser.close();
  }
}
