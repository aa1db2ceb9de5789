import { type CurveBook, curveBook, type TeachingRun } from './curveBook';
import type { Calibration, Instrument, Protocol } from './facts';
import type { PastVisits, VisitReason } from '../packs/diagnosis/visit';
import { bookOf, type InstrumentBook } from './instrumentBook';

/** What it takes to judge what was read. */
export interface Equipment {
  instruments: InstrumentBook;
  /** By id. */
  protocols: ReadonlyMap<number, Protocol>;
  curves: CurveBook;
  /** Of packs, by the reason of the visit. */
  pastVisits: Record<VisitReason, PastVisits>;
}

/** The same as it is stored: plain data, which goes to other threads. */
export interface StoredEquipment {
  instruments: readonly Instrument[];
  calibrations: readonly Calibration[];
  protocols: readonly Protocol[];
  /** Discharges that show something of the open-circuit voltage, the newest first. */
  teaching: readonly TeachingRun[];
  pastVisits: Record<VisitReason, PastVisits>;
}

export function equipmentOf(
  { instruments, calibrations, protocols, teaching, pastVisits }: StoredEquipment,
  now: Date,
): Equipment {
  const book = bookOf(instruments, calibrations);
  return {
    instruments: book,
    protocols: new Map(protocols.map((protocol) => [protocol.id, protocol])),
    curves: curveBook(teaching, book, now),
    pastVisits,
  };
}

const none: PastVisits = { visits: 0, faulty: 0 };
export const noVisits: StoredEquipment['pastVisits'] = { routine: none, 'after-use': none, complaint: none };

/** A bench of which nothing is known. */
export const bareBench: Equipment = equipmentOf(
  { instruments: [], calibrations: [], protocols: [], teaching: [], pastVisits: noVisits },
  new Date(0),
);
