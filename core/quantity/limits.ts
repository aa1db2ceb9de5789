import { display, formatRead } from './format';
import type { ParsedQuantity } from './parse';
import type { Question, RecordsLimit } from './question';

export const keptLimits: Partial<Record<ParsedQuantity['dimension'], RecordsLimit>> = {
  voltage: { least: -100, most: 100, aboveLeast: false, as: display.voltage },
  current: { least: 0, most: 999, aboveLeast: true, as: display.current },
  resistance: { least: -1, most: 1000, aboveLeast: false, as: { unit: 'Ω', factor: 1, decimals: 3 } },
  mass: { least: 0, most: 99, aboveLeast: true, as: display.mass },
  temperature: { least: -60, most: 150, aboveLeast: false, as: { unit: '°C', factor: 1, decimals: 1 } },
};

/** Why a figure cannot be kept, with the one that was probably meant; null for one that can. */
export function beyondLimit({ dimension, value, step }: ParsedQuantity): Question | null {
  const limit = keptLimits[dimension];
  if (!limit) return null;
  const { least, most, aboveLeast, as } = limit;
  if (value <= most && (aboveLeast ? value > least : value >= least)) return null;
  const question: Question = { code: 'beyond-records', dimension, typed: { value, step }, limit };
  // Thousandths written without their unit are the commonest slip.
  if (value <= most || value / 1000 > most) return question;
  return { ...question, meant: formatRead(value / 1000, step / 1000, as) };
}
