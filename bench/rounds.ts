import { launchOptions } from '@/e2e/browser';
import { chromium } from '@playwright/test';
import type { Pool } from 'pg';
import type { Served } from '@/e2e/server';
import { type BenchRow, medianOf, seconds } from './table';
import { fileMany } from '@/records/manyEntries';

const cells = 500;
/** Lines typed at each of two paces. */
const entries = 100;

/**
 * Measured within the page: from the key to the moment at which another cell is asked for and the line is empty. A
 * text, so that nothing is compiled into it.
 */
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

/** What a page pays for any answer of the server with one query behind it. */
const roundTrip = `(async () => {
  const began = performance.now();
  await (await fetch('/api/v1/health')).json();
  return performance.now() - began;
})()`;

/** A batch of 500 usable cells, most of them read already in an open round at 1 kHz. */
async function openLongRound(pool: Pool): Promise<number> {
  await pool.query(`
    with batch as (insert into batch (code, origin) values ('Y1', 'benchmark') returning id)
    insert into subject (code, batch_id, model_id, place)
    select 'Y1-' || lpad(n::text, 3, '0'), batch.id, (select min(id) from cell_model), n
    from batch, generate_series(1, ${cells}) n`);
  const from = "from subject join batch on batch.id = subject.batch_id where batch.code = 'Y1'";
  await fileMany(pool, { from, into: 'voltage', values: { voltage_v: 3.7, step: 0.001 } });
  await fileMany(pool, { from, into: 'mass', values: { mass_kg: 0.045, step: 0.0001 } });
  await fileMany(pool, { from, into: 'inspection', values: { findings: "'{}'::text[]" } });
  const { rows } = await pool.query<{ id: number; occasionId: number }>(
    `with opened as (insert into occasion (kind) values ('round') returning id)
     insert into round (batch_id, protocol_id, method, occasion_id)
     select batch.id, protocol.id, 'ac-meter', opened.id
     from opened, batch, protocol
     where batch.code = 'Y1' and protocol.method = 'ac-meter'
     order by protocol.id
     limit 1
     returning id, occasion_id as "occasionId"`,
  );
  const { id, occasionId } = rows[0] as { id: number; occasionId: number };
  await fileMany(pool, {
    from: `${from} and subject.place <= ${cells - 2 * entries - 5}`,
    into: 'resistance',
    values: { resistance_ohm: '0.02 + (subject.place % 50) / 10000.0', step: 0.0001 },
    occasion: `${occasionId}`,
  });
  // No round begins in the second after 10 000 cells came: what the database still does about those is done first.
  await pool.query('vacuum analyze');
  await pool.query('checkpoint');
  return id;
}

/**
 * From Enter to the next prompt in a round of 500 cells, in the browser, against a bare health check from the same page
 * at rest.
 */
export async function benchRounds(server: Served, pool: Pool): Promise<BenchRow[]> {
  const id = await openLongRound(pool);
  const browser = await chromium.launch(launchOptions);
  try {
    const page = await browser.newPage();
    const ready = page.waitForResponse(/\/readings$/);
    await page.goto(`${server.url}/resistance/${id}`);
    await ready;
    const pressEnter = async (n: number): Promise<number> => {
      await page.locator('footer.bar input').fill((20 + (n % 40) / 10).toFixed(1));
      return page.evaluate<number>(enterToPrompt);
    };
    const paced: number[] = [];
    const quick: number[] = [];
    const trips: number[] = [];
    for (let n = 0; n < entries; n++) {
      paced.push(await pressEnter(n));
      // A person's pace: the rest of the screen has followed, and the browser is idle, before the next line is typed.
      await page.getByText(`${cells - 2 * entries - 5 + n + 1} of ${cells} done`).waitFor();
      await page.evaluate('new Promise((resolve) => requestIdleCallback(resolve))');
      trips.push(await page.evaluate<number>(roundTrip));
    }
    for (let n = 0; n < entries; n++) quick.push(await pressEnter(n));
    const slow = (times: readonly number[]): number =>
      [...times].sort((a, b) => a - b)[Math.floor(0.95 * times.length)] ?? NaN;
    const row = (what: string, times: readonly number[], of: (times: readonly number[]) => number): BenchRow => ({
      what,
      ours: seconds(of(times)),
      reference: `health check from that page ${seconds(of(trips))}`,
      ratio: (of(times) / of(trips)).toFixed(1),
    });
    return [
      row(
        `Enter to the next prompt, round of ${cells} cells among 10 500, at a person's pace (middle; limit 50 ms)`,
        paced,
        medianOf,
      ),
      row('the same, 95 of 100 are quicker', paced, slow),
      row('the same, one line upon the other (middle)', quick, medianOf),
      row('the same, 95 of 100 are quicker', quick, slow),
    ];
  } finally {
    await browser.close();
  }
}
