import type { Instrument } from '@/core/judging/facts';
import { instrumentOf } from '@/core/judging/instrumentBook';
import type { Queryable } from '@/records/database';
import { listInstruments } from '@/records/instruments';

/** Every instrument there ever was, those put away last. */
export const allInstruments = async (db: Queryable): Promise<Instrument[]> =>
  (await listInstruments(db)).map(instrumentOf);
