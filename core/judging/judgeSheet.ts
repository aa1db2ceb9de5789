import type { CrossCheck, CrossCheckReading, Instrument } from './facts';
import {
  afterAdjusting,
  calibrate,
  type CalibrationVerdict,
  corrected,
  type Correction,
} from '@/core/instruments/calibration';
import { type Consensus, consensusOf, differenceFrom } from '@/core/instruments/consensus';
import { type InstrumentRange, rangeFor, rangeOf, readingU, shownU } from '@/core/instruments/instrument';
import { type Quantity, rectangular } from '@/core/quantity/quantity';
import { median } from 'simple-statistics';
import { apartU, type InstrumentBook } from './instrumentBook';

/** One instrument, or one channel of it, on one battery. */
export interface SheetReading {
  position: number;
  raw: Quantity;
  /** The last digit typed, V. */
  stepV: number;
  /** Corrected as it was calibrated when it was read, with its maker's uncertainty. */
  reading: Quantity;
  /** From the reference; null where not known. */
  difference: Quantity | null;
  /** From the other channels of its instrument, V; null where there are fewer than two. */
  fromSiblingsV: number | null;
  apart: boolean;
  /** A channel of its instrument was calibrated since. */
  isOfBefore: boolean;
}

export interface JudgedChannel {
  instrument: Instrument;
  channel: number;
  /** Code, with the channel where there are several. */
  name: string;
  readings: SheetReading[];
  /** Batteries on which it disagrees with all others. */
  apartOn: number;
  /** A calibration is in force for it now. */
  corrected: boolean;
}

export interface JudgedSheet {
  crossCheck: CrossCheck;
  /** By position, from 1; null where nothing was read. */
  consensus: (Consensus | null)[];
  channels: JudgedChannel[];
}

export const channelName = (instrument: Instrument, channel: number): string =>
  instrument.channels === 1 ? instrument.code : `${instrument.code}.${channel}`;

const voltageRangeOf = (instrument: Instrument, step: number): InstrumentRange =>
  instrument.ranges.voltage ?? rangeOf('voltage', { resolution: step, accuracyShare: null, accuracyCounts: null });

/**
 * Judges a sheet: the reference on each battery, found without trusting any instrument or declared, how far each
 * channel lies from it, and from the other channels of its instrument. Source: common practice.
 */
export function judgeSheet(
  crossCheck: CrossCheck,
  readings: readonly CrossCheckReading[],
  book: InstrumentBook,
  now: Date,
): JudgedSheet {
  const known = readings.flatMap((one) => {
    const instrument = book.byId(one.instrumentId);
    if (!instrument) return [];
    const range = rangeFor(voltageRangeOf(instrument, one.step), one.step);
    const calibration = book.calibrationAt(one.instrumentId, one.channel, one.takenAt);
    const reading = corrected(
      { value: one.voltageV, u: calibration ? rectangular(range.resolution) : readingU(one.voltageV, range) },
      calibration?.correction ?? null,
    );
    return [
      {
        ...one,
        instrument,
        name: channelName(instrument, one.channel),
        raw: { value: one.voltageV, u: shownU(range.resolution) },
        reading,
      },
    ];
  });
  const consensus = crossCheck.batteries.map((_, i) => {
    const here = known.filter((one) => one.position === i + 1);
    const certified = here.find((one) => one.instrument.certified);
    if (certified) return { kind: 'declared' as const, reference: certified.reading, by: certified.name };
    return here.length === 0
      ? null
      : consensusOf(here.map((one) => ({ of: one.name, instrument: one.instrument.code, reading: one.reading })));
  });
  const names = [...new Set(known.map((one) => one.name))];
  const channels = names.map((name): JudgedChannel => {
    const own = known.filter((one) => one.name === name);
    const { instrument, channel } = own[0] as (typeof known)[number];
    const checked = own.map((one): SheetReading => {
      const fromSiblingsV = fromSiblings(one, known);
      const { difference, apart } = against(consensus[one.position - 1] ?? null, name, one.reading);
      return {
        position: one.position,
        raw: one.raw,
        stepV: one.step,
        reading: one.reading,
        difference,
        fromSiblingsV,
        apart: apart || isFarFromSiblings(fromSiblingsV, one),
        isOfBefore: book.calibrations.some(
          (calibration) =>
            calibration.instrumentId === instrument.id &&
            !calibration.withdrawnAt &&
            calibration.calibratedAt > one.takenAt,
        ),
      };
    });
    return {
      instrument,
      channel,
      name,
      readings: checked,
      apartOn: checked.filter((one) => one.apart).length,
      corrected: book.calibrationAt(instrument.id, channel, now) !== null,
    };
  });
  return { crossCheck, consensus, channels };
}

