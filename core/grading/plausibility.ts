import { type Chemistry, chemistries } from '../chemistry/chemistries';
import { display, formatFigure } from '../quantity/format';

/** A tenfold or a thousandfold: a slipped point, millivolts for volts. */
const slips = [10, 0.1, 100, 0.01, 1000, 0.001];

const fits = (value: number, least: number, most: number): boolean => value >= least && value <= most;

/** The figure that was probably meant, if moving the decimal point makes it fit. */
const slipped = (value: number, least: number, most: number): number | undefined => slips.map((slip) => Number((value / slip).toPrecision(9))).find((v) => fits(v, least, most));

/**
 * The figure that was probably meant if two neighbouring digits were swapped or one was dropped: of those within `within`
 * of what is expected the nearest, swaps first; undefined where none is.
 *
 * @param decimals as typed
 */
export function misread(value: number, decimals: number, expected: number, within: number): number | undefined {
  const digits = Math.abs(value).toFixed(decimals).replace('.', '');
  const number = (text: string, places: number) => Number(text) / 10 ** places;
  const nearest = (candidates: number[]): number | undefined => {
    const off = (candidate: number) => Math.abs(candidate - expected);
    const near = candidates.filter((candidate) => candidate !== value && off(candidate) <= within);
    return near.length === 0 ? undefined : near.reduce((best, candidate) => (off(candidate) < off(best) ? candidate : best));
  };
  const swapped = [...digits].slice(1).map((_, i) => number(digits.slice(0, i) + digits[i + 1] + digits[i] + digits.slice(i + 2), decimals));
  const dropped = Array.from({ length: digits.length + 1 }, (_, at) => at).flatMap((at) =>
    Array.from({ length: 10 }, (_, digit) => digits.slice(0, at) + digit + digits.slice(at)).flatMap((whole) => [number(whole, decimals + 1), number(whole, decimals)]),
  );
  // A swap is the commoner slip.
  return nearest(swapped) ?? nearest(dropped);
}

/** A question about a voltage far from what others read on the very same battery; null for a plausible one. */
export function askAgainstOthers(voltageV: number, othersV: number): string | null {
  if (Math.abs(voltageV - othersV) <= farFromNeighboursV) return null;
  const meant = slipped(voltageV, othersV - nearNeighboursV, othersV + nearNeighboursV) ?? misread(voltageV, decimalsOf(voltageV), othersV, nearNeighboursV);
  const figures = `${formatFigure(voltageV, display.voltage)} where the others read ${formatFigure(othersV, display.voltage)}`;
  return meant === undefined ? `${figures}: is this the same battery?` : `${figures}: or was it ${formatFigure(meant, display.voltage)}?`;
}

/**
 * A question about a voltage that one cell of that chemistry hardly has; null for a plausible one. The bench may
 * confirm it: an odd reading is a fact too.
 *
 * @param neighboursV what its batch or pack reads, if that is known: far from it, a swapped or dropped digit is asked about
 */
export function askAboutVoltage(voltageV: number, chemistry: Chemistry, neighboursV: number | null = null): string | null {
  const { fullV, name } = chemistries[chemistry];
  const most = fullV + 0.1;
  if (fits(voltageV, 0, most)) return askAboutDigits(voltageV, neighboursV);
  const read = formatFigure(voltageV, display.voltage);
  if (voltageV < 0) return `${read}: below zero. Are the probes reversed, or the cell?`;
  const meant = slipped(voltageV, fullV / 2, most);
  return `${read} for one cell (${name}, at most ${fullV} V)?${meant === undefined ? '' : ` ${formatFigure(meant, display.voltage)} would fit.`}`;
}

function askAboutDigits(voltageV: number, neighboursV: number | null): string | null {
  if (neighboursV === null || Math.abs(voltageV - neighboursV) < farFromNeighboursV) return null;
  const meant = misread(voltageV, decimalsOf(voltageV), neighboursV, nearNeighboursV);
  return meant === undefined ? null : `${formatFigure(voltageV, display.voltage)} where its neighbours have ${formatFigure(neighboursV, display.voltage)}: or was it ${formatFigure(meant, display.voltage)}?`;
}

const farFromNeighboursV = 0.3;
const nearNeighboursV = 0.06;

/** Decimals of a figure as it was typed, trailing noughts aside. */
const decimalsOf = (value: number): number => (String(value).split('.')[1] ?? '').length;

/** A question about a weight far from its model, or from any single cell; null for a plausible one. */
export function askAboutMass(massKg: number, modelMassKg: number | null): string | null {
  const [least, most] = modelMassKg === null ? [0.003, 5] : [modelMassKg / 2.5, modelMassKg * 2.5];
  if (fits(massKg, least, most)) return null;
  const meant = slipped(massKg, least, most);
  const usual = modelMassKg === null ? '' : `; its model weighs ${formatFigure(modelMassKg, display.mass)}`;
  return `${formatFigure(massKg, display.mass)} for one cell${usual}?${meant === undefined ? '' : ` ${formatFigure(meant, display.mass)} would fit.`}`;
}

/** A question about a resistance far off its batch, or below nought; null for a plausible one or while the batch is small. */
export function askAboutResistance(resistanceOhm: number, batchMedianOhm: number | null): string | null {
  const read = formatFigure(resistanceOhm, display.resistance);
  if (resistanceOhm <= 0) return `${read}: a resistance is above nought. Was the zero taken with the probes apart, or are they swapped?`;
  if (batchMedianOhm === null || fits(resistanceOhm, batchMedianOhm / 5, batchMedianOhm * 5)) return null;
  const milliohm = Number((resistanceOhm * 1000).toPrecision(9));
  const meant = slipped(resistanceOhm, batchMedianOhm / 2, batchMedianOhm * 2) ?? dividedBy1000(misread(milliohm, decimalsOf(milliohm), batchMedianOhm * 1000, batchMedianOhm * 300));
  return `${read} where its batch has ${formatFigure(batchMedianOhm, display.resistance)}: ${meant === undefined ? 'a slipped point, or a bad contact?' : `or was it ${formatFigure(meant, display.resistance)}? It may be a bad contact too.`}`;
}

const dividedBy1000 = (value: number | undefined): number | undefined => (value === undefined ? undefined : value / 1000);

/** A question about a figure with finer digits than its instrument shows; null where none is known or it fits. */
export function askAboutDigitsOf(step: number, resolution: number | null, instrument: string | null): string | null {
  if (resolution === null || instrument === null || step >= 0.99 * resolution) return null;
  return `${instrument} does not show digits that fine: is this its reading, or another one's?`;
}
