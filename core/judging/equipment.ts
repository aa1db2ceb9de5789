import { type CurveBook, curveBook, type TeachingRun } from './curveBook';
import type { Calibration, Instrument, Protocol } from './facts';
import { bookOf, type InstrumentBook } from './instrumentBook';

/** What it takes to judge what was read. */
export interface Equipment {
  instruments: InstrumentBook;
  /** By id. */
  protocols: ReadonlyMap<number, Protocol>;
  curves: CurveBook;
}

/** The same as it is stored: plain data, which goes to other threads. */
export interface StoredEquipment {
  instruments: readonly Instrument[];
  calibrations: readonly Calibration[];
  protocols: readonly Protocol[];
  /** Discharges that show something of the open-circuit voltage, the newest first. */
  teaching: readonly TeachingRun[];
}

export function equipmentOf({ instruments, calibrations, protocols, teaching }: StoredEquipment, now: Date): Equipment {
  const book = bookOf(instruments, calibrations);
  return {
    instruments: book,
    protocols: new Map(protocols.map((protocol) => [protocol.id, protocol])),
    curves: curveBook(teaching, book, now),
  };
}

/** A bench of which nothing is known. */
export const bareBench: Equipment = equipmentOf(
  { instruments: [], calibrations: [], protocols: [], teaching: [] },
  new Date(0),
);
