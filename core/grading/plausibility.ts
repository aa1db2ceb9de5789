import { type Chemistry, chemistries } from '../chemistry/chemistries';
import { display, formatFigure } from '../quantity/format';

/** A tenfold or a thousandfold: a slipped point, a dropped digit, millivolts for volts. */
const slips = [10, 0.1, 100, 0.01, 1000, 0.001];

const fits = (value: number, least: number, most: number): boolean => value >= least && value <= most;

/** The figure that was probably meant, if moving the decimal point makes it fit. */
const slipped = (value: number, least: number, most: number): number | undefined => slips.map((slip) => Number((value / slip).toPrecision(9))).find((v) => fits(v, least, most));

/**
 * A question about a voltage that one cell of that chemistry hardly has; null for a plausible one. The bench may
 * confirm it: an odd reading is a fact too.
 */
export function askAboutVoltage(voltageV: number, chemistry: Chemistry): string | null {
  const { fullV, name } = chemistries[chemistry];
  const most = fullV + 0.1;
  if (fits(voltageV, 0, most)) return null;
  const read = formatFigure(voltageV, display.voltage);
  if (voltageV < 0) return `${read}: below zero. Are the probes reversed, or the cell?`;
  const meant = slipped(voltageV, fullV / 2, most);
  return `${read} for one cell (${name}, at most ${fullV} V)?${meant === undefined ? '' : ` ${formatFigure(meant, display.voltage)} would fit.`}`;
}

/** A question about a weight far from its model, or from any single cell; null for a plausible one. */
export function askAboutMass(massKg: number, modelMassKg: number | null): string | null {
  const [least, most] = modelMassKg === null ? [0.003, 5] : [modelMassKg / 2.5, modelMassKg * 2.5];
  if (fits(massKg, least, most)) return null;
  const meant = slipped(massKg, least, most);
  const usual = modelMassKg === null ? '' : `; its model weighs ${formatFigure(modelMassKg, display.mass)}`;
  return `${formatFigure(massKg, display.mass)} for one cell${usual}?${meant === undefined ? '' : ` ${formatFigure(meant, display.mass)} would fit.`}`;
}

/** A question about a resistance ten times off its batch; null for a plausible one or while the batch is small. */
export function askAboutResistance(resistanceOhm: number, batchMedianOhm: number | null): string | null {
  if (batchMedianOhm === null || fits(resistanceOhm, batchMedianOhm / 5, batchMedianOhm * 5)) return null;
  return `${formatFigure(resistanceOhm, display.resistance)} where its batch has ${formatFigure(batchMedianOhm, display.resistance)}: a slipped point, or a bad contact?`;
}
