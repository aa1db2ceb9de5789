import { corrected } from '@/core/instruments/calibration';
import { rangeFor, readingU } from '@/core/instruments/instrument';
import { type Quantity, rectangular } from '@/core/quantity/quantity';
import type { CellFacts } from './facts';
import type { InstrumentBook } from './instrumentBook';

/** A voltage as read, corrected as its instrument was calibrated at the time, with the uncertainty of both. */
export const correctedVoltage = (voltage: NonNullable<CellFacts['voltage']>, book: InstrumentBook): Quantity => {
  const range = book.byId(voltage.instrumentId)?.ranges.voltage;
  const reading = {
    value: voltage.valueV,
    u: range ? readingU(voltage.valueV, rangeFor(range, voltage.step)) : rectangular(voltage.step),
  };
  return corrected(
    reading,
    book.calibrationAt(voltage.instrumentId, voltage.channel, voltage.takenAt)?.correction ?? null,
  );
};