interface OnBattery {
  position: number;
  name: string;
  step: number;
  instrument: Instrument;
  reading: Quantity;
}

/** A channel is compared with this many others of its instrument or more. */
const fewestSiblings = 2;

/** How far a channel lies from the other channels of its instrument on one battery, V; null where these are too few. */
function fromSiblings(one: OnBattery, all: readonly OnBattery[]): number | null {
  const siblings = all.filter(
    (other) => other !== one && other.position === one.position && other.instrument.id === one.instrument.id,
  );
  return siblings.length < fewestSiblings
    ? null
    : one.reading.value - median(siblings.map(({ reading }) => reading.value));
}

/** Whichever way. */
const isFarFromSiblings = (apartV: number | null, { reading, step, instrument }: OnBattery): boolean =>
  apartV !== null && Math.abs(apartV) > 2 * Math.SQRT2 * apartU(reading.value, step, instrument);

function against(
  consensus: Consensus | null,
  name: string,
  reading: Quantity,
): { difference: Quantity | null; apart: boolean } {
  if (!consensus || consensus.kind === 'nobody-knows') return { difference: null, apart: false };
  if (consensus.kind === 'declared') {
    const difference = differenceFrom(consensus.reference, reading, consensus.by === name);
    return { difference, apart: consensus.by !== name && Math.abs(difference.value) > 2 * difference.u };
  }
  const isMember = consensus.consistent.includes(name);
  return {
    difference: differenceFrom(
      consensus.reference,
      isMember ? { ...reading, u: Math.max(reading.u, consensus.leastU) } : reading,
      isMember,
    ),
    apart: consensus.apart.includes(name),
  };
}

/** The median of what the instruments read on a battery so far; null while none did. */
export function othersOn({ channels }: JudgedSheet, position: number): number | null {
  const values = channels.flatMap((channel) =>
    channel.readings.filter((one) => one.position === position).map((one) => one.raw.value),
  );
  return values.length === 0 ? null : median(values);
}

/** What a channel showed on each battery whose reference is known. */
const levelsOf = ({ consensus }: JudgedSheet, { readings }: JudgedChannel) =>
  readings.flatMap(({ position, raw, stepV }) => {
    const at = consensus[position - 1];
    return at && at.kind !== 'nobody-knows' ? [{ position, raw, stepV, reference: at.reference }] : [];
  });

/** What a channel showed on a battery and what it is to show there, where the device itself is set. */
export interface Adjustment {
  position: number;
  showedV: number;
  setToV: number;
  correction: Correction;
}

/** At the highest level whose reference is known; null where none is. */
export function adjustmentOf(sheet: JudgedSheet, channel: JudgedChannel): Adjustment | null {
  const [highest] = levelsOf(sheet, channel).sort((one, other) => other.reference.value - one.reference.value);
  if (!highest) return null;
  const range = channel.instrument.ranges.voltage;
  const resolution = range ? rangeFor(range, highest.stepV).resolution : highest.stepV;
  return {
    position: highest.position,
    showedV: highest.raw.value,
    setToV: Math.round(highest.reference.value / resolution) * resolution,
    correction: afterAdjusting(highest.reference.u, resolution),
  };
}

/** What correcting a channel by this sheet would come to. */
export function calibrationOf(
  sheet: JudgedSheet,
  channel: JudgedChannel,
  kind: Exclude<Correction['kind'], 'adjusted'>,
): CalibrationVerdict {
  const points = levelsOf(sheet, channel).map(({ raw, reference }) => ({ reading: raw, reference }));
  const coarsestV = Math.max(0, ...channel.readings.map((one) => one.stepV));
  const noted = channel.instrument.ranges.voltage;
  const range = noted && rangeFor(noted, coarsestV);
  const typical = points[0]?.reading.value ?? 0;
  return calibrate(kind, points, {
    resolution: range?.resolution ?? coarsestV,
    statedU: range ? readingU(typical, range) : Infinity,
    accuracyShare: range?.accuracyShare,
  });
}
