import { Client, Pool } from 'pg';
import type { MethodKey } from '@/core/resistance/methods';
import { type CellModel, modelNamed } from './batches';
import type { Queryable } from './database';
import { migrate } from './migrate';
import { addPack } from './packs';
import { listProtocols } from './protocols';
import { openRound } from './rounds';

export interface Scratch {
  name: string;
  url: string;
  pool: Pool;
  drop(): Promise<void>;
}

/** A database of its own for one test file, on the server of DATABASE_URL: empty, or a copy of `template`. */
export async function scratchDatabase(
  template = 'template1',
  name = `scratch_${process.pid}_${Math.random().toString(36).slice(2, 8)}`,
): Promise<Scratch> {
  const server = process.env.DATABASE_URL;
  if (!server) throw new Error('These tests need DATABASE_URL; run bin/test.');
  const run = async (sql: string) => {
    const client = new Client({ connectionString: server });
    await client.connect();
    await client.query(sql).finally(() => client.end());
  };
  await run(`create database ${name} template ${template}`);
  const url = new URL(server);
  url.pathname = `/${name}`;
  const pool = poolOn(url.href, 4);
  return {
    name,
    url: url.href,
    pool,
    drop: async () => {
      await pool.end();
      await run(`drop database ${name} with (force)`);
    },
  };
}

/** The same with the tables of a workshop that is opened for the first time. */
export const scratchWorkshop = (): Promise<Scratch> => scratchDatabase(process.env.WORKSHOP_TEMPLATE);

/**
 * Makes those tables once, before all tests: a copy takes less time. A process that starts after this finds it.
 */
export async function makeWorkshopTemplate(): Promise<Scratch> {
  const template = await scratchDatabase();
  const pool = poolOn(template.url, 1);
  await migrate(pool);
  // What a person is connected to cannot be copied.
  await pool.end();
  process.env.WORKSHOP_TEMPLATE = template.name;
  return template;
}

/** A pool for tests: a connection that the server ends while the pool is closing is no fault. */
export function poolOn(connectionString: string, max: number): Pool {
  const pool = new Pool({ connectionString, max });
  pool.on('error', () => undefined);
  return pool;
}

/** The model of cells in tests that care for none. */
export const scratchModel = (db: Queryable): Promise<CellModel> =>
  modelNamed(db, {
    maker: 'Test',
    name: 'T1',
    chemistry: 'li-ion',
    ratedCapacityAh: 2.4,
    massKg: 0.045,
    board: false,
    asNewOhm: null,
  });

/** A pack of this many groups for tests that care for none else; its number. */
export const scratchPack = (db: Queryable, code: string, series = 3): Promise<number> =>
  addPack(db, { code, name: 'test', chemistry: 'lipo', series, parallel: 1, ratedCapacityAh: 2, board: 'none' });

/** A round over packs by the first protocol of that method that a workshop has. */
export async function scratchPackRound(
  db: Queryable,
  method: MethodKey,
  change: { leadOhm?: number } = {},
): Promise<{ id: number; occasionId: number }> {
  const protocol = (await listProtocols(db)).find((one) => one.method === method);
  return openRound(db, {
    batchId: null,
    protocolId: protocol?.id ?? NaN,
    method,
    instrumentId: null,
    ammeterId: null,
    loadResistanceOhm: null,
    loadTolerance: null,
    loadRatingW: null,
    temperatureC: 22.2,
    ...change,
  });
}
