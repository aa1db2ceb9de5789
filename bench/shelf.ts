import { dischargeArithmetic } from '@/core/capacity/discharge';
import type { Pool } from 'pg';
import type { BenchServer } from './server';
import { type BenchRow, middle, seconds } from './table';

const shelfCells = 10_000;
const repeats = 9;

const batchSize = 500;

/**
 * Adds cells until there are so many, in batches of 500, each read, measured in a round of its batch, and discharged.
 */
export async function fillShelf(pool: Pool, cells = shelfCells): Promise<string> {
  await pool.query(
    `insert into cell_model (maker, name, chemistry, rated_capacity_ah, mass_kg)
      values ('Bench', 'B18', 'li-ion', 2.5, 0.045)
      on conflict do nothing`,
  );
  const { rows } = await pool.query<{ there: number; last: number }>(
    'select (select count(*) from cell) as there, (select coalesce(max(id), 0) from cell) as last',
  );
  const [there, last] = [rows[0]?.there ?? 0, rows[0]?.last ?? 0];
  await pool.query(
    `with added as (
       insert into batch (code, origin)
       select 'Z' || lpad(n::text, 4, '0'), 'benchmark'
       from generate_series($1::int, $2::int) n
       returning id, code)
     insert into cell (code, batch_id, model_id, place)
       select added.code || '-' || lpad(n::text, 3, '0'), added.id, (select min(id) from cell_model), n
       from added, generate_series(1, ${batchSize}) n`,
    [there / batchSize + 1, cells / batchSize],
  );
  const own = `from cell where id > ${last}`;
  await pool.query(`insert into round (batch_id, protocol_id, method, load_resistance_ohm, load_tolerance)
    select distinct batch_id, (select min(id) from protocol where method = 'resistor'), 'resistor', 2, 0.01 ${own}`);
  await pool.query(
    `insert into reading (entry, cell_id, kind, voltage_v, step)
      select gen_random_uuid(), id, 'voltage', 3.6 + (id % 40) / 1000.0, 0.001 ${own}`,
  );
  await pool.query(
    `insert into reading (entry, cell_id, kind, mass_kg, step)
      select gen_random_uuid(), id, 'mass', 0.045, 0.0001 ${own}`,
  );
  await pool.query(
    `insert into reading (entry, cell_id, kind, findings) select gen_random_uuid(), id, 'inspection', '{}' ${own}`,
  );
  await pool.query(`insert into reading (entry, cell_id, kind, round_id, open_v, loaded_v, step)
    select gen_random_uuid(), id, 'load-step', (select min(round.id) from round
      where round.batch_id = cell.batch_id), 3.7, 3.62 + (id % 50) / 1000.0, 0.001 ${own}`);
  await pool.query(`insert into run (cell_id, file_name, content_sha256, load_kind, load_current_a, voltage_step_v,
      samples, columns, notices, ended_at)
    select id, 'bench.csv', sha256(id::text::bytea), 'current', 1, 0.001, 2, '[]', '[]',
      now() - interval '9 days' - id * interval '1 second' ${own}`);
  await pool.query(`insert into run_result (run_id, cutoff_v, arithmetic, capacity_ah, capacity_u, result)
    select id, 2.8, ${dischargeArithmetic}, 1.6 + (id % 900) / 1000.0,
      0.013, '{"reachedCutoff": true, "energyWh": 7, "meanVoltageV": 3.6}'
    from run
    where cell_id > ${last}`);
  await pool.query('vacuum analyze');
  return 'Z0001-001';
}

/** Server time of the shelf's views with 10 000 cells, judged anew and judged already, against the health check. */
export async function benchShelf(server: BenchServer, pool: Pool): Promise<BenchRow[]> {
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
    return middle(times);
  };
  const fileReading = () =>
    pool.query(
      `insert into reading (entry, cell_id, kind, voltage_v, step)
        select gen_random_uuid(), id, 'voltage', 3.65, 0.001
        from cell
        limit 1`,
    );
  const changeRules = () => pool.query("insert into house_rules (name, limits) values ('Bench', '{}')");
  const query = await time('/api/v1/health');
  const rows: [string, number][] = [
    [
      'shelf table, under other house rules (10 000 cells judged anew)',
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
