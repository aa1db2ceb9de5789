import { type Chemistry, chemistries } from '../chemistry/chemistries';
import { decimalsOfStep, display, type Display, formatRead } from '../quantity/format';
import type { Question, Typed } from '../quantity/question';

/** A tenfold or a thousandfold: a slipped point, millivolts for volts. */
const slips = [10, 0.1, 100, 0.01, 1000, 0.001];

const fits = (value: number, least: number, most: number): boolean => value >= least && value <= most;

/** The figure that was probably meant, if moving the decimal point makes it fit. */
const slipped = ({ value, step }: Typed, least: number, most: number): Typed | undefined =>
  slips
    .map((slip) => ({ value: Number((value / slip).toPrecision(9)), step: step / slip }))
    .find((one) => fits(one.value, least, most));

/**
 * The figure that was probably meant if two neighbouring digits were swapped or one was dropped: of those within
 * `within` of what is expected the nearest, swaps first; undefined where none is.
 */
export function misread({ value, step }: Typed, expected: number, within: number): Typed | undefined {
  const decimals = decimalsOfStep(step);
  const digits = Math.abs(value).toFixed(decimals).replace('.', '');
  const number = (text: string, places: number): Typed => ({ value: Number(text) / 10 ** places, step: 10 ** -places });
  const nearest = (candidates: Typed[]): Typed | undefined => {
    const off = (candidate: Typed) => Math.abs(candidate.value - expected);
    const near = candidates.filter((candidate) => candidate.value !== value && off(candidate) <= within);
    return near.length === 0
      ? undefined
      : near.reduce((best, candidate) => (off(candidate) < off(best) ? candidate : best));
  };
  const swapped = [...digits]
    .slice(1)
    .map((_, i) => number(digits.slice(0, i) + digits[i + 1] + digits[i] + digits.slice(i + 2), decimals));
  const dropped = Array.from({ length: digits.length + 1 }, (_, at) => at).flatMap((at) =>
    Array.from({ length: 10 }, (_, digit) => digits.slice(0, at) + digit + digits.slice(at)).flatMap((whole) => [
      number(whole, decimals + 1),
      number(whole, decimals),
    ]),
  );
  // A swap is the commoner slip.
  return nearest(swapped) ?? nearest(dropped);
}

/** The same figure in thousandths, as milliohms are read. */
const inThousandths = ({ value, step }: Typed): Typed => ({
  value: Number((value * 1000).toPrecision(9)),
  step: step * 1000,
});
const fromThousandths = (read: Typed | undefined): Typed | undefined =>
  read && { value: read.value / 1000, step: read.step / 1000 };

/** The question with the figure that was probably meant, where one is known. */
const asking = (question: Question, meant: Typed | undefined, as: Display): Question =>
  meant === undefined ? question : { ...question, meant: formatRead(meant.value, meant.step, as) };

/** A question about a voltage far from what others read on the very same battery; null for a plausible one. */
export function askAgainstOthers(read: Typed, othersV: number): Question | null {
  if (Math.abs(read.value - othersV) <= farFromNeighboursV) return null;
  const meant =
    slipped(read, othersV - nearNeighboursV, othersV + nearNeighboursV) ?? misread(read, othersV, nearNeighboursV);
  return asking({ code: 'voltage-not-as-others', typed: read, othersV }, meant, display.voltage);
}

/**
 * A question about a voltage that one cell of that chemistry hardly has; null for a plausible one. The bench may
 * confirm it: an odd reading is a fact too.
 *
 * @param neighboursV what its batch or pack reads, if that is known: far from it, a swapped or dropped digit is asked
 * about
 */
export function askAboutVoltage(
  typed: Typed,
  chemistry: Chemistry,
  neighboursV: number | null = null,
): Question | null {
  const { fullV } = chemistries[chemistry];
  const most = fullV + 0.1;
  if (fits(typed.value, 0, most)) return askAboutDigits(typed, neighboursV);
  if (typed.value < 0) return { code: 'voltage-below-zero', typed };
  return asking({ code: 'voltage-beyond-cell', typed, chemistry }, slipped(typed, fullV / 2, most), display.voltage);
}

