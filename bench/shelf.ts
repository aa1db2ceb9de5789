import { dischargeArithmetic } from '@/core/capacity/discharge';
import { plainDischarge } from '@/core/capacity/plainDischarge';
import type { Pool } from 'pg';
import type { Served } from '@/e2e/server';
import { type BenchRow, medianOf, seconds } from './table';
import { fileMany } from '@/records/manyEntries';

const shelfCells = 10_000;
const repeats = 9;

const batchSize = 500;

/** What each of these runs came to. */
const discharge = plainDischarge();

/**
 * Adds cells until there are this many, in batches of 500, each read, measured in a round of its batch, and discharged.
 */
export async function fillShelf(pool: Pool, cells = shelfCells): Promise<string> {
  await pool.query(
    `insert into cell_model (maker, name, chemistry, rated_capacity_ah, mass_kg)
      values ('Bench', 'B18', 'li-ion', 2.5, 0.045)
      on conflict do nothing`,
  );
  const { rows } = await pool.query<{ there: number; last: number }>(
    "select count(*) filter (where kind = 'cell') as there, coalesce(max(id), 0) as last from subject",
  );
  const [there, last] = [rows[0]?.there ?? 0, rows[0]?.last ?? 0];
  await pool.query(
    `with added as (
       insert into batch (code, origin)
       select 'Z' || lpad(n::text, 4, '0'), 'benchmark'
       from generate_series($1::int, $2::int) n
       returning id, code)
     insert into subject (code, batch_id, model_id, place)
       select added.code || '-' || lpad(n::text, 3, '0'), added.id, (select min(id) from cell_model), n
       from added, generate_series(1, ${batchSize}) n`,
    [there / batchSize + 1, cells / batchSize],
  );
  const from = `from subject where id > ${last}`;
  await pool.query(`
    with given as (select distinct batch_id ${from}),
    numbered as (select batch_id, row_number() over (order by batch_id) as n from given),
    opened as (insert into occasion (kind) select 'round' from given returning id),
    placed as (select id, row_number() over (order by id) as n from opened)
    insert into round (batch_id, protocol_id, method, load_resistance_ohm, load_tolerance, occasion_id)
    select batch_id, (select min(id) from protocol where method = 'resistor'), 'resistor', 2, 0.01, placed.id
    from numbered join placed using (n)`);
  await fileMany(pool, {
    from,
    into: 'voltage',
    values: { voltage_v: '3.6 + (subject.id % 40) / 1000.0', step: 0.001 },
  });
  await fileMany(pool, { from, into: 'mass', values: { mass_kg: 0.045, step: 0.0001 } });
  await fileMany(pool, { from, into: 'inspection', values: { findings: "'{}'::text[]" } });
  await fileMany(pool, {
    from,
    into: 'load_step',
    values: { open_v: 3.7, loaded_v: '3.62 + (subject.id % 50) / 1000.0', step: 0.001 },
    occasion: 'select min(occasion_id) from round where round.batch_id = subject.batch_id',
  });
  await fileMany(pool, {
    from,
    into: 'run',
    values: {
      file_name: "'bench.csv'",
      content_sha256: 'sha256(subject.id::text::bytea)',
      ended_at: "now() - interval '9 days' - subject.id * interval '1 second'",
    },
  });
  await pool.query(`
    with laid_out as (
      insert into run_layout (run_id, load_kind, load_current_a, voltage_step_v, samples, columns, notices)
      select run.id, 'current', 1, 0.001, 2, '[]', '[]'
      from run join entry_subject using (entry_id)
      where subject_id > ${last}
      returning id)
    insert into run_result (layout_id, cutoff_v, arithmetic, capacity_ah, capacity_u, result)
    select id, 2.8, ${dischargeArithmetic}, 1.6 + (id % 900) / 1000.0,
      0.013, '${JSON.stringify(discharge)}'
    from laid_out`);
  await pool.query('vacuum analyze');
  return 'Z0001-001';
}

/** Server time of the shelf with 10 000 cells, judged for the first time and judged already, beside a health check. */
export async function benchShelf(server: Served, pool: Pool): Promise<BenchRow[]> {
  const time = async (path: string, before?: () => Promise<unknown>): Promise<number> => {
    const times: number[] = [];
    for (let n = 0; n < repeats; n++) {
      await before?.();
      const began = performance.now();
      const answer = await fetch(server.url + path);
      await answer.text();
      if (!answer.ok) throw new Error(`${path} answered ${answer.status}`);
      times.push(performance.now() - began);
    }
    return medianOf(times);
  };
  const fileReading = () =>
    fileMany(pool, { from: 'from subject where id = 1', into: 'voltage', values: { voltage_v: 3.65, step: 0.001 } });
  const changeRules = () => pool.query("insert into house_rules (name, limits) values ('Bench', '{}')");
  const query = await time('/api/v1/health');
  const rows: [string, number][] = [
    [
      'shelf table, under other house rules (10 000 cells judged again)',
      await time('/shelf?view=table&sort=capacity', changeRules),
    ],
    ['shelf table, after a reading', await time('/shelf?view=table&sort=capacity', fileReading)],
    ['shelf table, unchanged', await time('/shelf?view=table&sort=capacity')],
    ['shelf table, filtered', await time('/shelf?view=table&q=steady+%3E+2+Ah')],
    ['shelf map', await time('/shelf?view=map')],
    ['shelf tray', await time('/shelf?view=tray')],
  ];
  return rows.map(([what, ms]) => ({
    what,
    ours: seconds(ms),
    reference: `health check ${seconds(query)}`,
    ratio: (ms / query).toFixed(0),
  }));
}
