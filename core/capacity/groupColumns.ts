import { ImpossibleInput } from '../impossibleInput';

/** Which columns of a log are which groups of a pack. */
export interface GroupColumns {
  /** Places in the row, from 0: that of group 1, at the negative terminal, first. */
  places: number[];
  /** Each column holds the voltage of a tap against the negative terminal, not that of its group alone. */
  taps: boolean;
  /** The place of the column that is the sum of the others, so the terminals; null where none is. */
  terminals: number | null;
  /** The columns were numbered from the positive terminal, as their voltages show. */
  turned: boolean;
}

/** A column that may hold the voltage of a group, with the figures of its first rows, V. */
export interface VoltageColumn {
  index: number;
  /** The number in its heading; its place where there is none. */
  number: number;
  voltagesV: readonly number[];
}

/** No group of any chemistry has a higher voltage. */
const highestGroupV = 5.5;
/** No group has a lower voltage: a channel without a group shows 0. */
const emptyV = 0.05;
/** A total agrees with the sum of its parts within this much: leads and the last digits take a little. */
export const sumFraction = 0.03;
/** A step from tap to tap differs from the mean step by less than this much. */
const stepFraction = 0.5;

/** A heading such as "Cell 2 (V)", "group_02_v", "U3 [mV]" or "V4": the number in it. */
export function groupNumberIn(heading: string): number | null {
  const found =
    /(?:^|[^a-z])(?:cell|group|zelle|gruppe|tap|volt|voltage|spannung|v|u|c)[ _.#:-]*0*(\d{1,2})(?!\d)/i.exec(heading);
  return found ? Number(found[1]) : null;
}

const meanOf = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / values.length;

const sumAgrees = (total: VoltageColumn, parts: readonly VoltageColumn[]): boolean =>
  total.voltagesV.every((v, row) => {
    const sum = parts.reduce((all, part) => all + (part.voltagesV[row] ?? NaN), 0);
    return Math.abs(v - sum) <= sumFraction * sum;
  });

/** Whether each column lies about one group above the one before. */
function areTaps(columns: readonly VoltageColumn[]): boolean {
  const means = columns.map(({ voltagesV }) => meanOf(voltagesV));
  const step = (means.at(-1) ?? 0) / means.length;
  return (
    step > 0 &&
    step <= highestGroupV &&
    means.every((mean, i) => Math.abs(mean - (means[i - 1] ?? 0) - step) < stepFraction * step)
  );
}

/**
 * Which columns hold the groups of a pack: each its own voltage, or that of the tap above it against the negative
 * terminal. A column that is the sum of the others is the terminals, also where it is counted among the groups;
 * channels behind the last group that show nothing are passed over. Taps that fall from column to column are numbered
 * from the positive terminal. Source: common practice.
 *
 * @param columns at least two, in the order of their numbers
 * @returns null where these columns hold no groups at all
 * @throws ImpossibleInput when there are too many or too few for the pack
 */
export function understandGroups(columns: readonly VoltageColumn[], series: number): GroupColumns | null {
  const wired = columns.filter(({ voltagesV }, i) => i < series || voltagesV.some((v) => v > emptyV));
  for (const [taps, turned] of [
    [wired, false],
    [wired.toReversed(), true],
  ] as const)
    if (taps.length === series && areTaps(taps))
      return { places: taps.map(({ index }) => index), taps: true, terminals: taps.at(-1)?.index ?? null, turned };
  const total = wired.find(
    (one) =>
      wired.length > 2 &&
      sumAgrees(
        one,
        wired.filter((other) => other !== one),
      ),
  );
  const groups = wired.filter((one) => one !== total);
  if (!groups.every(({ voltagesV }) => voltagesV.every((v) => v < highestGroupV))) return null;
  if (groups.length !== series)
    throw new ImpossibleInput('csv', { code: 'group-columns', columns: groups.length, series });
  return {
    places: groups.map(({ index }) => index),
    taps: false,
    terminals: total?.index ?? null,
    turned: false,
  };
}