function askAboutDigits(typed: Typed, neighboursV: number | null): Question | null {
  if (neighboursV === null || Math.abs(typed.value - neighboursV) < farFromNeighboursV) return null;
  const meant = misread(typed, neighboursV, nearNeighboursV);
  return meant === undefined
    ? null
    : asking({ code: 'voltage-not-as-neighbours', typed, neighboursV }, meant, display.voltage);
}

/** So far off its neighbours a voltage is asked about, where a slip of the hand puts it within the second. */
const farFromNeighboursV = 0.3;
const nearNeighboursV = 0.06;

/** Two cells on the scale at once weigh this many times one, at least and at most. */
const pairMass = { least: 1.8, most: 2.2 };

/**
 * A question about a weight far from what such a cell weighs, or from any single cell; null for a plausible one.
 *
 * @param usualKg what one weighs by its model or among its batch; null where neither is known
 * @param together this many lie welded on the scale
 */
export function askAboutMass(typed: Typed, usualKg: number | null, together = 1): Question | null {
  if (together === 1 && usualKg !== null && fits(typed.value, pairMass.least * usualKg, pairMass.most * usualKg))
    return { code: 'perhaps-a-pair', typed, usualKg };
  const [least, most] =
    usualKg === null ? [0.003 * together, 5 * together] : [(together * usualKg) / 2.5, together * usualKg * 2.5];
  if (fits(typed.value, least, most)) return null;
  return asking({ code: 'weight-unusual', typed, usualKg, together }, slipped(typed, least, most), display.mass);
}

/**
 * A question about a resistance far off its batch, or below 0; null for a plausible one or while the batch is
 * small. A figure that was calculated, not typed, has no step.
 */
export function askAboutResistance(
  computed: { value: number; step: number | null },
  batchMedianOhm: number | null,
): Question | null {
  const { value, step } = computed;
  if (value <= 0) return { code: 'resistance-not-above-zero', computed };
  if (batchMedianOhm === null || fits(value, batchMedianOhm / 5, batchMedianOhm * 5)) return null;
  const question: Question = { code: 'resistance-not-as-batch', computed, batchMedianOhm };
  if (step === null) return question;
  const meant =
    slipped({ value, step }, batchMedianOhm / 2, batchMedianOhm * 2) ??
    fromThousandths(misread(inThousandths({ value, step }), batchMedianOhm * 1000, batchMedianOhm * 300));
  return asking(question, meant, display.resistance);
}

/** What an instrument shows of a quantity: the last digit, in its SI unit. */
export interface LastDigit {
  code: string;
  resolution: number;
  /** Last digits of its coarser ranges. */
  coarser?: readonly number[];
  as: Display;
}

/** A common meter counts this far in one range. Common practice. */
const usualCounts = 6000;

/**
 * A question about a figure with finer digits than its instrument shows, or with fewer; null where none is known or it
 * fits.
 */
export function askAboutDigitsOf({ value, step }: Typed, shown: LastDigit | null): Question | null {
  if (shown === null) return null;
  const { code: instrument, resolution, as } = shown;
  if (step < 0.99 * resolution) return { code: 'digits-too-fine', instrument };
  const typedDecimals = decimalsOfStep(step * as.factor);
  if (shown.coarser?.some((digit) => decimalsOfStep(digit * as.factor) === typedDecimals)) return null;
  // Beyond its counts a meter is in a coarser range.
  const coarser = Math.max(0, Math.ceil(Math.log10(Math.abs(value) / resolution / usualCounts)));
  const decimals = decimalsOfStep(resolution * 10 ** coarser * as.factor);
  if (typedDecimals >= decimals) return null;
  return asking(
    { code: 'digits-missing', instrument, decimals, typed: { value, step }, as },
    { value, step: 10 ** -decimals / as.factor },
    as,
  );
}
