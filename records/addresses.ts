import type { Queryable } from './database';

/** What an address may name: a cell or pack and a batch by their codes, the rest by their numbers. */
const named = {
  cell: "select from subject where code = upper($1) and kind = 'cell'",
  pack: "select from subject where code = upper($1) and kind = 'pack'",
  subject: 'select from subject where code = upper($1)',
  batch: 'select from batch where code = upper($1)',
  round: 'select from round where id = $1::integer',
  run: 'select from run where id = $1::integer',
  hold: "select from period where entry_id = $1::integer and kind = 'hold'",
  build: 'select from build where id = $1::integer',
  'cross-check': 'select from cross_check where id = $1::integer',
} as const;
export type Named = keyof typeof named;

const byNumber: readonly Named[] = ['round', 'run', 'hold', 'build', 'cross-check'];

/** Whether what an address names is here. */
export async function isHere(db: Queryable, what: Named, name: string): Promise<boolean> {
  if (byNumber.includes(what) && !/^\d{1,9}$/.test(name)) return false;
  return (await db.query(named[what], [name])).rowCount !== 0;
}
