import { type MeasuredQuantity, rangeFor, rangeOf } from '@/core/instruments/instrument';
import type { Calibration, Instrument, StoredInstrument } from './facts';
import type { LastDigit } from '@/core/grading/plausibility';
import { quadrature, rectangular } from '@/core/quantity/quantity';
import { type Display, display } from '@/core/quantity/format';
import type { Tools } from '@/core/resistance/judgeReading';

/** An instrument with what is assumed of it where not noted. */
export const instrumentOf = (stored: StoredInstrument): Instrument => ({
  ...stored,
  ranges: Object.fromEntries(
    Object.entries(stored.noted).map(([quantity, range]) => [quantity, rangeOf(quantity as MeasuredQuantity, range)]),
  ),
});

/** What is known of the bench's instruments, to judge readings by. */
export interface InstrumentBook {
  /** Everything there ever was, those put away last. */
  all: readonly Instrument[];
  calibrations: readonly Calibration[];
  byId(id: number | null): Instrument | null;
  /** The calibration in force for a channel at that moment; null where none is. */
  calibrationAt(instrumentId: number | null, channel: number | null, at: Date): Calibration | null;
  toolsOf(reading: {
    instrumentId: number | null;
    channel: number | null;
    ammeterId: number | null;
    takenAt: Date;
  }): Tools;
}

export function bookOf(all: readonly Instrument[], calibrations: readonly Calibration[]): InstrumentBook {
  const instruments = new Map(all.map((instrument) => [instrument.id, instrument]));
  const byChannel = new Map<string, Calibration[]>();
  // They come newest first, so the first that had begun is the one in force.
  for (const calibration of calibrations) {
    if (calibration.withdrawnAt) continue;
    const key = `${calibration.instrumentId} ${calibration.channel}`;
    byChannel.set(key, [...(byChannel.get(key) ?? []), calibration]);
  }
  const byId = (id: number | null): Instrument | null => (id === null ? null : (instruments.get(id) ?? null));
  const calibrationAt: InstrumentBook['calibrationAt'] = (instrumentId, channel, at) =>
    byChannel.get(`${instrumentId} ${channel ?? 1}`)?.find((one) => one.calibratedAt <= at) ?? null;
  return {
    all,
    calibrations,
    byId,
    calibrationAt,
    toolsOf({ instrumentId, channel, ammeterId, takenAt }) {
      const instrument = byId(instrumentId);
      return {
        voltage: instrument?.ranges.voltage ?? null,
        current: byId(ammeterId ?? instrumentId)?.ranges.current ?? null,
        resistance: instrument?.ranges.resistance ?? null,
        wires: instrument?.wires ?? null,
        leads: instrument?.leads ?? null,
        correction: calibrationAt(instrumentId, channel, takenAt)?.correction ?? null,
      };
    },
  };
}

/** Group i is read by channel i of an instrument with several, and by the one of any other. */
export const channelOfGroup = (
  { byId }: Pick<InstrumentBook, 'byId'>,
  instrumentId: number | null,
  position: number,
): number => ((byId(instrumentId)?.channels ?? 1) > 1 ? position : 1);

/** Of what an instrument is off by, its channels share this fraction. From memory. */
const sharedFraction = 0.5;

/**
 * Standard uncertainty of one channel beside another, V: channels of one instrument share its reference, but not their
 * counts and dividers; a single channel shares all of them.
 */
export function apartU(valueV: number, stepV: number, instrument: Instrument | null): number {
  const noted = instrument?.ranges.voltage;
  if (!noted || instrument.channels === 1) return rectangular(stepV);
  const { accuracyShare, accuracyCounts, resolution } = rangeFor(noted, stepV);
  const ownV = (1 - sharedFraction) * accuracyShare * Math.abs(valueV);
  return quadrature(rectangular(stepV), (accuracyCounts * resolution) / Math.sqrt(3), ownV / Math.sqrt(3));
}

/** What measures voltage and is not put away, for a bar to choose from. */
export interface Voltmeter extends LastDigit {
  name: string;
  channels: number;
}

/** The last digits that an instrument shows of one quantity; null where it shows none. */
export function digitsOf(instrument: Instrument | null, quantity: MeasuredQuantity, as: Display): LastDigit | null {
  const range = instrument?.ranges[quantity];
  if (!range) return null;
  const coarser = range.coarser?.map(({ resolution }) => resolution);
  return { code: instrument.code, resolution: range.resolution, ...(coarser && { coarser }), as };
}

/** The last digits that an instrument shows of a voltage; null where it shows none. */
export const voltDigitOf = (instrument: Instrument | null): LastDigit | null =>
  digitsOf(instrument, 'voltage', display.voltage);

export const voltmeters = (book: InstrumentBook): Voltmeter[] =>
  book.all.flatMap((one) => {
    const digit = one.archivedAt === null ? voltDigitOf(one) : null;
    return digit ? [{ ...digit, name: one.name, channels: one.channels }] : [];
  });
