import type { Pool } from 'pg';
import type { BenchServer } from './server';
import { type BenchRow, middle, seconds } from './table';

const cells = 10_000;
const repeats = 9;

/** 10 000 cells, each read, measured and discharged. */
export async function fillShelf(pool: Pool): Promise<string> {
  await pool.query(`
    with model as (insert into cell_model (maker, name, chemistry, rated_capacity_ah, mass_kg) values ('Bench', 'B18', 'li-ion', 2.5, 0.045) returning id),
    batch as (insert into batch (code, origin) values ('Z1', 'benchmark') returning id)
    insert into cell (code, batch_id, model_id, place) select 'Z1-' || lpad(n::text, 5, '0'), batch.id, model.id, n from model, batch, generate_series(1, ${cells}) n`);
  await pool.query(`insert into round (batch_id, protocol_id, method, load_resistance_ohm, load_tolerance) select batch.id, protocol.id, 'resistor', 2, 0.01 from batch, protocol where protocol.method = 'resistor'`);
  await pool.query(`insert into reading (entry, cell_id, kind, voltage_v, step) select gen_random_uuid(), id, 'voltage', 3.6 + (id % 40) / 1000.0, 0.001 from cell`);
  await pool.query(`insert into reading (entry, cell_id, kind, mass_kg, step) select gen_random_uuid(), id, 'mass', 0.045, 0.0001 from cell`);
  await pool.query(`insert into reading (entry, cell_id, kind, findings) select gen_random_uuid(), id, 'inspection', '{}' from cell`);
  await pool.query(`insert into reading (entry, cell_id, kind, round_id, open_v, loaded_v, step) select gen_random_uuid(), id, 'load-step', 1, 3.7, 3.62 + (id % 50) / 1000.0, 0.001 from cell`);
  await pool.query(`insert into run (cell_id, file_name, content_sha256, load_kind, load_current_a, voltage_step_v, samples, columns, notices, ended_at)
    select id, 'bench.csv', sha256(id::text::bytea), 'current', 1, 0.001, 2, '[]', '[]', now() - interval '9 days' from cell`);
  await pool.query(`insert into run_result (run_id, cutoff_v, arithmetic, capacity_ah, capacity_u, result)
    select id, 2.8, 2, 1.6 + (id % 900) / 1000.0, 0.013, '{"reachedCutoff": true}' from run`);
  await pool.query('analyze');
  return 'Z1-00001';
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
  const fileReading = () => pool.query("insert into reading (entry, cell_id, kind, voltage_v, step) select gen_random_uuid(), id, 'voltage', 3.65, 0.001 from cell limit 1");
  const changeRules = () => pool.query("insert into house_rules (name, limits) values ('Bench', '{}')");
  const query = await time('/api/v1/health');
  const rows: [string, number][] = [
    ['shelf table, under other house rules (10 000 cells judged anew)', await time('/shelf?view=table&sort=capacity', changeRules)],
    ['shelf table, after a reading', await time('/shelf?view=table&sort=capacity', fileReading)],
    ['shelf table, unchanged', await time('/shelf?view=table&sort=capacity')],
    ['shelf table, filtered', await time('/shelf?view=table&q=steady+%3E+2+Ah')],
    ['shelf map', await time('/shelf?view=map')],
    ['shelf tray', await time('/shelf?view=tray')],
  ];
  return rows.map(([what, ms]) => ({ what, ours: seconds(ms), reference: `health check ${seconds(query)}`, ratio: (ms / query).toFixed(0) }));
}
