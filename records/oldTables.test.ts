import { fillFrom } from './archive';
import { migrate, MigrationStopped } from './migrate';
import { poolOn, scratchDatabase } from './scratchDatabase';

/** What a version before the ledger let in, by hand or by a clock that jumped, and the new tables do not. */
const broken: [what: string, sql: string, says: RegExp][] = [
  [
    'a rest that was seen before it began',
    `insert into rest (batch_id, reason, began_at, planned_s, voided_at, void_reason)
     values (1, 'charge', '2026-11-20 10:00+00', 60, '2026-11-20 09:59+00', 'seen at the watch')`,
    /Rest \d+ of batch \w+ ended before it began/,
  ],
  [
    'a note and a round of a pack under one id',
    `insert into note (entry, cell_id, text) select entry, 1, 'twice' from pack_round order by id limit 1`,
    /The rows note \d+ and round of a pack \d+ were filed under one entry/,
  ],
  [
    'figures of one line that were taken at two moments',
    `insert into reading (entry, cell_id, kind, mass_kg, step, taken_at)
     select entry, cell_id, 'mass', 0.04, 0.001, taken_at - interval '1 day'
     from reading
     where kind = 'load-step' and together = 1 and voided_at is null
     order by id limit 1`,
    /Reading \d+ \(entry [-0-9a-f]{36}\) does not agree with the others of its line/,
  ],
  [
    'a group beyond any voltage',
    `insert into pack_round (entry, pack_id, series, state, group_voltages_v, step_v)
     select gen_random_uuid(), id, series, 'rest', array_fill(4000::double precision, array[series]), 0.01
     from pack order by id limit 1`,
    /voltage_voltage_v_check[^]*Failing row contains[^]*4000/,
  ],
];

test.each(broken)('%s: the move stops there, with its row named and everything as it was', async (_, sql, says) => {
  const scratch = await scratchDatabase();
  await fillFrom('records/fixtures/workshop-0007.backup', scratch.url);
  const pool = poolOn(scratch.url, 1);
  try {
    await pool.query(sql);
    const tables = `select relname,
        query_to_xml(format('select count(*) from %I', relname), false, true, '')::text as rows
      from pg_class where relnamespace = $1::regnamespace and relkind = 'r' order by relname`;
    const there = async () =>
      [await pool.query(tables, ['public']), await pool.query('select name from migration order by name')].map(
        ({ rows }) => rows,
      );
    const before = await there();
    const stopped: unknown = await migrate(pool).catch((error: unknown) => error);
    expect(stopped).toBeInstanceOf(MigrationStopped);
    expect((stopped as Error).message).toMatch(says);
    expect((stopped as Error).message).toContain('Nothing was changed; the version before this one opens it');
    expect(await there()).toEqual(before);
  } finally {
    await pool.end();
    await scratch.drop();
  }
});
