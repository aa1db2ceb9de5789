/** This many values show it; more would only take time. */
export const valuesLookedAt = 2000;
/** Values this near to a whole number of steps lie on them, as a share of the step. */
const nearness = 0.15;
const fewestSteps = 3;
/** Figures in coarse steps come back to the same ones: no more than this share of them are different. */
const mostDifferent = 0.7;

/**
 * This many values that never use their last decimals do not have them; a digit is no more than this of the largest.
 */
const fewestUsed = 10;
const coarsest = 0.1;

/**
 * The last digit of logged figures: the smallest difference between them where all lie on steps that are coarser than
 * the decimals they were written with (a converter of 4.88 mV written to 0.1 mV), else the last decimal that any of
 * them uses (1.800 and 1.700 are steps of 0.1).
 *
 * @param written the last decimal, above 0
 */
export function lastDigitOf(values: readonly number[], written: number): number {
  const sorted = [...new Set(values)].sort((a, b) => a - b);
  const gaps = sorted.slice(1).map((value, i) => value - (sorted[i] as number));
  const least = gaps.reduce((a, b) => Math.min(a, b), Infinity);
  if (sorted.length > mostDifferent * values.length || !(least > 1.5 * written)) return written;
  if (gaps.length < fewestSteps) return usedDigit(values, written);
  // The mean over all gaps is a better step than the smallest one, which is rounded.
  const steps = gaps.map((gap) => Math.round(gap / least));
  const step = gaps.reduce((sum, gap) => sum + gap, 0) / steps.reduce((sum, one) => sum + one, 0);
  const onSteps = gaps.every((gap, i) => Math.abs(gap - (steps[i] as number) * step) <= nearness * step + written);
  return onSteps ? Math.max(step, written) : written;
}

function usedDigit(values: readonly number[], written: number): number {
  if (values.length < fewestUsed) return written;
  const most = coarsest * values.reduce((largest, value) => Math.max(largest, Math.abs(value)), 0);
  let digit = written;
  while (10 * digit <= most * (1 + 1e-9) && values.every((value) => !isFiner(value, 1 / (10 * digit)))) digit *= 10;
  return digit;
}

/** Decimals beyond this are of no instrument. */
const mostDecimals = 6;
/** Of figures that hardly changed yet, no coarser digit is believed. */
const mostUnseen = 0.001;

const isFiner = (value: number, scale: number): boolean => Math.abs(value * scale - Math.round(value * scale)) > 1e-6;

/** As many decimals as this figure has beyond `decimals`, at most six. */
function decimalsOf(value: number, decimals: number): number {
  let places = decimals;
  while (places < mostDecimals && isFiner(value, 10 ** places)) places += 1;
  return places;
}

/** The last decimal that these figures were written with, 1 to 0.000 001. */
export const writtenDigitOf = (values: readonly number[]): number =>
  10 ** -values.reduce((places, value) => decimalsOf(value, places), 0);

/**
 * Finds the last digit of a stream of values: from their decimals, or the smallest change once it was seen three times.
 * It is never finer than `known`. A few equal values prove nothing: their zeros may be padding.
 */
export function createDigitWatch(known = 0) {
  let decimals = 0;
  let seen = 0;
  /** In one object: a variable of a closure makes a new box of each number. */
  const now = { scale: 1, written: 1, least: Infinity, previous: NaN };
  return {
    push(value: number): void {
      if (decimals < mostDecimals && isFiner(value, now.scale)) {
        decimals = decimalsOf(value, decimals);
        now.scale = 10 ** decimals;
        now.written = 10 ** -decimals;
      }
      const change = Math.abs(value - now.previous);
      now.previous = value;
      if (!(change >= now.written / 2)) return;
      if (change < now.least / 1.5) {
        now.least = change;
        seen = 1;
      } else if (change < 1.5 * now.least) seen += 1;
    },
    digit: (): number =>
      Math.max(known, seen < fewestSteps ? Math.min(now.written, mostUnseen) : Math.max(now.least, now.written)),
  };
}
