import type { Sample } from '@/core/capacity/logReader';
import { Readable } from 'node:stream';
import { copyEnd, copySignature } from './binaryCopy';

/** Count of fields, then each with its length: two integers, four doubles and an array of doubles. */
const longestRow = (groups: number) => 2 + 2 * (4 + 4) + 4 * (4 + 8) + 4 + 20 + groups * (4 + 8);
/** What PostgreSQL calls the type of an array's elements: float8. */
const doubleType = 701;
const portionBytes = 1 << 17;

/**
 * Writes samples as rows of the columns run_id, seq, time_s, voltage_v, current_a, temperature_c, groups_v in the
 * binary form of COPY. Source: PostgreSQL 15 documentation, COPY, "Binary Format".
 *
 * @param send called with each full portion; it may keep it
 */
export function createSampleRows(runId: number, send: (portion: Buffer) => void) {
  let seq = 0;
  let portion = Buffer.allocUnsafe(portionBytes);
  let at = copySignature.copy(portion);

  const putInteger = (value: number): void => {
    at = portion.writeInt32BE(4, at);
    at = portion.writeInt32BE(value, at);
  };
  const putDouble = (value: number | null): void => {
    if (value === null) {
      at = portion.writeInt32BE(-1, at);
      return;
    }
    at = portion.writeInt32BE(8, at);
    at = portion.writeDoubleBE(value, at);
  };
  /** Dimensions, no nulls, type; then length and first index of its one dimension, and each with its length. */
  const putArray = (values: readonly number[] | null): void => {
    if (values === null) {
      at = portion.writeInt32BE(-1, at);
      return;
    }
    for (const head of [20 + values.length * (4 + 8), 1, 0, doubleType, values.length, 1])
      at = portion.writeInt32BE(head, at);
    values.forEach(putDouble);
  };
  const sendPortion = (): void => {
    send(portion.subarray(0, at));
    portion = Buffer.allocUnsafe(portionBytes);
    at = 0;
  };

  return {
    push({ timeS, voltageV, currentA, temperatureC, groupsV = null }: Sample): void {
      if (at + longestRow(groupsV?.length ?? 0) > portionBytes) sendPortion();
      at = portion.writeInt16BE(7, at);
      putInteger(runId);
      putInteger(seq++);
      putDouble(timeS);
      putDouble(voltageV);
      putDouble(currentA);
      putDouble(temperatureC);
      putArray(groupsV);
    },
    finish(): void {
      if (at + copyEnd.length > portionBytes) sendPortion();
      at += copyEnd.copy(portion, at);
      sendPortion();
    },
  };
}

/** The rows of samples that are all at hand. */
export function sampleRowsOf(runId: number, samples: readonly Sample[]): Readable {
  const portions: Buffer[] = [];
  const rows = createSampleRows(runId, (portion) => portions.push(portion));
  samples.forEach(rows.push);
  rows.finish();
  return Readable.from(portions);
}
