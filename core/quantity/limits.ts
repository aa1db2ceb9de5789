import type { Question } from './question';
import { display, type Display, formatRead, minus } from './format';
import type { ParsedQuantity } from './parse';

/** Bounds of what the records keep of a dimension, in its SI unit. Nothing measured at a bench lies beyond. */
interface Limit {
  least: number;
  most: number;
  /** The least is nought, and no reading: nothing weighs nothing. */
  aboveLeast: boolean;
  as: Display;
  name: string;
}

export const keptLimits: Partial<Record<ParsedQuantity['dimension'], Limit>> = {
  voltage: { least: -100, most: 100, aboveLeast: false, as: display.voltage, name: 'a voltage' },
  current: { least: 0, most: 999, aboveLeast: true, as: display.current, name: 'a current' },
  resistance: {
    least: -1,
    most: 1000,
    aboveLeast: false,
    as: { unit: 'Ω', factor: 1, decimals: 3 },
    name: 'a resistance',
  },
  mass: { least: 0, most: 99, aboveLeast: true, as: display.mass, name: 'a weight' },
  temperature: {
    least: -60,
    most: 150,
    aboveLeast: false,
    as: { unit: '°C', factor: 1, decimals: 1 },
    name: 'a temperature',
  },
};

/** Plain figure without needless noughts: a limit, or a figure that was meant. */
const plain = (value: number, { factor, unit }: Display): string =>
  `${minus(String(Number((value * factor).toPrecision(9))))} ${unit}`;

/**
 * Why a figure cannot be kept, with the one that was probably meant; null for one that can.
 *
 * @example beyondLimit({ dimension: 'voltage', value: 3712, step: 1 })?.text // '3712 V: a voltage here lies between
 * −100 V and 100 V. Was it 3.712 V?'
 */
export function beyondLimit({ dimension, value, step }: ParsedQuantity): Question | null {
  const limit = keptLimits[dimension];
  if (!limit) return null;
  const { least, most, aboveLeast, as, name } = limit;
  if (value <= most && (aboveLeast ? value > least : value >= least)) return null;
  const bounds = aboveLeast
    ? `is above zero and at most ${plain(most, as)}`
    : `lies between ${plain(least, as)} and ${plain(most, as)}`;
  const text = `${plain(value, as)}: ${name} here ${bounds}.`;
  // Thousandths written without their unit are the commonest slip.
  if (value <= most || value / 1000 > most) return { text };
  const meant = formatRead(value / 1000, step / 1000, as);
  return { text: `${text} Was it ${meant}?`, meant };
}
