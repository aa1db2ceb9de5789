import { inspectionFindings } from '@/core/grading/intake';
import type { z } from 'zod';
import type { readingRequest } from './schemas';

type Reading = z.infer<typeof readingRequest>;
type Figure = number | string;

/** A figure in a unit a thousand times smaller, with the digits it was given with. */
function thousandfold(figure: Figure): string {
  const decimals = /\.(\d+)$/.exec(String(figure))?.[1]?.length ?? 0;
  return (Number(figure) * 1000).toFixed(Math.max(0, decimals - 3));
}

const volts = (figure: Figure): string => `${figure}V`;
const milliohms = (figure: Figure): string => `${thousandfold(figure)}mΩ`;
const amperes = (figure: Figure): string => `${figure}A`;

/** Findings by their keys, as they are typed. */
const findingsWord = (findings: NonNullable<Reading['findings']>): string =>
  findings.length === 0 ? 'ok' : findings.map((finding) => inspectionFindings[finding].key).join('');

/**
 * The line of a reading bar that says what a program sent as fields, so that both are understood, asked about and filed
 * in one way.
 */
export function lineOf(reading: Reading): string {
  const { instrument, channel, battery } = reading;
  const words: (string | undefined)[] = [reading.subject];
  const each = (figures: Figure[] | undefined, word: (figure: Figure) => string) =>
    words.push(...(figures ?? []).map(word));
  const one = (figure: Figure | undefined, word: (figure: Figure) => string) =>
    words.push(figure === undefined ? undefined : word(figure));
  one(battery, (position) => `B${position}`);
  one(instrument, (code) => (channel === undefined ? String(code) : `${code}.${channel}`));
  each(reading.channelVoltagesV, String);
  one(reading.group, (group) => `g${group}`);
  each(
    reading.groupVoltagesV?.map((figure) => figure ?? '-'),
    String,
  );
  each(reading.groupResistancesOhm, milliohms);
  one(reading.resistanceOhm, milliohms);
  one(reading.voltageV, volts);
  one(reading.openVoltageV, volts);
  one(reading.loadedVoltageV, volts);
  one(reading.currentA, amperes);
  one(reading.afterVoltageV, volts);
  one(reading.voltageAtLowV, volts);
  one(reading.lowCurrentA, amperes);
  one(reading.voltageAtHighV, volts);
  one(reading.highCurrentA, amperes);
  one(reading.terminalVoltageV, (figure) => `= ${figure}`);
  one(reading.wholeResistanceOhm, (figure) => `= ${milliohms(figure)}`);
  one(reading.massKg, (figure) => `${thousandfold(figure)}g`);
  one(reading.temperatureC, (figure) => `${figure}C`);
  if (reading.findings) words.push(findingsWord(reading.findings));
  one(reading.cycles, (count) => `cycles ${count}`);
  one(reading.servedS, (seconds) => `served ${Number((Number(seconds) / 60).toFixed(2))} min`);
  words.push(reading.on);
  return words.filter((word) => word !== undefined).join(' ');
}
